import type { Response } from 'express';
import { escapeHtml, type Language } from '@convite/core';
import type { OwnWords } from './own-words';
import { writePage, type PublicHouse } from './page';

/** The page of a link that was made here and is good no more: a new one is mailed to whoever it was for (`POST /p/again`). */
export function askForNewLink(
  response: Response,
  house: PublicHouse,
  said: {
    readonly words: OwnWords;
    readonly language: Language;
    /** Why it is good no more. */
    readonly about?: string;
    readonly thanks?: string;
    readonly problem?: string;
    readonly status?: number;
  },
): void {
  const { words, language, about = words.staleAbout, thanks, problem, status = 410 } = said;
  const asks = `<p>${escapeHtml(about)}</p>
<form method="post" action="/p/again"><p><label>${escapeHtml(words.email)} <input name="email" type="email" required maxlength="254" autocomplete="email"></label></p>
<p><button>${escapeHtml(words.newLink)}</button></p></form>`;
  const body = `<h1>${escapeHtml(words.staleLink)}</h1>${noticesOf({ thanks, problem })}${thanks ? '' : asks}`;
  response.status(status).send(writePage(words.staleLink, house, body, language));
}

/** What was done, or is wrong with what was typed. */
export const noticesOf = ({
  thanks,
  problem,
}: {
  readonly thanks?: string | undefined;
  readonly problem?: string | undefined;
}): string =>
  (thanks ? `<p class="thanks" role="status">${escapeHtml(thanks)}</p>` : '') +
  (problem ? `<p class="notice" role="alert">${escapeHtml(problem)}</p>` : '');
