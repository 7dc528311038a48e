import type { SenderHealth } from '@convite/contract';
import type { Pace } from '@convite/core';
import { sayCount, sayNumber } from '../ui/say';

export const paceUnitWords = [
  ['perSecond', 'a second'],
  ['perHour', 'an hour'],
  ['perDay', 'a day'],
] as const;

export const noHealth: SenderHealth = { accepted: 0, refused: 0, bounced: 0, complaints: 0, pauses: 0 };

/** @example '500 a day'; empty without a bound */
export const sayPace = (pace: Pace): string =>
  paceUnitWords
    .flatMap(([unit, words]) => (pace[unit] === null ? [] : [`${sayNumber(pace[unit])} ${words}`]))
    .join(', ');

/** What became of a sender's messages. */
export function sayHealth({ accepted, refused, bounced, complaints, pauses }: SenderHealth): string {
  if (accepted + refused + bounced + complaints + pauses === 0) return 'nothing sent';
  return [
    `${sayNumber(accepted)} accepted`,
    `${sayNumber(refused)} refused`,
    `${sayNumber(bounced)} come back`,
    `${sayNumber(complaints)} called unwanted`,
    ...(pauses ? [`paused ${sayCount(pauses, 'time', 'times')}`] : []),
  ].join(', ');
}
