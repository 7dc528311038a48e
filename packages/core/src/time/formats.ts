import type { Day, WallTime } from './wall-time';
import { offsetMinutesAt, type EpochMs } from './zone';

/** A day in ISO 8601 basic format, as iCalendar's DATE (RFC 5545 §3.3.4). */
export const writeDay = (day: Day): string => day.replaceAll('-', '');

/** A clock reading in basic format, as iCalendar's local DATE-TIME (§3.3.5, form 1 and 3). */
export const writeWallTime = (wall: WallTime): string => `${wall.replace(/[-:]/g, '')}00`;

/** An instant in basic format and UTC (§3.3.5, form 2); milliseconds are cut. */
export const writeUtc = (atMs: EpochMs): string => `${new Date(atMs).toISOString().replace(/[-:]/g, '').slice(0, 15)}Z`;

/** An instant as RFC 3339 with the zone's offset at that instant. @example '2026-11-27T20:30:00+00:00' */
export function writeIso(atMs: EpochMs, zone: string): string {
  const minutes = offsetMinutesAt(zone, atMs);
  const local = new Date(atMs + minutes * 60_000).toISOString().slice(0, 19);
  const offset = new Date(Math.abs(minutes) * 60_000).toISOString().slice(11, 16);
  return `${local}${minutes < 0 ? '-' : '+'}${offset}`;
}
