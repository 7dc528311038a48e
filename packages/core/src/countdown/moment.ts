import { instantsOf, type EventFacts } from '../event/event';
import { registrationEndsMs } from '../event/registration';
import { addDays, isDay, resolveWallTime, wallTimeAt, type Day, type WallTime } from '../time/wall-time';
import { shiftInstant, type Unit } from '../time/shift';
import type { EpochMs } from '../time/zone';

/** What a moment is counted from; `deadline` is when registration closes. */
export type Anchor = 'start' | 'end' | 'deadline';

/** Whose clock a set clock time is read on: the one where the event is, or each person's own. */
export type ByClock = 'event' | 'person';

/** When a cue fires, counted from the event. `at` is a clock time, `10:00`, on the day that the shift leads to; only with days and weeks. */
export interface RelativeMoment {
  readonly kind: 'relative';
  readonly amount: number;
  readonly unit: Unit;
  readonly direction: 'before' | 'after';
  readonly anchor: Anchor;
  readonly at: string | null;
  /** Of the clock time; the event's where it is left out. */
  readonly clock?: ByClock;
}

export interface FixedMoment {
  readonly kind: 'fixed';
  readonly wall: WallTime;
  readonly clock?: ByClock;
}

/** Counted from a date that each person has of their own, such as a booking or a birthday: so many days or weeks from it, at a clock time. */
export interface OwnDateMoment {
  readonly kind: 'own-date';
  /** Number of the field that holds the date. */
  readonly field: number;
  readonly repeats: 'once' | 'yearly';
  readonly amount: number;
  readonly unit: 'days' | 'weeks';
  readonly direction: 'before' | 'after';
  readonly at: string;
  readonly clock?: ByClock;
}

export type Moment = RelativeMoment | FixedMoment | OwnDateMoment;

/** Moments of an event, the same for everybody on one clock. */
export type EventMoment = RelativeMoment | FixedMoment;

/** Does it fall at another instant for people on other clocks? Shifts without a clock time are exact, and fall for all at once. */
export const goesByZones = (moment: Moment): boolean =>
  moment.clock === 'person' && (moment.kind !== 'relative' || moment.at !== null);

/**
 * The instant a moment names for an event. Days and weeks keep the clock time across a clock change, hours and minutes are
 * exact; `at` then sets the clock time of that day. Where nobody registers, the deadline is the start.
 * @param zone whose clock counts: the event's own, or that of the people whose moment is asked for; days are theirs too
 * @example two weeks before an event on 18 June falls on 4 June
 */
export function dueAt(moment: EventMoment, facts: EventFacts, zone = facts.zone): EpochMs {
  if (moment.kind === 'fixed') return resolveWallTime(moment.wall, zone);
  const { startMs, endMs } = instantsOf(facts);
  const anchors = { start: startMs, end: endMs, deadline: registrationEndsMs({ facts, startMs }) ?? startMs };
  const shiftedMs = shiftInstant(anchors[moment.anchor], zone, signed(moment), moment.unit);
  if (moment.at === null) return shiftedMs;
  return resolveWallTime(`${wallTimeAt(shiftedMs, zone).slice(0, 10)}T${moment.at}`, zone);
}

/** The instant a moment names for the people whose date falls on a day, on the clocks of that zone. */
export function dueOfOwnDate(moment: OwnDateMoment, day: Day, zone: string): EpochMs {
  return resolveWallTime(`${addDays(day, daysOf(moment))}T${moment.at}`, zone);
}

/**
 * The day of a person's own date that a moment is about next.
 * @param date as they have it, `1990-02-28`
 * @returns null once it is over for good
 */
export function nextOwnDay(moment: OwnDateMoment, date: Day, nowMs: EpochMs, zone: string): Day | null {
  const isAhead = (day: Day): boolean => dueOfOwnDate(moment, day, zone) >= nowMs;
  if (moment.repeats === 'once') return isAhead(date) ? date : null;
  const thisYear = Number(wallTimeAt(nowMs, zone).slice(0, 4));
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

/** How many days after the date, negative for before. */
export const daysOf = (moment: OwnDateMoment): number => signed(moment) * (moment.unit === 'weeks' ? 7 : 1);

/** Is the moment before a start or deadline, so that it is worthless after the start? A fixed one may be either. */
export const countsDown = (moment: Moment): boolean =>
  moment.kind === 'relative' && moment.direction === 'before' && moment.anchor !== 'end';

/**
 * The moment in words.
 * @param fieldName what the field of an own date is called
 * @example '2 days before the start, at 10:00'
 */
export function sayMoment(moment: Moment, fieldName = 'date'): string {
  const clock = goesByZones(moment) ? ' on their own clock' : '';
  if (moment.kind === 'fixed') return `on ${moment.wall.replace('T', ' at ')}${clock}`;
  const { amount, unit, direction, at } = moment;
  const anchor =
    moment.kind === 'own-date'
      ? `their ${fieldName}`
      : `the ${moment.anchor === 'deadline' ? 'close of registration' : moment.anchor}`;
  const shift =
    amount === 0 ? `at ${anchor}` : `${amount} ${amount === 1 ? unit.slice(0, -1) : unit} ${direction} ${anchor}`;
  if (moment.kind === 'own-date')
    return `${amount === 0 ? `on ${anchor}` : shift}${moment.repeats === 'yearly' ? ', every year' : ''}, at ${at}${clock}`;
  return at === null ? shift : `${amount === 0 ? `the day of ${anchor}` : shift}, at ${at}${clock}`;
}
