import { isLanguage, shortNames, timeWords } from './language';
import { plainManner, type Manner } from './manner';
import { readingAt, wallTimeAt, weekdayOf, type Day } from './wall-time';
import type { EpochMs } from './zone';

const weekdays = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** A weekday's English name; 1 is Monday. */
export const sayWeekday = (weekday: number): string => weekdays[weekday - 1] ?? '';

/** The city in a zone's name, as people say it: `America/Los_Angeles` is "Los Angeles". */
export const sayZone = (zone: string): string => (zone.split('/').at(-1) ?? zone).replaceAll('_', ' ');

/**
 * How days and times are said to a reader: in their language and its own way, or in the house's where that is theirs too, or
 * not known.
 */
export const mannerFor = (house: Manner, language: string): Manner =>
  !isLanguage(language) || language === (house.language ?? 'en')
    ? house
    : { order: 'day-first', clock: '24', language };

/** The words around days and times. */
export const wordsOf = ({ language = 'en' }: Manner) => timeWords[language];

/**
 * A day in words.
 * @example sayDay('2026-11-27') //=> 'Fri 27 Nov 2026'
 * @example sayDay('2026-11-27', { order: 'month-first', clock: '12' }) //=> 'Fri Nov 27, 2026'
 * @example sayDay('2026-11-27', { order: 'day-first', clock: '24', language: 'de' }) //=> 'Fr 27. Nov 2026'
 */
export function sayDay(day: Day, manner = plainManner): string {
  const [year = ''] = day.split('-');
  if (manner.order === 'iso') return `${weekdayIn(day, manner)} ${day}`;
  return `${sayShortDay(day, manner)}${isMonthFirst(manner) ? ',' : ''} ${year}`;
}

/** The same without the year, where that goes without saying. @example sayShortDay('2026-11-27') //=> 'Fri 27 Nov' */
export function sayShortDay(day: Day, manner = plainManner): string {
  const [, month = '', date = ''] = day.split('-');
  if (manner.order === 'iso') return `${weekdayIn(day, manner)} ${month}-${date}`;
  const name = shortNames(manner.language ?? 'en').months[Number(month) - 1] ?? '';
  const number = `${Number(date)}${wordsOf(manner).dayMark}`;
  return `${weekdayIn(day, manner)} ${isMonthFirst(manner) ? `${name} ${number}` : `${number} ${name}`}`;
}

/** A habit of English alone. */
const isMonthFirst = ({ order, language = 'en' }: Manner): boolean => order === 'month-first' && language === 'en';

const weekdayIn = (day: Day, { language = 'en' }: Manner): string =>
  shortNames(language).weekdays[weekdayOf(day) - 1] ?? '';

/** A day written out. @example sayLongDay('2026-11-27') //=> 'Friday, 27 November 2026' */
export const sayLongDay = (day: Day, manner = plainManner): string =>
  longFormats(tagOf(manner)).day.format(Date.parse(day));

/** On which day of the week it is. @example sayDayOfWeek('2026-11-27') //=> 'Friday' */
export const sayDayOfWeek = (day: Day, manner = plainManner): string =>
  longFormats(tagOf(manner)).weekday.format(Date.parse(day));

/** How far off a day is. @example sayDaysAway(3) //=> 'in 3 days' @example sayDaysAway(1) //=> 'tomorrow' */
export const sayDaysAway = (days: number, manner = plainManner): string =>
  longFormats(tagOf(manner)).away.format(days, 'day');

const tagOf = (manner: Manner): string => {
  const { language = 'en' } = manner;
  // As our own words are: those of Portugal.
  if (language === 'pt') return 'pt-PT';
  return language === 'en' ? (isMonthFirst(manner) ? 'en-US' : 'en-GB') : language;
};

/** Words and their order are the runtime's (CLDR). Making one takes as long as all the rest of a message: each is made once. */
function longFormats(tag: string) {
  let formats = madeFormats.get(tag);
  if (!formats) {
    const timeZone = 'UTC';
    formats = {
      day: new Intl.DateTimeFormat(tag, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric', timeZone }),
      weekday: new Intl.DateTimeFormat(tag, { weekday: 'long', timeZone }),
      away: new Intl.RelativeTimeFormat(tag, { numeric: 'auto' }),
    };
    madeFormats.set(tag, formats);
  }
  return formats;
}
const madeFormats = new Map<
  string,
  { readonly day: Intl.DateTimeFormat; readonly weekday: Intl.DateTimeFormat; readonly away: Intl.RelativeTimeFormat }
>();

/** A clock reading. @example sayClock('20:30', { order: 'month-first', clock: '12' }) //=> '8:30 PM' */
export function sayClock(time: string, { clock } = plainManner): string {
  if (clock === '24') return time;
  const hour = Number(time.slice(0, 2));
  return `${hour % 12 || 12}${time.slice(2)} ${hour < 12 ? 'AM' : 'PM'}`;
}

/** The clock time in the zone, `20:30`. */
export const sayTime = (atMs: EpochMs, zone: string, manner = plainManner): string =>
  sayClock(wallTimeAt(atMs, zone).slice(11), manner);

/** Said behind a reading that came before, when the clocks have gone back since. */
export const sayAgain = (isAgain: boolean, manner = plainManner): string =>
  isAgain ? ` (${wordsOf(manner).again})` : '';

/** Day, time and zone. @example sayInstant(ms, 'Europe/Lisbon') //=> 'Fri 27 Nov 2026 20:30 Lisbon' */
export const sayInstant = (atMs: EpochMs, zone: string, manner = plainManner): string =>
  sayReading(atMs, zone, sayDay, manner);

/** The same without the year. @example sayShortInstant(ms, 'Europe/Lisbon') //=> 'Fri 27 Nov 20:30 Lisbon' */
export const sayShortInstant = (atMs: EpochMs, zone: string, manner = plainManner): string =>
  sayReading(atMs, zone, sayShortDay, manner);

function sayReading(atMs: EpochMs, zone: string, say: typeof sayDay, manner: Manner): string {
  const { wall, isAgain } = readingAt(atMs, zone);
  return `${say(wall.slice(0, 10), manner)} ${sayClock(wall.slice(11), manner)}${sayAgain(isAgain, manner)} ${sayZone(zone)}`;
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
