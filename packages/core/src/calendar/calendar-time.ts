import { bad, good, type Read } from '../problem';
import type { EventFacts } from '../event/event';
import { keyOf } from '../event/occurrences';
import { isDay, isWallTime, resolveWallTime, wallTimeAt, type Day, type WallTime } from '../time/wall-time';
import type { EpochMs } from '../time/zone';
import type { ContentLine } from './content-line';

/** A date or date-time as it stands in a calendar (RFC 5545 §3.3.4, §3.3.5). */
export type CalendarTime =
  | { readonly kind: 'day'; readonly day: Day }
  /** `zone` is empty for a floating time, which means the reader's own clock. */
  | { readonly kind: 'local'; readonly wall: WallTime; readonly zone: string }
  | { readonly kind: 'utc'; readonly atMs: EpochMs };

/** Finds the zone that a TZID of the same calendar means; null when there is none. */
export type ZoneFinder = (tzid: string) => string | null;

/** Reads one value of a property. Seconds are cut. Problem codes: calendar-bad-value, unknown-zone. */
export function readCalendarTime(
  value: string,
  params: ContentLine['params'],
  path: string,
  zoneOf: ZoneFinder,
): Read<CalendarTime> {
  const fail = bad({ code: 'calendar-bad-value', path, facts: { value: value.slice(0, 80) } });
  const [, year, month, date, hour, minute, second, utc] =
    /^(\d{4})(\d{2})(\d{2})(?:T(\d{2})(\d{2})(\d{2})(Z?))?$/.exec(value.trim()) ?? [];
  const day = `${year}-${month}-${date}`;
  if (!isDay(day)) return fail;
  if (hour === undefined) return good({ kind: 'day', day });
  const wall = `${day}T${hour}:${minute}`;
  // 60 is a leap second, which no clock here has.
  if (!isWallTime(wall) || Number(second) > 60) return fail;
  if (utc) return good({ kind: 'utc', atMs: Date.parse(`${wall}Z`) });
  const tzid = params['TZID'];
  if (tzid === undefined) return good({ kind: 'local', wall, zone: '' });
  const zone = zoneOf(tzid);
  return zone === null
    ? bad({ code: 'unknown-zone', path, facts: { zone: tzid } })
    : good({ kind: 'local', wall, zone });
}

/** The instant of a time; a day is its midnight. Floating times and days are read in `zone`. */
export function instantOf(time: CalendarTime, zone: string): EpochMs {
  if (time.kind === 'utc') return time.atMs;
  if (time.kind === 'day') return resolveWallTime(`${time.day}T00:00`, zone);
  return resolveWallTime(time.wall, time.zone || zone);
}

/** The clock reading of a time in that zone. */
export function wallIn(time: CalendarTime, zone: string): WallTime {
  if (time.kind === 'day') return `${time.day}T00:00`;
  if (time.kind === 'local' && (time.zone === '' || time.zone === zone)) return time.wall;
  return wallTimeAt(instantOf(time, zone), zone);
}

/** The key of the occurrence that a RECURRENCE-ID names; calendars write it in UTC or in any zone. */
export function keyOfRecurrence(time: CalendarTime, { span, zone }: Pick<EventFacts, 'span' | 'zone'>): string {
  const wall = wallIn(time, zone);
  if (span.kind === 'all-day') return keyOf(wall.slice(0, 10));
  // A bare day among times means that day at the usual hour.
  return keyOf(time.kind === 'day' ? `${time.day}T${span.start.slice(11)}` : wall);
}
