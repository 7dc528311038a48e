import { wallTimeAt } from '@convite/core';
import type { Recipient } from '../../store/subscribers';

/** A reader whom a message is easily wrong for. */
export interface OddReader {
  readonly says: string;
  readonly person: Recipient;
}

/** Zones all around the earth, each of an offset of its own for most of the year. */
const around = [
  ...['Pacific/Honolulu', 'America/Los_Angeles', 'America/Denver', 'America/New_York', 'America/Sao_Paulo'],
  ...['Europe/London', 'Europe/Berlin', 'Africa/Cairo', 'Asia/Dubai', 'Asia/Kolkata', 'Asia/Bangkok', 'Asia/Tokyo'],
  ...['Australia/Sydney', 'Pacific/Noumea', 'Pacific/Auckland'],
];

/**
 * Five readers who are easily forgotten, of anybody: no name, eleven hours away, a name written from right to left, no mobile
 * number, Portuguese. None of them is anybody: what a test leads to answers for nobody.
 */
export function fiveReaders(anybody: Recipient, { zone, atMs }: { zone: string; atMs: number }): OddReader[] {
  const person = { ...anybody, id: 0, feedNonce: 0 };
  return [
    { says: 'no name', person: { ...person, name: '' } },
    { says: 'eleven hours away', person: { ...person, zone: elevenHoursFrom(zone, atMs) } },
    { says: 'right to left', person: { ...person, name: 'נועה לוי' } },
    { says: 'no mobile', person: { ...person, mobile: '' } },
    { says: 'Portuguese', person: { ...person, name: 'Inês Conceição', language: 'pt' } },
  ];
}

/** A zone whose clock shows about eleven hours more or less. */
export function elevenHoursFrom(zone: string, atMs: number): string {
  const clockOf = (name: string): number => Date.parse(`${wallTimeAt(atMs, name).slice(0, 16)}Z`);
  const away = (name: string): number => Math.abs(Math.abs(clockOf(name) - clockOf(zone)) / 3_600_000 - 11);
  return around.reduce((best, one) => (away(one) < away(best) ? one : best));
}
