import type { DigestFields } from '@convite/contract';
import { sayWeekday, sayZone, type Parts } from '@convite/core';
import { sayClock } from '../ui/say';

export type DigestPart = 'name' | 'rhythm' | 'windowDays' | 'listId' | 'words' | 'isOn';

/** Parts of a digest that only make sense together: an hour read in another's zone would be another hour. */
export const digestParts: Parts<DigestFields, DigestPart> = {
  name: ['name'],
  rhythm: ['weekday', 'at', 'zone'],
  windowDays: ['windowDays'],
  listId: ['listId', 'segmentId'],
  words: ['subject', 'intro'],
  isOn: ['isOn'],
};

export const digestPartNames: Readonly<Record<DigestPart, string>> = {
  name: 'Name',
  rhythm: 'Rhythm',
  windowDays: 'Window',
  listId: 'To whom',
  words: 'Words',
  isOn: 'On',
};

/** What a part of a digest says, in a line or the words themselves. */
export function sayDigestPart(
  digest: DigestFields,
  part: DigestPart,
  lists: readonly { readonly id: number; readonly name: string }[],
  segments: readonly { readonly id: number; readonly name: string }[],
): string {
  switch (part) {
    case 'name':
      return digest.name;
    case 'rhythm':
      return `${sayWeekday(digest.weekday)}s at ${sayClock(digest.at)} ${sayZone(digest.zone)}`;
    case 'windowDays':
      return `the next ${digest.windowDays} days`;
    case 'listId':
      return (
        (digest.segmentId === null
          ? lists.find(({ id }) => id === digest.listId)
          : segments.find(({ id }) => id === digest.segmentId)
        )?.name ?? 'nobody'
      );
    case 'words':
      return [digest.subject, digest.intro].filter(Boolean).join(' · ');
    case 'isOn':
      return digest.isOn ? 'on' : 'off';
  }
}
