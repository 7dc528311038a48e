import { bad, good, type Read } from '../problem';
import { isDay, isWallTime, resolveWallTime, wallTimeAt, type Day, type WallTime } from '../time/wall-time';
import { writeDay, writeUtc, writeWallTime } from '../time/formats';

export const frequencies = ['YEARLY', 'MONTHLY', 'WEEKLY', 'DAILY', 'HOURLY', 'MINUTELY', 'SECONDLY'] as const;
export type Frequency = (typeof frequencies)[number];

/** A weekday (1 is Monday), and which of them in the month or year: 1 the first, -1 the last, 0 every one. */
export interface RuleDay {
  readonly weekday: number;
  readonly nth: number;
}

/** A recurrence rule (RFC 5545 §3.3.10), read. Lists are empty when their part is absent. */
export interface Rule {
  readonly frequency: Frequency;
  readonly interval: number;
  /** How many occurrences in all, the start counted; null without end or with `until`. */
  readonly count: number | null;
  /** The last moment, in local time: a day (all of it) or a clock reading; null without end or with `count`. */
  readonly until: Day | WallTime | null;
  readonly months: readonly number[];
  readonly weekNumbers: readonly number[];
  readonly yearDays: readonly number[];
  readonly monthDays: readonly number[];
  readonly days: readonly RuleDay[];
  readonly hours: readonly number[];
  readonly minutes: readonly number[];
  readonly seconds: readonly number[];
  readonly positions: readonly number[];
  /** The day a week begins with; 1 is Monday. */
  readonly weekStart: number;
}

/** A rule of that frequency and nothing else. */
export const plainRule = (frequency: Frequency): Rule => ({
  frequency,
  interval: 1,
  count: null,
  until: null,
  months: [],
  weekNumbers: [],
  yearDays: [],
  monthDays: [],
  days: [],
  hours: [],
  minutes: [],
  seconds: [],
  positions: [],
  weekStart: 1,
});

/** The two-letter names of RFC 5545, Monday first. */
export const dayNames = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'] as const;

/** Lists of numbers: the part's name, our field, the largest value, and whether it may count from the end. */
const numberParts = {
  BYMONTH: { field: 'months', least: 1, most: 12, signed: false },
  BYWEEKNO: { field: 'weekNumbers', least: 1, most: 53, signed: true },
  BYYEARDAY: { field: 'yearDays', least: 1, most: 366, signed: true },
  BYMONTHDAY: { field: 'monthDays', least: 1, most: 31, signed: true },
  BYHOUR: { field: 'hours', least: 0, most: 23, signed: false },
  BYMINUTE: { field: 'minutes', least: 0, most: 59, signed: false },
  BYSECOND: { field: 'seconds', least: 0, most: 59, signed: false },
  BYSETPOS: { field: 'positions', least: 1, most: 366, signed: true },
} as const;
type NumberPart = keyof typeof numberParts;

/**
 * Reads the value of an RRULE. An UNTIL in UTC becomes local time in the zone, since a series that moves by two hours
 * still ends on the same evening. Problem code: bad-rule, with the part at fault.
 */
export function readRule(text: string, zone: string, path: string): Read<Rule> {
  const fail = (part: string): Read<never> => bad({ code: 'bad-rule', path, facts: { text: part.slice(0, 60) } });
  const parts = new Map<string, string>();
  for (const part of text
    .trim()
    .toUpperCase()
    .replace(/^RRULE:/, '')
    .replace(/;$/, '')
    .split(';')) {
    const [, name, value] = /^([A-Z-]+)=(.+)$/.exec(part) ?? [];
    if (!name || !value || parts.has(name)) return fail(part);
    parts.set(name, value);
  }
  const frequency = frequencies.find((one) => one === parts.get('FREQ'));
  if (!frequency) return fail(parts.has('FREQ') ? `FREQ=${parts.get('FREQ')}` : 'FREQ');
  let rule = plainRule(frequency);
  for (const [name, value] of parts) {
    if (name === 'FREQ') continue;
    const change = readPart(name, value, zone);
    if (!change) return fail(`${name}=${value}`);
    rule = { ...rule, ...change };
  }
  const conflict = findConflict(rule);
  return conflict ? fail(conflict) : good(rule);
}

function readPart(name: string, value: string, zone: string): Partial<Rule> | null {
  switch (name) {
    case 'INTERVAL':
    case 'COUNT': {
      const number = /^\d{1,5}$/.test(value) ? Number(value) : 0;
      if (number < 1) return null;
      return name === 'COUNT' ? { count: number } : { interval: number };
    }
    case 'UNTIL': {
      const until = readUntil(value, zone);
      return until === null ? null : { until };
    }
    case 'BYDAY': {
      const days = value.split(',').map(readRuleDay);
      return days.every((day) => day !== null) ? { days } : null;
    }
    case 'WKST': {
      const weekStart = dayNames.findIndex((day) => day === value) + 1;
      return weekStart ? { weekStart } : null;
    }
    default:
      return isNumberPart(name) ? readNumbers(name, value) : null;
  }
}

