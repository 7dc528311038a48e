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
export const workdayUpTo = (day: Day, workdays: Workdays): Day => nearestWorkday(day, workdays, -1);

/** The same, else the first one after it. */
export const workdayFrom = (day: Day, workdays: Workdays): Day => nearestWorkday(day, workdays, 1);

function nearestWorkday(day: Day, workdays: Workdays, direction: -1 | 1): Day {
  for (let away = 0; away < longestCloseDays; away += 1) {
    const near = addDays(day, direction * away);
    if (isWorkday(near, workdays)) return near;
  }
  return day;
}
