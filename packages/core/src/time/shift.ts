import { addDays, addMonths, resolveWallTime, wallTimeAt, type Day } from './wall-time';
import type { EpochMs } from './zone';

export const units = ['minutes', 'hours', 'days', 'weeks', 'months'] as const;
export type Unit = (typeof units)[number];
/** Units that keep the clock time across a clock change. */
export type CalendarUnit = Extract<Unit, 'days' | 'weeks' | 'months'>;

/** The day so many units later, negative for earlier. Of a month without such a day it is the last: 31 January and a month is 28 February. */
export function shiftDay(day: Day, amount: number, unit: CalendarUnit): Day {
  if (unit === 'months') return addMonths(day, amount);
  return addDays(day, unit === 'weeks' ? amount * 7 : amount);
}

/**
 * Moves an instant by so many units in a zone. Days, weeks and months are calendar units: they keep the clock time across a
 * clock change. Hours and minutes are exact. (RFC 5545 §3.3.6 tells the two apart in the same way.)
 * @param amount whole number, negative for earlier
 */
export function shiftInstant(atMs: EpochMs, zone: string, amount: number, unit: Unit): EpochMs {
  // Nothing is moved: the second pass of a repeated hour stays the second.
  if (amount === 0) return atMs;
  if (unit === 'minutes') return atMs + amount * 60_000;
  if (unit === 'hours') return atMs + amount * 3_600_000;
  const wall = wallTimeAt(atMs, zone);
  const moved = resolveWallTime(`${shiftDay(wall.slice(0, 10), amount, unit)}${wall.slice(10)}`, zone);
  // Seconds within the minute stay.
  return moved + withinMinute(atMs);
}

/** What a wall time leaves out of an instant, in milliseconds. */
export const withinMinute = (atMs: EpochMs): number => ((atMs % 60_000) + 60_000) % 60_000;

/**
 * A length as RFC 5545 §3.3.6 has it: days are calendar days, however long the clocks make them; minutes are exact. Negative
 * for earlier.
 */
export interface Duration {
  readonly days: number;
  readonly minutes: number;
}

/** The instant so much later on the clocks of that zone: days first, then what is exact (RFC 5545 §3.3.6). */
export const addDuration = (atMs: EpochMs, { days, minutes }: Duration, zone: string): EpochMs =>
  (days ? shiftInstant(atMs, zone, days, 'days') : atMs) + minutes * 60_000;
