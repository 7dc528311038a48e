import type { CueFields } from '@convite/contract';
import { plainTextOf, sayMinutes, sayMoment, type Parts } from '@convite/core';
import { sayWay } from './cue-ways';
import { sayAudience } from './say-audience';

/** @example 'who comes late still gets it for 24 hours' */
export const sayLate = ({ lateHours }: Pick<CueFields, 'lateHours'>): string =>
  lateHours ? `who comes late still gets it for ${sayMinutes(lateHours * 60)}` : '';

export type CuePart = 'name' | 'channel' | 'moment' | 'audience' | 'words' | 'isDraft';

/** Parts of a cue that only make sense together. */
export const cueParts: Parts<CueFields, CuePart> = {
  name: ['name'],
  channel: ['channel', 'act'],
  moment: ['moment', 'lateHours'],
  audience: ['audience'],
  words: ['wording', 'textWording', 'inThread'],
  isDraft: ['isDraft'],
};

export const partNames: Readonly<Record<CuePart, string>> = {
  name: 'Name',
  channel: 'Channel',
  moment: 'Moment',
  audience: 'Audience',
  words: 'Words',
  isDraft: 'State',
};

/** What a part of a cue says, in a line or the words themselves. */
export function sayCuePart(cue: CueFields, part: CuePart): string {
  switch (part) {
    case 'name':
      return cue.name;
    case 'channel':
      return sayWay(cue);
    case 'moment':
      return [sayMoment(cue.moment), sayLate(cue)].filter(Boolean).join('; ');
    case 'audience':
      return sayAudience(cue.audience);
    case 'words':
      return [cue.wording.subject, plainTextOf(cue.wording), cue.textWording ? plainTextOf(cue.textWording) : '']
        .filter(Boolean)
        .join(' · ');
    case 'isDraft':
      return cue.isDraft ? 'draft' : 'set';
  }
}
