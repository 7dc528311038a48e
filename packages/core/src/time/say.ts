import { readingAt, wallTimeAt, weekdayOf, type Day } from './wall-time';
import type { EpochMs } from './zone';

const weekdays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** A weekday's English name; 1 is Monday. */
export const sayWeekday = (weekday: number): string => weekdays[weekday - 1] ?? '';

/** The city in a zone's name, as people say it: `America/Los_Angeles` is "Los Angeles". */
export const sayZone = (zone: string): string => (zone.split('/').at(-1) ?? zone).replaceAll('_', ' ');

/** A day in words. @example sayDay('2026-11-27') //=> 'Fri 27 Nov 2026' */
export function sayDay(day: Day): string {
  const [year, month, date] = day.split('-');
  return `${sayWeekday(weekdayOf(day)).slice(0, 3)} ${Number(date)} ${months[Number(month) - 1]} ${year}`;
}

/** The clock time in the zone, `20:30`. */
export const sayTime = (atMs: EpochMs, zone: string): string => wallTimeAt(atMs, zone).slice(11);

/** Said behind a reading that came before, when the clocks have gone back since. */
export const sayAgain = (isAgain: boolean): string => (isAgain ? ' (after the clocks went back)' : '');

/** Day, time and zone. @example sayInstant(ms, 'Europe/Lisbon') //=> 'Fri 27 Nov 2026 20:30 Lisbon' */
export function sayInstant(atMs: EpochMs, zone: string): string {
  const { wall, isAgain } = readingAt(atMs, zone);
  return `${sayDay(wall.slice(0, 10))} ${wall.slice(11)}${sayAgain(isAgain)} ${sayZone(zone)}`;
}

/**
 * The distance between two instants in words, one unit. From a day and a half on it counts calendar days in the zone, as
 * people do: on a Tuesday, Friday is in 3 days whatever the hour.
 * @example sayDistance(now, in2Days, 'Europe/Lisbon') //=> 'in 2 days'
 */
export function sayDistance(fromMs: EpochMs, toMs: EpochMs, zone: string): string {
  const minutes = Math.round(Math.abs(toMs - fromMs) / 60_000);
  if (minutes < 1) return 'now';
  const [amount, unit] =
    minutes < 90
      ? [minutes, 'minute']
      : minutes < 36 * 60
        ? [Math.round(minutes / 60), 'hour']
        : minutes < 21 * 1440
          ? [daysBetween(fromMs, toMs, zone), 'day']
          : minutes < 104 * 10_080
            ? [Math.round(minutes / 10_080), 'week']
            : [Math.round(minutes / 525_949), 'year'];
  const words = `${amount} ${unit}${amount === 1 ? '' : 's'}`;
  return toMs > fromMs ? `in ${words}` : `${words} ago`;
}

const daysBetween = (fromMs: EpochMs, toMs: EpochMs, zone: string): number =>
  Math.round(
    Math.abs(Date.parse(wallTimeAt(toMs, zone).slice(0, 10)) - Date.parse(wallTimeAt(fromMs, zone).slice(0, 10))) /
      86_400_000,
  );
