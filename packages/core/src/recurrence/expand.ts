import { isSkipped } from '../time/gaps';
import {
  calendarDateOf,
  dayNumberOf,
  daysInMonth,
  daysInYear,
  localSecondsOf,
  weekdayOfDay,
  type DayNumber,
} from './local-time';
import type { Rule } from './rule';

/** What a rule is asked: its start and zone, and a window of local time. */
export interface ExpandOptions {
  /** Local seconds of the first occurrence. */
  readonly startS: number;
  /** Readings that this zone's clocks skip are passed over; `UTC` skips none. */
  readonly zone: string;
  readonly fromS: number;
  /** Up to this, not with it. */
  readonly toS: number;
  readonly most?: number;
}

export interface Expanded {
  /** Local seconds, ascending. */
  readonly startsS: readonly number[];
  /** The rule asked for more looking than any event is worth; what was found until then stands. */
  readonly gaveUp: boolean;
}

const dayS = 86_400;
/** Days and times looked at before giving up: a hundred years of days, several times over. */
const mostLooks = 400_000;

/**
 * The times a rule names in a window (RFC 5545 §3.3.10). The start counts as the first occurrence; it is expected to be
 * one (`checkSeries`). Without COUNT it begins near the window, so a rule without end costs nothing.
 */
export function expandRule(rule: Rule, { startS, zone, fromS, toS, most = 10_000 }: ExpandOptions): Expanded {
  const startsS: number[] = [];
  const lastS = Math.min(toS - 1, rule.until === null ? Infinity : lastSecondOf(rule.until));
  const periods = periodsOf(rule, startS, rule.count === null ? Math.max(fromS, startS) : startS);
  let counted = 0;
  let looks = 0;
  for (const { beginS, times, looked } of periods) {
    looks += looked;
    if (looks > mostLooks) return { startsS, gaveUp: true };
    if (beginS > lastS) break;
    for (const atS of choosePositions(times, rule.positions)) {
      if (atS < startS || isSkipped(atS, zone)) continue;
      if (atS > lastS) return { startsS, gaveUp: false };
      counted += 1;
      if (atS >= fromS) startsS.push(atS);
      if (counted === rule.count || startsS.length >= most) return { startsS, gaveUp: false };
    }
  }
  return { startsS, gaveUp: false };
}

const lastSecondOf = (until: string): number => localSecondsOf(until) + (until.length === 10 ? dayS - 1 : 59);

/** One year, month, week, day, hour … of the rule's frequency, with the times that its BY parts leave or make in it. */
interface Period {
  readonly beginS: number;
  readonly times: readonly number[];
  readonly looked: number;
}

function periodsOf(rule: Rule, startS: number, nearS: number): Iterable<Period> {
  switch (rule.frequency) {
    case 'YEARLY':
    case 'MONTHLY':
    case 'WEEKLY':
    case 'DAILY':
      return dayPeriods(rule, startS, nearS);
    default:
      return timePeriods(rule, startS, nearS);
  }
}

function* dayPeriods(rule: Rule, startS: number, nearS: number): Iterable<Period> {
  const { accepts, timesOfDay } = makeFilters(rule, startS);
  const [first, near] = [Math.floor(startS / dayS), Math.floor(nearS / dayS)];
  const { indexOf, daysAt } = calendarSteps(rule, first);
  const skipped = Math.max(0, Math.floor((indexOf(near) - indexOf(first)) / rule.interval));
  for (let index = indexOf(first) + skipped * rule.interval; ; index += rule.interval) {
    const { begin, length } = daysAt(index);
    const times: number[] = [];
    for (let day = begin; day < begin + length; day += 1)
      if (accepts(day)) for (const time of timesOfDay) times.push(day * dayS + time);
    yield { beginS: begin * dayS, times, looked: length + times.length };
  }
}

