import type { DayOrder } from '../time/manner';
import { isDay, type Day } from '../time/wall-time';

/** How days stand in a column: in an order of their numbers, or as spreadsheets count them. */
export const writtenOrders = ['day-first', 'month-first', 'iso', 'serial-1900', 'serial-1904'] as const;
export type WrittenOrder = (typeof writtenOrders)[number];

const numbers = /^(\d{1,4})[\s./-]+(\d{1,2})[\s./-]+(\d{1,4})(?:[T\s,](.*))?$/;
const clock = /^(\d{1,2})[:.h](\d{2})(?::\d{2}(?:\.\d+)?)?\s*([ap]\.?m\.?)?$/i;

/**
 * A day as it stands in a file. Of a year in two digits, 00 to 29 are 2000 to 2029 and 30 to 99 are 1930 to 1999, as
 * spreadsheets read them (common practice). A time behind it is read by `readTimeBehind`.
 * @returns null for what is none, or does not exist
 * @example readWrittenDay('3/4/1990', 'day-first') //=> '1990-04-03'
 */
export function readWrittenDay(text: string, order: WrittenOrder): Day | null {
  const written = text.trim();
  if (order === 'serial-1900' || order === 'serial-1904') return readSerial(written, order);
  const [, one = '', two = '', three = ''] = numbers.exec(written) ?? [];
  if (!one) return null;
  // A year in front is read by everybody.
  const [year, month, day] =
    one.length > 2 || order === 'iso'
      ? [one, two, three]
      : order === 'day-first'
        ? [three, two, one]
        : [three, one, two];
  if (year.length === 3 || day.length > 2 || month.length > 2) return null;
  const whole = year.length > 2 ? Number(year) : Number(year) + (Number(year) < 30 ? 2000 : 1900);
  const read = `${String(whole).padStart(4, '0')}-${month.padStart(2, '0')}-${day.padStart(2, '0')}`;
  return isDay(read) ? read : null;
}

/**
 * The time of day behind a day, as it stands in a file: `21:00`, `9.30`, `9:30 pm`; of days that are counted, their fraction.
 * @returns `HH:MM`; empty where there is none, or midnight of a counted day; null for what is no time, such as one with a zone
 * @example readTimeBehind('27/11/2026 9:30 pm', 'day-first') //=> '21:30'
 */
export function readTimeBehind(text: string, order: WrittenOrder): string | null {
  const written = text.trim();
  if (order === 'serial-1900' || order === 'serial-1904') {
    const minutes = Math.round((Number(written) % 1) * 1440) % 1440;
    return minutes > 0 ? `${twoDigits(Math.floor(minutes / 60))}:${twoDigits(minutes % 60)}` : '';
  }
  const behind = numbers.exec(written)?.[4]?.trim() ?? '';
  if (behind === '') return '';
  const [, typed = '', minutes = '', half = ''] = clock.exec(behind) ?? [];
  if (typed === '' || Number(minutes) > 59) return null;
  const isTwelve = half !== '';
  if (isTwelve ? Number(typed) < 1 || Number(typed) > 12 : Number(typed) > 23) return null;
  const hours = isTwelve ? (Number(typed) % 12) + (/^p/i.test(half) ? 12 : 0) : Number(typed);
  return `${twoDigits(hours)}:${minutes}`;
}
const twoDigits = (value: number): string => String(value).padStart(2, '0');

const dayMs = 86_400_000;
/** Day 0 of each way of counting. ECMA-376 §18.17.4.1; 1900 is taken for a leap year there, so days count on from 1899-12-30. */
const epochs = { 'serial-1900': Date.UTC(1899, 11, 30), 'serial-1904': Date.UTC(1904, 0, 1) } as const;
/** 31 December 9999. */
const lastSerial = 2_958_465;

function readSerial(text: string, order: keyof typeof epochs): Day | null {
  if (!/^\d{1,7}(\.\d+)?$/.test(text)) return null;
  const serial = Math.floor(Number(text));
  // Up to the day that never was (60), the count is one behind.
  const days = order === 'serial-1900' && serial < 60 ? serial + 1 : serial;
  if (serial > lastSerial || (order === 'serial-1900' && (serial < 1 || serial === 60))) return null;
  return new Date(epochs[order] + days * dayMs).toISOString().slice(0, 10);
}

/** The order in which the days of a column are written, as far as its values prove it. */
export function provenOrder(
  values: readonly string[],
  houseOrder: DayOrder,
): { readonly order: WrittenOrder; readonly isProven: boolean; readonly isMixed: boolean } {
  const filled = values.map((value) => value.trim()).filter(Boolean);
  if (filled.length > 0 && filled.every((value) => /^\d{3,6}(\.\d+)?$/.test(value)))
    return { order: 'serial-1900', isProven: true, isMixed: false };
  const parts = filled.flatMap((value) => {
    const [, one = '', two = '', three = ''] = numbers.exec(value) ?? [];
    return one ? [{ one, two, three }] : [];
  });
  if (parts.length > 0 && parts.every(({ one }) => one.length > 2))
    return { order: 'iso', isProven: true, isMixed: false };
  const short = parts.filter(({ one }) => one.length <= 2);
  const dayFirst = short.some(({ one }) => Number(one) > 12 && Number(one) <= 31);
  const monthFirst = short.some(({ two }) => Number(two) > 12);
  // Two digits in each place: a year in front is proven by a number that is no day.
  const yearFirst =
    short.length > 0 && short.every(({ three }) => three.length <= 2) && short.some(({ one }) => Number(one) > 31);
  if (yearFirst) return { order: 'iso', isProven: true, isMixed: dayFirst && monthFirst };
  if (dayFirst !== monthFirst) return { order: dayFirst ? 'day-first' : 'month-first', isProven: true, isMixed: false };
  return { order: houseOrder, isProven: false, isMixed: dayFirst && monthFirst };
}
