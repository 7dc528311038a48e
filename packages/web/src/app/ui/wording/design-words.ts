import type { Design } from '@convite/core';

/** What each design is called, and how it looks. */
export const designWords: Readonly<Record<Design, string>> = {
  letter: 'Letter: a sheet of good paper',
  programme: 'Evening programme: centred',
  ticket: 'Ticket: title and facts on a stub',
  bulletin: 'Bulletin: the house’s name on top',
  notice: 'Notice: a card on the board',
  bare: 'Bare: words alone',
};
