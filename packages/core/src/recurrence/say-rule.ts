import { sayDay, sayWeekday } from '../time/say';
import type { Frequency, Rule, RuleDay } from './rule';

const monthNames = 'January February March April May June July August September October November December'.split(' ');
const ordinals = ['first', 'second', 'third', 'fourth', 'fifth'];
const units: Readonly<Record<Frequency, string>> = {
  YEARLY: 'year',
  MONTHLY: 'month',
  WEEKLY: 'week',
  DAILY: 'day',
  HOURLY: 'hour',
  MINUTELY: 'minute',
  SECONDLY: 'second',
};

/**
 * The rule in words; parts for which there are none are shown as they stand.
 * @example sayRule(rule of FREQ=MONTHLY;BYDAY=1SU) //=> 'the first Sunday of every month'
 */
export function sayRule(rule: Rule): string {
  const end =
    rule.count !== null
      ? `, ${rule.count} times`
      : rule.until !== null
        ? `, until ${sayDay(rule.until.slice(0, 10))}`
        : '';
  return `${sayWhen(rule)}${end}`;
}

function sayWhen(rule: Rule): string {
  const { frequency, interval, months, monthDays, days } = rule;
  const every = `every ${interval === 1 ? '' : interval === 2 ? 'second ' : `${interval} `}${units[frequency]}${interval > 2 ? 's' : ''}`;
  const ofMonths = months.length ? ` in ${list(months.map((month) => monthNames[month - 1] ?? ''))}` : '';
  const picked = sayPicked(rule);
  if (picked) return `${picked} of ${every}${ofMonths}`;
  if (frequency === 'WEEKLY' && days.length) {
    const names = list(days.map(({ weekday }) => sayWeekday(weekday)));
    return interval === 1 ? `every ${names}${ofMonths}` : `${every} on ${names}${ofMonths}`;
  }
  if (monthDays.length && !days.length) return `${every} on the ${list(monthDays.map(sayMonthDay))}${ofMonths}`;
  if (days.length && days.every(({ nth }) => nth === 0) && !monthDays.length)
    return `${every} on ${list(days.map(({ weekday }) => sayWeekday(weekday)))}${ofMonths}`;
  if (days.length && monthDays.length)
    return `${every} on ${list(days.map(({ weekday }) => sayWeekday(weekday)))} the ${list(monthDays.map(sayMonthDay), 'or')}${ofMonths}`;
  return `${every}${ofMonths}${sayRest(rule)}`;
}

/** "the first Sunday", "the last working day": one choice within each month or year. */
function sayPicked({ frequency, days, positions, monthDays }: Rule): string | null {
  if ((frequency !== 'MONTHLY' && frequency !== 'YEARLY') || days.length === 0 || monthDays.length) return null;
  if (days.every(({ nth }) => nth !== 0) && positions.length === 0)
    return `the ${list(days.map(({ weekday, nth }) => `${sayNth(nth)} ${sayWeekday(weekday)}`))}`;
  const [position] = positions;
  if (positions.length !== 1 || position === undefined || !days.every(({ nth }) => nth === 0)) return null;
  return `the ${sayNth(position)} ${sayDaySet(days)}`;
}

function sayDaySet(days: readonly RuleDay[]): string {
  const set = days
    .map(({ weekday }) => weekday)
    .sort()
    .join('');
  if (set === '12345') return 'working day';
  if (set === '67') return 'weekend day';
  if (set === '1234567') return 'day';
  return list(
    days.map(({ weekday }) => sayWeekday(weekday)),
    'or',
  );
}

const sayNth = (nth: number): string =>
  nth === -1 ? 'last' : nth < 0 ? `${ordinals[-nth - 1] ?? -nth}-last` : (ordinals[nth - 1] ?? `${nth}th`);

function sayMonthDay(day: number): string {
  if (day < 0) return day === -1 ? 'last day' : `${sayNth(day)} day`;
  const ending =
    day % 10 === 1 && day !== 11
      ? 'st'
      : day % 10 === 2 && day !== 12
        ? 'nd'
        : day % 10 === 3 && day !== 13
          ? 'rd'
          : 'th';
  return `${day}${ending}`;
}

const sayRest = ({ weekNumbers, yearDays, hours }: Rule): string =>
  [
    weekNumbers.length && ` in week ${list(weekNumbers.map(String))}`,
    yearDays.length && ` on day ${list(yearDays.map(String))} of the year`,
    hours.length && ` at ${list(hours.map((hour) => `${String(hour).padStart(2, '0')}h`))}`,
  ]
    .filter(Boolean)
    .join('');

const list = (items: readonly string[], word = 'and'): string =>
  items.length < 2 ? items.join('') : `${items.slice(0, -1).join(', ')} ${word} ${items.at(-1)}`;
