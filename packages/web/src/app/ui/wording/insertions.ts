import type { HouseBlock } from '@convite/contract';
import { isOfEvent, mergeFields } from '@convite/core';

/** Blocks that say by themselves what they say: of the event, of the reader, of the house. */
export const aboutKinds = ['event', 'calendar', 'reply', 'places', 'opening', 'coming', 'house'] as const;
export type AboutKind = (typeof aboutKinds)[number];

/** What they are called where they are put in. */
export const aboutWords: Readonly<Record<AboutKind, string>> = {
  event: 'When and where it is',
  calendar: 'Add it to a calendar',
  reply: 'Yes, perhaps or no',
  places: 'What they registered for',
  opening: 'Opening',
  coming: 'What else is coming up',
  house: 'Block of the house',
};

/** Something that can be put into a message. */
export type Insertion =
  | { readonly kind: 'field'; readonly field: string }
  | { readonly kind: 'about'; readonly about: AboutKind; readonly block?: HouseBlock }
  | { readonly kind: 'shape'; readonly shape: Shape };

/** What a part of the message is. */
export type Shape =
  'heading' | 'list' | 'numbers' | 'quote' | 'divider' | 'button' | 'picture' | 'columns' | 'table' | 'html';

export interface Offered {
  readonly insertion: Insertion;
  readonly name: string;
  readonly says: string;
}

const shapes: readonly Offered[] = [
  { insertion: { kind: 'shape', shape: 'heading' }, name: 'Heading', says: '' },
  { insertion: { kind: 'shape', shape: 'list' }, name: 'List', says: '' },
  { insertion: { kind: 'shape', shape: 'numbers' }, name: 'Numbered list', says: '' },
  { insertion: { kind: 'shape', shape: 'quote' }, name: 'Quote', says: 'words that stand apart' },
  { insertion: { kind: 'shape', shape: 'button' }, name: 'Button', says: 'words to press, and where they lead' },
  { insertion: { kind: 'shape', shape: 'picture' }, name: 'Picture', says: 'one of the house’s, or from a file' },
  { insertion: { kind: 'shape', shape: 'columns' }, name: 'Two columns', says: 'one below the other on a phone' },
  { insertion: { kind: 'shape', shape: 'table' }, name: 'Table', says: 'a small one, such as a programme' },
  { insertion: { kind: 'shape', shape: 'divider' }, name: 'Divider', says: 'a line across' },
  { insertion: { kind: 'shape', shape: 'html' }, name: 'HTML', says: 'markup of your own, made harmless' },
];
const about = (kind: AboutKind, says: string): Offered => ({
  insertion: { kind: 'about', about: kind },
  name: aboutWords[kind],
  says,
});
const abouts: readonly Offered[] = [
  about('event', 'in the reader’s own time'),
  about('calendar', 'the file and the web calendars'),
  about('reply', 'buttons to the reader’s own page'),
  about('places', 'places, dates and number of their registration'),
];
const anywhere: readonly Offered[] = [
  about('opening', 'to the reader by name, in a tone'),
  about('coming', 'events on everybody’s pages, the next first'),
];
const fields: readonly Offered[] = Object.entries(mergeFields).map(([field, says]) => ({
  insertion: { kind: 'field', field },
  name: field,
  says,
}));

/**
 * What may be put in, narrowed by what was typed of its name or of what it says.
 * @param ofEvent is the message about an event?
 * @param blocks of the house
 */
export function offeredFor(typed: string, ofEvent: boolean, blocks: readonly HouseBlock[] = []): readonly Offered[] {
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const ofHouse = blocks.map((block): Offered => ({
    insertion: { kind: 'about', about: 'house', block },
    name: block.name,
    says: 'a block of the house, the same in many messages',
  }));
  const offered = [...(ofEvent ? abouts : []), ...anywhere, ...shapes, ...ofHouse, ...fields];
  return offered.filter(({ insertion, name, says }) => {
    if (!ofEvent && insertion.kind === 'field' && isOfEvent(insertion.field)) return false;
    const text = `${name} ${says}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
}