const isNumberPart = (name: string): name is NumberPart => Object.hasOwn(numberParts, name);

function readNumbers(name: NumberPart, value: string): Partial<Rule> | null {
  const { field, least, most, signed } = numberParts[name];
  const numbers = value.split(',').map((item) => (/^[+-]?\d{1,3}$/.test(item) ? Number(item) : NaN));
  const isIn = (number: number): boolean => {
    const size = signed ? Math.abs(number) : number;
    return size >= least && size <= most;
  };
  return numbers.every(isIn) ? { [field]: [...new Set(numbers)] } : null;
}

function readRuleDay(text: string): RuleDay | null {
  const [, nth = '', name = ''] = /^([+-]?\d{1,2})?(MO|TU|WE|TH|FR|SA|SU)$/.exec(text) ?? [];
  const weekday = dayNames.findIndex((day) => day === name) + 1;
  if (!weekday || (nth !== '' && (Number(nth) === 0 || Math.abs(Number(nth)) > 53))) return null;
  return { weekday, nth: Number(nth) };
}

function readUntil(value: string, zone: string): Day | WallTime | null {
  const [, year, month, date, hour, minute, utc] =
    /^(\d{4})(\d{2})(\d{2})(?:T(\d{2})(\d{2})\d{2}(Z?))?$/.exec(value) ?? [];
  const day = `${year}-${month}-${date}`;
  if (!isDay(day)) return null;
  if (hour === undefined) return day;
  const wall = `${day}T${hour}:${minute}`;
  if (!isWallTime(wall)) return null;
  return utc ? wallTimeAt(Date.parse(`${wall}Z`), zone) : wall;
}

/** What §3.3.10 forbids beside each other. */
function findConflict(rule: Rule): string | null {
  const { frequency, days, monthDays, weekNumbers, yearDays, positions } = rule;
  const isYearly = frequency === 'YEARLY';
  if (rule.count !== null && rule.until !== null) return 'COUNT and UNTIL';
  if (weekNumbers.length && !isYearly) return 'BYWEEKNO';
  if (yearDays.length && ['DAILY', 'WEEKLY', 'MONTHLY'].includes(frequency)) return 'BYYEARDAY';
  if (monthDays.length && frequency === 'WEEKLY') return 'BYMONTHDAY';
  if (days.some(({ nth }) => nth !== 0) && ((!isYearly && frequency !== 'MONTHLY') || weekNumbers.length))
    return 'BYDAY';
  const others = [days, monthDays, weekNumbers, yearDays, rule.months, rule.hours, rule.minutes, rule.seconds];
  if (positions.length && others.every((list) => list.length === 0)) return 'BYSETPOS';
  return null;
}

/** How UNTIL is to be written: as it is kept, or for calendars (RFC 5545: in UTC when the start has a zone). */
export type UntilForm =
  { readonly kind: 'kept' } | { readonly kind: 'utc'; readonly zone: string } | { readonly kind: 'date' };

/** Writes the value of an RRULE, parts in one order, so that equal rules are equal text. */
export function writeRule(rule: Rule, form: UntilForm = { kind: 'kept' }): string {
  const parts = [`FREQ=${rule.frequency}`];
  if (rule.interval !== 1) parts.push(`INTERVAL=${rule.interval}`);
  if (rule.count !== null) parts.push(`COUNT=${rule.count}`);
  if (rule.until !== null) parts.push(`UNTIL=${writeUntil(rule.until, form)}`);
  for (const [name, { field }] of Object.entries(numberParts)) {
    if (name === 'BYHOUR' && rule.days.length) parts.push(`BYDAY=${rule.days.map(writeRuleDay).join(',')}`);
    if (rule[field].length) parts.push(`${name}=${rule[field].join(',')}`);
  }
  if (rule.weekStart !== 1) parts.push(`WKST=${dayNames[rule.weekStart - 1]}`);
  return parts.join(';');
}

const writeRuleDay = ({ weekday, nth }: RuleDay): string => `${nth || ''}${dayNames[weekday - 1]}`;

function writeUntil(until: Day | WallTime, form: UntilForm): string {
  if (form.kind === 'kept') return until.length === 10 ? writeDay(until) : writeWallTime(until);
  if (form.kind === 'date') return writeDay(until.slice(0, 10));
  return writeUtc(resolveWallTime(until.length === 10 ? `${until}T23:59` : until, form.zone));
}
