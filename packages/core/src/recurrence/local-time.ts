// Local dates as plain numbers, without a zone: a series over ten years asks for thousands of them.

/** Days since 1970-01-01. */
export type DayNumber = number;

export interface CalendarDate {
  readonly year: number;
  /** 1 to 12 */
  readonly month: number;
  /** 1 to 31 */
  readonly date: number;
}

export const dayNumberOf = (year: number, month: number, date: number): DayNumber =>
  Math.floor(Date.UTC(year, month - 1, date) / 86_400_000);

/**
 * The date of a day, by the arithmetic of the Gregorian calendar alone: years are counted from 1 March, so that the leap
 * day is the last of one, and 400 of them have 146,097 days. Tens of thousands are asked for at a time.
 */
export function calendarDateOf(day: DayNumber): CalendarDate {
  const sinceMarch0 = day + 719_468;
  const era = Math.floor(sinceMarch0 / 146_097);
  const inEra = sinceMarch0 - era * 146_097;
  const yearOfEra = Math.floor(
    (inEra - Math.floor(inEra / 1460) + Math.floor(inEra / 36_524) - Math.floor(inEra / 146_096)) / 365,
  );
  const inYear = inEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100));
  const monthFromMarch = Math.floor((5 * inYear + 2) / 153);
  const month = monthFromMarch < 10 ? monthFromMarch + 3 : monthFromMarch - 9;
  return {
    year: yearOfEra + era * 400 + (month <= 2 ? 1 : 0),
    month,
    date: inYear - Math.floor((153 * monthFromMarch + 2) / 5) + 1,
  };
}

/** 1 is Monday; day 0 was a Thursday. */
export const weekdayOfDay = (day: DayNumber): number => ((((day + 3) % 7) + 7) % 7) + 1;

const monthLengths = [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31];
const isLeap = (year: number): boolean => (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;

export const daysInMonth = (year: number, month: number): number =>
  month === 2 && isLeap(year) ? 29 : (monthLengths[month - 1] ?? 30);

export const daysInYear = (year: number): number => (isLeap(year) ? 366 : 365);

/** Seconds of local time since 1970 of a clock reading `2026-11-27T20:30` or of the midnight of a day. */
export const localSecondsOf = (text: string): number =>
  Date.parse(`${text.length === 10 ? `${text}T00:00` : text}Z`) / 1000;

/** The reverse, to the minute. */
export const wallTimeOf = (localS: number): string => new Date(localS * 1000).toISOString().slice(0, 16);
