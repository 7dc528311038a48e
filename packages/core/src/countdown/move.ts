import type { EventFacts } from '../event/event';
import { shiftDay } from '../time/shift';
import { daysApart, wallTimeAt, type Day } from '../time/wall-time';
import type { EpochMs } from '../time/zone';
import {
  anchorMsOf,
  isOfPeople,
  plainAround,
  type EventMoment,
  type FixedMoment,
  type Moment,
  type MomentAround,
  type RelativeMoment,
} from './moment';

/** No moment counts more units than that. */
export const mostUnits = 1000;

/**
 * The moment that a cue has once it was moved to an instant: counted from the same anchor, in the units that say it shortest. What
 * was exact stays so while it can be said in minutes or hours; what keeps the clock time names it.
 * @param toMs to the minute
 * @param zone on whose clock it is read: where its people are, for one that goes by their clocks
 * @returns null where it cannot be said, such as before the publication, and for people's own dates
 */
export function movedMoment(
  moment: Moment,
  facts: EventFacts,
  toMs: EpochMs,
  zone = facts.zone,
  around: MomentAround = plainAround,
): EventMoment | null {
  const wall = wallTimeAt(toMs, zone);
  if (isOfPeople(moment)) return null;
  if (moment.kind === 'fixed') return { ...moment, wall } satisfies FixedMoment;
  const fromMs = anchorMsOf(moment, facts, around);
  if (moment.anchor === 'publication' && toMs < fromMs) return null;
  const isExact = moment.at === null && (moment.unit === 'minutes' || moment.unit === 'hours');
  return (isExact ? exactly(moment, toMs - fromMs) : null) ?? byCalendar(moment, wallTimeAt(fromMs, zone), wall);
}

/** In hours, else in minutes; null where that is more than can be counted. */
function exactly(moment: RelativeMoment, distanceMs: number): RelativeMoment | null {
  const minutes = Math.round(distanceMs / 60_000);
  const [amount, unit] = minutes % 60 === 0 ? ([minutes / 60, 'hours'] as const) : ([minutes, 'minutes'] as const);
  return Math.abs(amount) > mostUnits ? null : { ...moment, ...directed(moment, amount), unit };
}

/** In months or weeks where those are meant and whole, else in days, at the clock time unless that is the anchor's own. */
function byCalendar(moment: RelativeMoment, from: string, to: string): RelativeMoment | null {
  const [fromDay, toDay] = [from.slice(0, 10), to.slice(0, 10)];
  const days = daysApart(fromDay, toDay);
  const keepsClock = moment.at === null && from.slice(10) === to.slice(10) && days !== 0;
  const at = keepsClock ? null : to.slice(11);
  const months = Math.round(days / 30.44);
  const counted =
    moment.unit === 'months' && months !== 0 && isMonths(fromDay, months, toDay)
      ? ({ amount: months, unit: 'months' } as const)
      : moment.unit === 'weeks' && days % 7 === 0
        ? ({ amount: days / 7, unit: 'weeks' } as const)
        : ({ amount: days, unit: 'days' } as const);
  return Math.abs(counted.amount) > mostUnits
    ? null
    : { ...moment, ...directed(moment, counted.amount), unit: counted.unit, at };
}

const isMonths = (from: Day, months: number, to: Day): boolean => shiftDay(from, months, 'months') === to;

/** A distance of nothing has the direction that it had. */
const directed = (moment: RelativeMoment, amount: number): Pick<RelativeMoment, 'amount' | 'direction'> => ({
  amount: Math.abs(amount),
  direction: amount === 0 ? moment.direction : amount < 0 ? 'before' : 'after',
});
