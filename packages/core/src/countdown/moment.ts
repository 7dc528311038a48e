import { instantsOf, type EventFacts } from '../event/event';
import { registrationEndsMs } from '../event/registration';
import { isDay, resolveWallTime, wallTimeAt, type Day, type WallTime } from '../time/wall-time';
import { shiftDay, shiftInstant, withinMinute, type CalendarUnit, type Unit } from '../time/shift';
import { longestCloseDays, usualWorkdays, workdayUpTo, type Workdays } from '../time/workdays';
import type { EpochMs } from '../time/zone';
import type { Step } from '../audience/tree';
import type { StepMoment } from './step';

/** What a moment is counted from; `deadline` is when registration closes, `publication` when the event was published. */
export const anchors = ['start', 'end', 'deadline', 'publication'] as const;
export type Anchor = (typeof anchors)[number];

/** What moments are read by, beside the event's own facts. */
export interface MomentAround {
  /** Null while it is not published. */
  readonly publishedMs: EpochMs | null;
  readonly workdays: Workdays;
}
export const plainAround: MomentAround = { publishedMs: null, workdays: usualWorkdays };

/** Whose clock a set clock time is read on: the one where the event is, or each person's own. */
export type ByClock = 'event' | 'person';

/** When a cue fires, counted from the event. `at` is a clock time, `10:00`, on the day that the shift leads to; only with days, weeks and months. */
export interface RelativeMoment {
  readonly kind: 'relative';
  readonly amount: number;
  readonly unit: Unit;
  readonly direction: 'before' | 'after';
  readonly anchor: Anchor;
  readonly at: string | null;
  /** Of the clock time; the event's where it is left out. */
  readonly clock?: ByClock;
  /** On a working day of the house alone: else on the last before it, at the same clock time. */
  readonly onWorkdays?: boolean;
}

export interface FixedMoment {
  readonly kind: 'fixed';
  readonly wall: WallTime;
  readonly clock?: ByClock;
  /** Key of the one date of a series that it is about; left out for the whole. */
  readonly date?: string;
}

/** Counted from a date that each person has of their own, such as a booking or a birthday: so many days, weeks or months from it, at a clock time. */
export interface OwnDateMoment {
  readonly kind: 'own-date';
  /** Number of the field that holds the date. */
  readonly field: number;
  readonly repeats: 'once' | 'yearly';
  readonly amount: number;
  readonly unit: CalendarUnit;
  readonly direction: 'before' | 'after';
  readonly at: string;
  readonly clock?: ByClock;
  readonly onWorkdays?: boolean;
}

export type Moment = RelativeMoment | FixedMoment | OwnDateMoment | StepMoment;

/** Counted from something of each person's own. */
export const isOfPeople = (moment: Moment): moment is Exclude<Moment, EventMoment> =>
  moment.kind === 'own-date' || moment.kind === 'step';

/** Moments of an event, the same for everybody on one clock. */
export type EventMoment = RelativeMoment | FixedMoment;

/** Does it fall at another instant for people on other clocks? Shifts without a clock time are exact, and fall for all at once. */
export const goesByZones = (moment: Moment): boolean =>
  moment.clock === 'person' && (moment.kind === 'fixed' || moment.at !== null);

/** Does it give way to the house's free days? */
export const goesByWorkdays = (moment: Moment): boolean => moment.kind !== 'fixed' && moment.onWorkdays === true;

/**
 * The instant a moment names for an event. Days, weeks and months keep the clock time across a clock change, hours and minutes are
 * exact; `at` then sets the clock time of that day, and a free day gives way to the last working day before it. Where nobody
 * registers, the deadline is the start; so is the publication of what is not published.
 * @param zone whose clock counts: the event's own, or that of the people whose moment is asked for; days are theirs too
 * @example two weeks before an event on 18 June falls on 4 June
 */
export function dueAt(
  moment: EventMoment,
  facts: EventFacts,
  zone = facts.zone,
  { publishedMs, workdays }: MomentAround = plainAround,
): EpochMs {
  if (moment.kind === 'fixed') return resolveWallTime(moment.wall, zone);
  const from = anchorMsOf(moment, facts, { publishedMs });
  const shiftedMs = shiftInstant(from, zone, signed(moment), moment.unit);
  const wall = wallTimeAt(shiftedMs, zone);
  const day = wall.slice(0, 10);
  const on = moment.onWorkdays ? workdayUpTo(day, workdays) : day;
  if (moment.at !== null) return resolveWallTime(`${on}T${moment.at}`, zone);
  // Seconds within the minute stay.
  return on === day ? shiftedMs : resolveWallTime(`${on}${wall.slice(10)}`, zone) + withinMinute(shiftedMs);
}

