import { Temporal } from 'temporal-polyfill';
import type { EpochMs } from './zone';

export const units = ['minutes', 'hours', 'days', 'weeks'] as const;
export type Unit = (typeof units)[number];

/**
 * Moves an instant by so many units in a zone. Days and weeks are calendar units: they keep the clock time across a
 * clock change. Hours and minutes are exact. (RFC 5545 §3.3.6 tells the two apart in the same way.)
 * @param amount whole number, negative for earlier
 */
export function shiftInstant(atMs: EpochMs, zone: string, amount: number, unit: Unit): EpochMs {
  if (unit === 'minutes') return atMs + amount * 60_000;
  if (unit === 'hours') return atMs + amount * 3_600_000;
  const days = unit === 'weeks' ? amount * 7 : amount;
  return Temporal.Instant.fromEpochMilliseconds(atMs).toZonedDateTimeISO(zone).add({ days }).epochMilliseconds;
}