/** Numbers the periods of a frequency of whole days, and says which days each has. */
function calendarSteps(
  { frequency, weekNumbers, weekStart }: Rule,
  first: DayNumber,
): { indexOf: (day: DayNumber) => number; daysAt: (index: number) => { begin: DayNumber; length: number } } {
  const weekOf = (day: DayNumber): DayNumber => day - ((weekdayOfDay(day) - weekStart + 7) % 7);
  switch (frequency) {
    case 'YEARLY':
      // Weeks have years of their own: Friday 1 January 2027 is a day of the last week of 2026.
      if (weekNumbers.length)
        return {
          indexOf: (day) => weekYearOf(day, weekStart),
          daysAt: (year) => {
            const begin = firstWeekOf(year, weekStart);
            return { begin, length: firstWeekOf(year + 1, weekStart) - begin };
          },
        };
      return {
        indexOf: (day) => calendarDateOf(day).year,
        daysAt: (year) => ({ begin: dayNumberOf(year, 1, 1), length: daysInYear(year) }),
      };
    case 'MONTHLY':
      return {
        indexOf: (day) => calendarDateOf(day).year * 12 + calendarDateOf(day).month - 1,
        daysAt: (index) => {
          const [year, month] = [Math.floor(index / 12), (index % 12) + 1];
          return { begin: dayNumberOf(year, month, 1), length: daysInMonth(year, month) };
        },
      };
    case 'WEEKLY':
      return {
        indexOf: (day) => (weekOf(day) - weekOf(first)) / 7,
        daysAt: (index) => ({ begin: weekOf(first) + index * 7, length: 7 }),
      };
    default:
      return { indexOf: (day) => day, daysAt: (day) => ({ begin: day, length: 1 }) };
  }
}

/** Hours, minutes and seconds. A day without any match is stepped over as a whole. */
function* timePeriods(rule: Rule, startS: number, nearS: number): Iterable<Period> {
  const { accepts } = makeFilters(rule, startS);
  const unitS = { HOURLY: 3600, MINUTELY: 60 }[rule.frequency as string] ?? 1;
  const stepS = unitS * rule.interval;
  const start = calendarTimeOf(startS);
  const within = (list: readonly number[], value: number): boolean => list.length === 0 || list.includes(value);
  const minutes = unitS === 3600 ? orOf(rule.minutes, start.minute) : [];
  const seconds = unitS >= 60 ? orOf(rule.seconds, start.second) : [];
  const beginOfStart = Math.floor(startS / unitS) * unitS;
  let index = Math.max(0, Math.floor((nearS - beginOfStart) / stepS));
  for (;;) {
    const beginS = beginOfStart + index * stepS;
    const day = Math.floor(beginS / dayS);
    if (!accepts(day)) {
      index = Math.max(index + 1, Math.ceil(((day + 1) * dayS - beginOfStart) / stepS));
      yield { beginS, times: [], looked: 1 };
      continue;
    }
    index += 1;
    const { hour, minute, second } = calendarTimeOf(beginS);
    const fits =
      within(rule.hours, hour) &&
      (unitS === 3600 || within(rule.minutes, minute)) &&
      (unitS >= 60 || within(rule.seconds, second));
    const times = !fits
      ? []
      : unitS === 3600
        ? minutes.flatMap((at) => seconds.map((s) => beginS + at * 60 + s))
        : unitS === 60
          ? seconds.map((s) => beginS + s)
          : [beginS];
    yield { beginS, times, looked: 1 + times.length };
  }
}

const calendarTimeOf = (localS: number): { hour: number; minute: number; second: number } => {
  const inDay = ((localS % dayS) + dayS) % dayS;
  return { hour: Math.floor(inDay / 3600), minute: Math.floor(inDay / 60) % 60, second: inDay % 60 };
};

const orOf = (list: readonly number[], fallback: number): readonly number[] =>
  list.length ? [...list].sort((a, b) => a - b) : [fallback];