/** What a moment is counted from; for a deadline where nobody registers, and a publication that was not yet, the start. */
export function anchorMsOf(
  { anchor }: Pick<RelativeMoment, 'anchor'>,
  facts: EventFacts,
  { publishedMs }: Pick<MomentAround, 'publishedMs'>,
): EpochMs {
  const { startMs, endMs } = instantsOf(facts);
  return {
    start: startMs,
    end: endMs,
    deadline: registrationEndsMs({ facts, startMs }) ?? startMs,
    publication: publishedMs ?? startMs,
  }[anchor];
}

/** The instant a moment names for the people whose date falls on a day, on the clocks of that zone. */
export function dueOfOwnDate(
  moment: OwnDateMoment,
  day: Day,
  zone: string,
  { workdays }: Pick<MomentAround, 'workdays'> = plainAround,
): EpochMs {
  const due = shiftDay(day, signed(moment), moment.unit);
  return resolveWallTime(`${moment.onWorkdays ? workdayUpTo(due, workdays) : due}T${moment.at}`, zone);
}

/**
 * The day of a person's own date that a moment is about next.
 * @param date as they have it, `1990-02-28`
 * @returns null once it is over for good
 */
export function nextOwnDay(
  moment: OwnDateMoment,
  date: Day,
  nowMs: EpochMs,
  zone: string,
  around: Pick<MomentAround, 'workdays'> = plainAround,
): Day | null {
  const isAhead = (day: Day): boolean => dueOfOwnDate(moment, day, zone, around) >= nowMs;
  if (moment.repeats === 'once') return isAhead(date) ? date : null;
  // A date that is still to come has its first anniversary of all on itself.
  const thisYear = Math.max(Number(wallTimeAt(nowMs, zone).slice(0, 4)), Number(date.slice(0, 4)));
  const years = [-1, 0, 1, 2].map((more) => anniversaryIn(date, thisYear + more));
  return years.find((day) => day >= date && isAhead(day)) ?? null;
}

/** In years without a 29 February, those of that day have theirs on the 28th (our own rule). */
function anniversaryIn(date: Day, year: number): Day {
  const day = `${year}-${date.slice('2026-'.length)}`;
  return isDay(day) ? day : `${year}-02-28`;
}

const signed = ({ amount, direction }: { readonly amount: number; readonly direction: 'before' | 'after' }): number =>
  direction === 'before' ? -amount : amount;

/** How many days after the date at the most and at the least, negative for before; a free day comes up to a while earlier. */
export function reachOf(moment: OwnDateMoment): { readonly least: number; readonly most: number } {
  const amount = signed(moment);
  const days = { days: [1, 1], weeks: [7, 7], months: [28, 31] } as const;
  const [short, long] = days[moment.unit];
  const [one, other] = [amount * short, amount * long];
  return { least: Math.min(one, other) - (moment.onWorkdays ? longestCloseDays : 0), most: Math.max(one, other) };
}

/**
 * Is the moment before a start or deadline, so that it is worthless after the start? So is what is counted from a person's step towards
 * it. A fixed one may be either.
 */
export const countsDown = (moment: Moment): boolean =>
  moment.kind === 'step' ||
  (moment.kind === 'relative' &&
    moment.direction === 'before' &&
    (moment.anchor === 'start' || moment.anchor === 'deadline'));

/**
 * The moment in words.
 * @param fieldName what the field of an own date is called
 * @example '2 days before the start, at 10:00'
 */
export function sayMoment(moment: Moment, fieldName = 'date'): string {
  const clock = goesByZones(moment) ? ' on their own clock' : '';
  if (moment.kind === 'fixed') return `on ${moment.wall.replace('T', ' at ')}${clock}`;
  const { amount, unit, at } = moment;
  const direction = moment.kind === 'step' ? 'after' : moment.direction;
  const anchor =
    moment.kind === 'own-date'
      ? `their ${fieldName}`
      : moment.kind === 'step'
        ? stepWords[moment.step]
        : anchorWords[moment.anchor];
  const shift =
    amount === 0 ? `at ${anchor}` : `${amount} ${amount === 1 ? unit.slice(0, -1) : unit} ${direction} ${anchor}`;
  const free = moment.onWorkdays ? ', on a working day' : '';
  if (moment.kind === 'own-date')
    return `${amount === 0 ? `on ${anchor}` : shift}${moment.repeats === 'yearly' ? ', every year' : ''}, at ${at}${clock}${free}`;
  return at === null ? `${shift}${free}` : `${amount === 0 ? `the day of ${anchor}` : shift}, at ${at}${clock}${free}`;
}

const stepWords: Readonly<Record<Step, string>> = {
  invitation: 'their invitation',
  registration: 'their registration',
  approval: 'they are given their place',
};

const anchorWords: Readonly<Record<Anchor, string>> = {
  start: 'the start',
  end: 'the end',
  deadline: 'the close of registration',
  publication: 'the publication',
};
