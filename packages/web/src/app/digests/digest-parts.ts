import { sayChosen, type DigestFields } from '@convite/contract';
import { plainTextOf, sayWeekday, sayZone, type Parts } from '@convite/core';
import { sayClock } from '../ui/say';

export type DigestPart = 'name' | 'sender' | 'rhythm' | 'windowDays' | 'whom' | 'words' | 'isOn';

/** Parts of a digest that only make sense together: an hour read in another's zone would be another hour. */
export const digestParts: Parts<DigestFields, DigestPart> = {
  name: ['name'],
  sender: ['senderId'],
  rhythm: ['weekday', 'at', 'zone'],
  windowDays: ['windowDays'],
  whom: ['whom'],
  words: ['wording'],
  isOn: ['isOn'],
};

export const digestPartNames: Readonly<Record<DigestPart, string>> = {
  name: 'Name',
  sender: 'Written by',
  rhythm: 'Rhythm',
  windowDays: 'Window',
  whom: 'To whom',
  words: 'Words',
  isOn: 'On',
};

/** What a part of a digest says, in a line or the words themselves. */
export function sayDigestPart(
  digest: DigestFields,
  part: DigestPart,
  lists: readonly { readonly id: number; readonly name: string }[],
  segments: readonly { readonly id: number; readonly name: string }[],
  senders: readonly { readonly id: number; readonly name: string }[] = [],
): string {
  switch (part) {
    case 'name':
      return digest.name;
    case 'sender':
      return senders.find(({ id }) => id === digest.senderId)?.name ?? 'the house';
    case 'rhythm':
      return `${sayWeekday(digest.weekday)}s at ${sayClock(digest.at)} ${sayZone(digest.zone)}`;
    case 'windowDays':
      return `the next ${digest.windowDays} days`;
    case 'whom':
      return sayChosen(digest.whom, namesOf(lists), namesOf(segments));
    case 'words':
      return [digest.wording.subject, plainTextOf(digest.wording)].filter(Boolean).join(' · ');
    case 'isOn':
      return digest.isOn ? 'on' : 'off';
  }
}

const namesOf = (some: readonly { readonly id: number; readonly name: string }[]): ReadonlyMap<number, string> =>
  new Map(some.map(({ id, name }) => [id, name]));
