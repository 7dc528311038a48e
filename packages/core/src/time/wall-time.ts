import { Temporal } from 'temporal-polyfill';
import type { EpochMs } from './zone';

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

/**
 * When is that clock reading, in that zone? The one policy for clock changes, RFC 5545 §3.3.5: a reading that comes
 * twice means the first; one that is skipped is read with the offset in force before the gap.
 * @throws RangeError for a reading or zone that was not checked before (bad use).
 * @example resolveWallTime('2026-03-29T01:30', 'Europe/Lisbon') //=> 01:30 does not exist there; 02:30+01:00 is meant
 */
export function resolveWallTime(wall: WallTime, zone: string): EpochMs {
  return Temporal.PlainDateTime.from(wall).toZonedDateTime(zone, { disambiguation: 'compatible' }).epochMilliseconds;
}

/** What does a clock on the wall in that zone show at the instant? To the minute, the seconds cut. */
export function wallTimeAt(atMs: EpochMs, zone: string): WallTime {
  return Temporal.Instant.fromEpochMilliseconds(atMs)
    .toZonedDateTimeISO(zone)
    .toPlainDateTime()
    .toString({ smallestUnit: 'minute' });
}

/** The day `days` later (earlier when negative). */
export function addDays(day: Day, days: number): Day {
  return Temporal.PlainDate.from(day).add({ days }).toString();
}

/** The weekday of a day: 1 is Monday, 7 is Sunday (ISO 8601). */
export function weekdayOf(day: Day): number {
  return Temporal.PlainDate.from(day).dayOfWeek;
}
