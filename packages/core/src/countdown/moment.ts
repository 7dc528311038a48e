import { instantsOf, type EventFacts } from '../event/event';
import { registrationEndsMs } from '../event/registration';
import { resolveWallTime, wallTimeAt, type WallTime } from '../time/wall-time';
import { shiftInstant, type Unit } from '../time/shift';
import type { EpochMs } from '../time/zone';

/** What a moment is counted from; `deadline` is when registration closes. */
export type Anchor = 'start' | 'end' | 'deadline';

/** When a cue fires. `at` is a clock time, `10:00`, on the day that the shift leads to; only with days and weeks. */
export type Moment =
  | {
      readonly kind: 'relative';
      readonly amount: number;
      readonly unit: Unit;
      readonly direction: 'before' | 'after';
      readonly anchor: Anchor;
      readonly at: string | null;
    }
  | { readonly kind: 'fixed'; readonly wall: WallTime };

/**
 * The instant a moment names for an event, in the event's zone. Days and weeks keep the clock time across a clock
 * change, hours and minutes are exact; `at` then sets the clock time of that day. Where nobody registers, the deadline is
 * the start.
 * @example two weeks before an event on 18 June falls on 4 June
 */
export function dueAt(moment: Moment, facts: EventFacts): EpochMs {
  if (moment.kind === 'fixed') return resolveWallTime(moment.wall, facts.zone);
  const { startMs, endMs } = instantsOf(facts);
  const anchors = { start: startMs, end: endMs, deadline: registrationEndsMs({ facts, startMs }) ?? startMs };
  const anchorMs = anchors[moment.anchor];
  const amount = moment.direction === 'before' ? -moment.amount : moment.amount;
  const shiftedMs = shiftInstant(anchorMs, facts.zone, amount, moment.unit);
  if (moment.at === null) return shiftedMs;
  return resolveWallTime(`${wallTimeAt(shiftedMs, facts.zone).slice(0, 10)}T${moment.at}`, facts.zone);
}

/** Is the moment before a start or deadline, so that it is worthless after the start? A fixed one may be either. */
export const countsDown = (moment: Moment): boolean =>
  moment.kind === 'relative' && moment.direction === 'before' && moment.anchor !== 'end';

/** The moment in words. @example '2 days before the start, at 10:00' */
export function sayMoment(moment: Moment): string {
  if (moment.kind === 'fixed') return `on ${moment.wall.replace('T', ' at ')}`;
  const { amount, unit, direction, at } = moment;
  const anchor = moment.anchor === 'deadline' ? 'close of registration' : moment.anchor;
  const shift =
    amount === 0
      ? `at the ${anchor}`
      : `${amount} ${amount === 1 ? unit.slice(0, -1) : unit} ${direction} the ${anchor}`;
  return at === null ? shift : `${amount === 0 ? `the day of the ${anchor}` : shift}, at ${at}`;
}