/** The BY parts as one question about a day, with what the start fills in where they are silent. */
function makeFilters(
  rule: Rule,
  startS: number,
): { accepts: (day: DayNumber) => boolean; timesOfDay: readonly number[] } {
  const { frequency, weekNumbers, yearDays } = rule;
  const startDay = Math.floor(startS / dayS);
  const start = calendarDateOf(startDay);
  let { months, monthDays, days } = rule;
  const names = weekNumbers.length || yearDays.length || monthDays.length || days.length;
  if (!names && frequency === 'YEARLY' && months.length === 0) months = [start.month];
  if (!names && (frequency === 'YEARLY' || frequency === 'MONTHLY')) monthDays = [start.date];
  // "Every year in week 20" says nothing of the day: it is the start's (§3.3.10, the rule for missing information).
  const isWeekAlone = weekNumbers.length > 0 && !days.length && !monthDays.length && !yearDays.length;
  if ((!names && frequency === 'WEEKLY') || isWeekAlone) days = [{ weekday: weekdayOfDay(startDay), nth: 0 }];
  const nthIn = frequency === 'MONTHLY' || (frequency === 'YEARLY' && months.length > 0) ? 'month' : 'year';

  const accepts = (day: DayNumber): boolean => {
    const date = calendarDateOf(day);
    if (months.length && !months.includes(date.month)) return false;
    if (monthDays.length) {
      const fromEnd = date.date - daysInMonth(date.year, date.month) - 1;
      if (!monthDays.includes(date.date) && !monthDays.includes(fromEnd)) return false;
    }
    if (days.length && !days.some((one) => isThatDay(day, date.year, date.month, date.date, one, nthIn))) return false;
    if (yearDays.length) {
      const ofYear = day - dayNumberOf(date.year, 1, 1) + 1;
      if (!yearDays.includes(ofYear) && !yearDays.includes(ofYear - daysInYear(date.year) - 1)) return false;
    }
    return weekNumbers.length === 0 || isInWeek(day, weekNumbers, rule.weekStart);
  };
  const { hour, minute, second } = calendarTimeOf(startS);
  const timesOfDay = orOf(rule.hours, hour).flatMap((h) =>
    orOf(rule.minutes, minute).flatMap((m) => orOf(rule.seconds, second).map((s) => h * 3600 + m * 60 + s)),
  );
  return { accepts, timesOfDay };
}

function isThatDay(
  day: DayNumber,
  year: number,
  month: number,
  date: number,
  { weekday, nth }: { weekday: number; nth: number },
  nthIn: 'month' | 'year',
): boolean {
  if (weekdayOfDay(day) !== weekday) return false;
  if (nth === 0) return true;
  const [place, length] =
    nthIn === 'month' ? [date, daysInMonth(year, month)] : [day - dayNumberOf(year, 1, 1) + 1, daysInYear(year)];
  return nth > 0 ? Math.ceil(place / 7) === nth : Math.ceil((length - place + 1) / 7) === -nth;
}

function isInWeek(day: DayNumber, numbers: readonly number[], weekStart: number): boolean {
  const year = weekYearOf(day, weekStart);
  const number = Math.floor((day - firstWeekOf(year, weekStart)) / 7) + 1;
  const total = (firstWeekOf(year + 1, weekStart) - firstWeekOf(year, weekStart)) / 7;
  return numbers.includes(number) || numbers.includes(number - total - 1);
}

/** The first day of week 1, which as ISO 8601 counts is the first with four days of the year or more. */
function firstWeekOf(year: number, weekStart: number): DayNumber {
  const fourth = dayNumberOf(year, 1, 4);
  return fourth - ((weekdayOfDay(fourth) - weekStart + 7) % 7);
}

function weekYearOf(day: DayNumber, weekStart: number): number {
  const { year } = calendarDateOf(day);
  return day < firstWeekOf(year, weekStart) ? year - 1 : day >= firstWeekOf(year + 1, weekStart) ? year + 1 : year;
}

function choosePositions(times: readonly number[], positions: readonly number[]): readonly number[] {
  if (positions.length === 0) return times;
  const chosen = positions.map((position) => times[position > 0 ? position - 1 : times.length + position]);
  return [...new Set(chosen)].filter((time) => time !== undefined).sort((a, b) => a - b);
}
