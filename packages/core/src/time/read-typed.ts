import type { DayOrder } from './manner';
import { addDays, isDay, weekdayOf, type Day, type WallTime } from './wall-time';

/** What a person typed for a day, a time or both; null for what they did not say. */
export interface TypedTime {
  readonly day: Day | null;
  /** `20:30`. */
  readonly time: string | null;
}

export interface TypedTimeContext {
  /** The clock on the wall where it is typed. */
  readonly now: WallTime;
  readonly order: DayOrder;
  /** What stands there already, from which `+3d` counts; empty for now. */
  readonly base?: WallTime | Day | '';
}

const monthNames = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const weekdayNames = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'];
const longest = 60;

/**
 * Reads a day and a time as people type them: `27 nov 20:30`, `fri 20:30`, `tomorrow 9`, `+3d`, `27/11 9pm`, `noon`. A day
 * without a year is the next such day, today among them; a weekday is the next one, today while its time is still to come.
 * @returns null for what cannot be read, or names a day that does not exist
 * @example readTypedTime('fri 20:30', { now: '2026-11-26T10:00', order: 'day-first' }) //=> { day: '2026-11-27', time: '20:30' }
 */
export function readTypedTime(text: string, context: TypedTimeContext): TypedTime | null {
  const words = text
    .slice(0, 2 * longest)
    .trim()
    .toLowerCase();
  if (words === '' || words.length > longest || text.length > 2 * longest) return null;
  const moved = readDistance(words, context);
  if (moved) return moved;
  const [rest, time] = takeTime(words.replace(/(\d)t(\d)/, '$1 $2'));
  if (time === undefined) return null;
  const said = rest.replace(/[,.]+(?=\s|$)/g, ' ').trim();
  if (said === '') return time === null ? null : { day: null, time };
  const day = readDay(said, time, context);
  return day === null || !isDay(day) ? null : { day, time };
}

/** `+3d`, `-2w`, `+1mo`, `+90min`, `+2h`: from what stands there, or from now. */
function readDistance(words: string, { now, base }: TypedTimeContext): TypedTime | null {
  const [, sign, amountText, unit] = /^([+-])\s*(\d{1,4})\s*(min|mo|m|h|d|w|y)\w*$/.exec(words) ?? [];
  if (!sign || !amountText || !unit) return null;
  const from = base || now;
  const amount = Number(amountText) * (sign === '-' ? -1 : 1);
  const [day, time] = [from.slice(0, 10), from.slice(11) || null];
  if (unit === 'd' || unit === 'w') return { day: addDays(day, unit === 'w' ? amount * 7 : amount), time };
  if (unit === 'mo' || unit === 'y') return { day: addMonths(day, unit === 'y' ? amount * 12 : amount), time };
  if (time === null) return null;
  const atMs = Date.parse(`${day}T${time}Z`) + amount * (unit === 'h' ? 3_600_000 : 60_000);
  const wall = new Date(atMs).toISOString();
  return { day: wall.slice(0, 10), time: wall.slice(11, 16) };
}

/** The same day of another month; the last one of a month that has none. */
function addMonths(day: Day, months: number): Day {
  const [year = 0, month = 1, date = 1] = day.split('-').map(Number);
  const first = new Date(Date.UTC(year, month - 1 + months, 1));
  const last = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1, 0)).getUTCDate();
  return `${first.toISOString().slice(0, 8)}${String(Math.min(date, last)).padStart(2, '0')}`;
}

const month = `(?:${monthNames.join('|')})[a-z]*\\.?`;
const ordinal = '(?:st|nd|rd|th)?';
/** Where a time begins, its hour, its minutes, and which half of the day. */
const shapes: readonly RegExp[] = [
  // 20:30, 8:30pm; 20.30 only behind a day, since alone it may be one
  /(?:(?:^|(?<=\s))(?:at\s+)?)(\d{1,2})[:h](\d{2})\s*(am|pm)?$/,
  /(?:(?<=\s)(?:at\s+)?)(\d{1,2})\.(\d{2})\s*(am|pm)?$/,
  // 9pm, at 9
  /(?:(?:^|(?<=\s))(?:at\s+)?)(\d{1,2})()\s*(am|pm)$/,
  /(?:^|(?<=\s))at\s+(\d{1,2})()()$/,
  // a bare hour, where nothing else can be meant by it
  new RegExp(`(?<=\\d${ordinal}\\s+${month}\\s+|${month}\\s+\\d{1,2}${ordinal},?\\s+)([01]?\\d|2[0-3])()()$`),
  new RegExp(`(?<!${month}\\s*)(?<=[a-z/.-]\\s+)([01]?\\d|2[0-3])()()$`),
];

