import { addDays, weekdayOf, type Day } from './wall-time';

/** On which days a house works. */
export interface Workdays {
  /** 1 is Monday, 7 is Sunday (ISO 8601). */
  readonly weekdays: readonly number[];
  /** Days on which it does not, whatever their weekday. */
  readonly holidays: readonly Day[];
}

/** Monday to Friday, without holidays. */
export const usualWorkdays: Workdays = { weekdays: [1, 2, 3, 4, 5], holidays: [] };

/** A house that closes for longer does not work at all: the search ends. */
export const longestCloseDays = 60;

const isWorkday = (day: Day, { weekdays, holidays }: Workdays): boolean =>
  weekdays.includes(weekdayOf(day)) && !holidays.includes(day);

/** That day where it is a working day, else the last one before it; the day itself where there is none within two months. */
export function workdayUpTo(day: Day, workdays: Workdays): Day {
  for (let back = 0; back < longestCloseDays; back += 1) {
    const before = addDays(day, -back);
    if (isWorkday(before, workdays)) return before;
  }
  return day;
}
