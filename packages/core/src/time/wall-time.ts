import { offsetMinutesAt, transitionsBetween, type EpochMs } from './zone';

/** A clock reading without a zone, `2026-06-18T19:30`. */
export type WallTime = string;
/** A day without a zone, `2026-06-18`. */
export type Day = string;

const wallTimeShape = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/;
const dayShape = /^\d{4}-\d{2}-\d{2}$/;

/** Is this a clock reading that exists in the calendar (no 31 April), years 1900 to 2199? */
export function isWallTime(text: string): boolean {
  return wallTimeShape.test(text) && isDay(text.slice(0, 10)) && /T([01]\d|2[0-3]):[0-5]\d$/.test(text);
}

/** Is this a day that exists in the calendar, years 1900 to 2199? */
export function isDay(text: string): boolean {
  if (!dayShape.test(text) || text < '1900' || text >= '2200') return false;
  const day = new Date(`${text}T00:00:00Z`);
  return !Number.isNaN(day.getTime()) && day.toISOString().startsWith(text);
}

/** A clock reading, and whether it comes for the second time: when clocks go back, an hour of readings comes twice. */
export interface Reading {
  readonly wall: WallTime;
  readonly isAgain: boolean;
}

/**
 * When is that clock reading, in that zone? The one policy for clock changes, RFC 5545 §3.3.5: a reading that comes
 * twice means the first; one that is skipped is read with the offset in force before the gap.
 * @param isAgain the second of a reading that comes twice; without meaning for any other
 * @throws RangeError for a reading or zone that was not checked before (bad use).
 * @example resolveWallTime('2026-03-29T01:30', 'Europe/Lisbon') //=> 01:30 does not exist there; 02:30+01:00 is meant
 */
export function resolveWallTime(wall: WallTime, zone: string, isAgain = false): EpochMs {
  const localMs = Date.parse(`${wall}Z`);
  if (Number.isNaN(localMs)) throw new RangeError(`no clock reading: ${wall}`);
  for (const { atMs, fromMinutes, toMinutes } of transitionsBetween(zone, localMs - dayMs, localMs + dayMs)) {
    // Until the clock was put on or back it showed the time of the offset before. So it does for what it then skipped,
    // and a reading that comes once more is the first time still before.
    if (localMs >= atMs + Math.max(fromMinutes, toMinutes) * 60_000) continue;
    const comesTwice = localMs >= atMs + toMinutes * 60_000 && toMinutes < fromMinutes;
    return localMs - (isAgain && comesTwice ? toMinutes : fromMinutes) * 60_000;
  }
  return localMs - offsetMinutesAt(zone, localMs + dayMs) * 60_000;
}

/** No zone is further from UTC, and none changes twice within it. */
const dayMs = 86_400_000;

/** What does a clock on the wall in that zone show at the instant? To the minute, the seconds cut. */
export function wallTimeAt(atMs: EpochMs, zone: string): WallTime {
  return new Date(atMs + offsetMinutesAt(zone, atMs) * 60_000).toISOString().slice(0, 16);
}

/** The same, with the one thing that a clock on the wall does not show. */
export function readingAt(atMs: EpochMs, zone: string): Reading {
  const wall = wallTimeAt(atMs, zone);
  return { wall, isAgain: atMs - resolveWallTime(wall, zone) >= 60_000 };
}

/** The day `days` later (earlier when negative). */
export function addDays(day: Day, days: number): Day {
  return new Date(Date.parse(day) + days * dayMs).toISOString().slice(0, 10);
}

/** The same day of the month `months` later (earlier when negative); the month's last day where it has none such. */
export function addMonths(day: Day, months: number): Day {
  const [year = 0, month = 1, date = 1] = day.split('-').map(Number);
  const first = new Date(Date.UTC(year, month - 1 + months, 1));
  const last = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1, 0)).getUTCDate();
  return `${first.toISOString().slice(0, 8)}${String(Math.min(date, last)).padStart(2, '0')}`;
}

/** How many days later another day is; negative for an earlier one. */
export const daysApart = (from: Day, to: Day): number => Math.round((Date.parse(to) - Date.parse(from)) / dayMs);

/** The weekday of a day: 1 is Monday, 7 is Sunday (ISO 8601). */
export function weekdayOf(day: Day): number {
  return new Date(Date.parse(day)).getUTCDay() || 7;
}