/** What stands before the time, and the time: null for none, undefined for one that no clock shows. */
function takeTime(words: string): readonly [string, string | null | undefined] {
  const [word] = /(?:^|\s)(noon|midnight)$/.exec(words) ?? [];
  if (word) return [words.slice(0, -word.length), word.trim() === 'noon' ? '12:00' : '00:00'];
  for (const shape of shapes) {
    const found = shape.exec(words);
    if (!found) continue;
    const [, hour = '', minute = '', half] = found;
    return [words.slice(0, found.index), clock(Number(hour), Number(minute), half)];
  }
  return [words, null];
}

function clock(hour: number, minute: number, half: string | undefined): string | undefined {
  if (half && (hour < 1 || hour > 12)) return undefined;
  const whole = half ? (hour % 12) + (half === 'pm' ? 12 : 0) : hour;
  if (whole > 23 || minute > 59) return undefined;
  return `${String(whole).padStart(2, '0')}:${String(minute).padStart(2, '0')}`;
}

function readDay(said: string, time: string | null, { now, order }: TypedTimeContext): Day | null {
  const today = now.slice(0, 10);
  if (said === 'today' || said === 'tonight') return today;
  if (said === 'tomorrow') return addDays(today, 1);
  if (said === 'yesterday') return addDays(today, -1);
  const weekday = weekdayNames.findIndex((name) => new RegExp(`^(?:next\\s+)?${name}[a-z]*$`).test(said)) + 1;
  if (weekday > 0) {
    const ahead = (weekday - weekdayOf(today) + 7) % 7;
    const isOver = ahead === 0 && (said.startsWith('next') || (time !== null && time <= now.slice(11)));
    return addDays(today, isOver ? 7 : ahead);
  }
  // A weekday before a date says nothing more.
  const date = said.replace(new RegExp(`^(?:${weekdayNames.join('|')})[a-z]*[\\s,.]+`), '');
  return named(date, today) ?? numbered(date, order, today);
}

/** `27 nov`, `nov 27 2026`, `27th of november`. */
function named(date: string, today: Day): Day | null {
  const number = monthNames.findIndex((name) => new RegExp(`(?:^|[^a-z])${name}`).test(date)) + 1;
  if (number === 0) return null;
  const numbers = date.match(/\d+/g) ?? [];
  const [first, second] = numbers;
  if (!first || numbers.length > 2) return null;
  // A year may stand in front.
  return first.length === 4 ? (second ? dayOf(first, number, second) : null) : complete(second, number, first, today);
}

/** `27/11/2026`, `27.11.`, `2026-11-27`: the year first is plain; else in the order of the house. */
function numbered(date: string, order: DayOrder, today: Day): Day | null {
  const [, a = '', b = '', c] = /^(\d{1,4})[/.\s-]+(\d{1,2})(?:[/.\s-]+(\d{1,4}))?$/.exec(date) ?? [];
  if (a.length === 4) return c ? dayOf(a, Number(b), c) : null;
  if (a === '') return null;
  if (order === 'day-first') return complete(c, Number(b), a, today);
  // Without its year, the international order is month, then day.
  return complete(c, Number(a), b, today);
}

/** Without a year the next such day; 29 February waits for its year. Two digits are of this century. */
function complete(year: string | undefined, month: number, date: string, today: Day): Day | null {
  if (year)
    return year.length === 4 || year.length === 2 ? dayOf(year.length === 2 ? `20${year}` : year, month, date) : null;
  const thisYear = Number(today.slice(0, 4));
  for (let ahead = 0; ahead <= 8; ahead += 1) {
    const day = dayOf(String(thisYear + ahead), month, date);
    if (isDay(day) && day >= today) return day;
    if (ahead > 0 && !(month === 2 && Number(date) === 29)) return null;
  }
  return null;
}

const dayOf = (year: string, month: number, date: string): Day =>
  `${year}-${String(month).padStart(2, '0')}-${String(Number(date)).padStart(2, '0')}`;
