import { instantsOf, type EventFacts } from '../event/event';
import { findOccurrence, keyOf, nextOccurrence, occurrencesBetween, type Occurrence } from '../event/occurrences';
import { registrationEndsMs } from '../event/registration';
import { longestCloseDays } from '../time/workdays';
import type { EpochMs } from '../time/zone';
import { addDays, wallTimeAt } from '../time/wall-time';
import {
  dueAt,
  dueOfOwnDate,
  goesByZones,
  plainAround,
  reachOf,
  type Moment,
  type MomentAround,
  type OwnDateMoment,
  type RelativeMoment,
} from './moment';
import type { Slot } from './slot';

/** How far ahead the firings of a series are planned; the board shows four weeks. */
export const planAheadMs = 35 * 86_400_000;

/** One cue for one slot and one zone group. */
export interface CueMoment {
  readonly slot: Slot;
  /** Empty where it is for the people of all zones. */
  readonly zone: string;
  readonly dueMs: EpochMs;
  /** The date of the series that it is about; null where it is about none. */
  readonly occurrence: Occurrence | null;
}

/**
 * When a cue is due. A one-off has its one moment whenever that is; a series is asked for a window, and a date that was moved
 * takes its cues along; people's own dates are asked for a window too. A cue that goes by each person's clock is due once in
 * each zone.
 * @param zones of the people there are; the event's own is one of them
 */
export function cueMoments(
  moment: Moment,
  facts: EventFacts,
  fromMs: EpochMs,
  toMs: EpochMs,
  zones: readonly string[],
  around: MomentAround = plainAround,
): CueMoment[] {
  const groups = goesByZones(moment) ? zones : [''];
  if (moment.kind === 'own-date')
    return groups
      .flatMap((zone) => ownDateMoments(moment, zone, zone || facts.zone, [fromMs, toMs], around))
      .sort(byDue);
  // What people do is not known beforehand: it is planned as they do it.
  if (moment.kind === 'step') return [];
  if (isOfPublication(moment) && around.publishedMs === null) return [];
  const one = moment.kind === 'fixed' && moment.date && facts.series ? findOccurrence(facts, moment.date) : null;
  // A date that is no more has nothing to be said of it.
  if (one === null && moment.kind === 'fixed' && moment.date && facts.series) return [];
  if (moment.kind === 'fixed' || isOfWhole(moment, facts))
    return groups.map((zone) => ({
      slot: one?.key ?? '',
      zone,
      dueMs: dueAt(moment, facts, zone || facts.zone, around),
      occurrence: one,
    }));
  const fromStartMs = distanceOf(moment, facts);
  const slackMs = slackOf(moment);
  const [nearMs, farMs] = [fromMs - fromStartMs - slackMs, toMs - fromStartMs + slackMs];
  const near = occurrencesBetween(facts, nearMs, farMs, Infinity);
  // A date that was changed may be of any length, so that its end lies anywhere.
  const changed = (facts.series?.exceptions ?? []).flatMap(({ at }) => findOccurrence(facts, keyOf(at)) ?? []);
  return [...new Map([...near, ...changed].map((date) => [date.key, date])).values()]
    .flatMap((occurrence) =>
      groups.map((zone) => ({
        slot: occurrence.key,
        zone,
        dueMs: dueAt(moment, occurrence.facts, zone || facts.zone, around),
        occurrence,
      })),
    )
    .filter(({ dueMs }) => dueMs >= fromMs && dueMs < toMs)
    .sort(byDue);
}

/**
 * The date that a cue is about next: the first of which its moment is still to come, which for a reminder of a week before is
 * another than the next to begin. Where its moment has passed for all, the date that is next; null where none is.
 */
export function dateDueNext(
  moment: Moment,
  facts: EventFacts,
  nowMs: EpochMs,
  around: MomentAround = plainAround,
): Occurrence | null {
  if (moment.kind === 'fixed' && moment.date) return findOccurrence(facts, moment.date);
  if (moment.kind === 'relative' && !isOfWhole(moment, facts))
    for (const aheadMs of [planAheadMs, 400 * dayMs]) {
      const [due] = cueMoments(moment, facts, nowMs, nowMs + aheadMs, [facts.zone], around).filter(
        ({ occurrence }) => occurrence && !occurrence.calledOff,
      );
      if (due?.occurrence) return due.occurrence;
    }
  return nextOccurrence(facts, nowMs);
}

/** It is counted from when the event was published. */
export const isOfPublication = (moment: Moment): boolean =>
  moment.kind === 'relative' && moment.anchor === 'publication';

/** It comes once, for the event as a whole, also where that is a series. */
export const isOfWhole = (moment: Moment, facts: EventFacts): boolean =>
  !facts.series || moment.kind === 'fixed' || isOfPublication(moment);

const byDue = (a: CueMoment, b: CueMoment): number => a.dueMs - b.dueMs;

/** One for each day of the window; whose date falls on it is asked as it fires. */
function ownDateMoments(
  moment: OwnDateMoment,
  zone: string,
  clockZone: string,
  [fromMs, toMs]: readonly [EpochMs, EpochMs],
  around: MomentAround,
): CueMoment[] {
  const { least, most } = reachOf(moment);
  const firstDay = addDays(wallTimeAt(fromMs, clockZone).slice(0, 10), -most);
  const days = Math.ceil((toMs - fromMs) / dayMs) + 1 + most - least;
  return Array.from({ length: days }, (_, index) => addDays(firstDay, index))
    .map((slot) => ({ slot, zone, dueMs: dueOfOwnDate(moment, slot, clockZone, around), occurrence: null }))
    .filter(({ dueMs }) => dueMs >= fromMs && dueMs < toMs);
}

const dayMs = 86_400_000;

const monthMs = 30.5 * dayMs;

/** A set clock time moves a moment within its day, clock changes by an hour; months differ in length, and free days are many. */
const slackOf = ({ unit, amount, onWorkdays }: RelativeMoment): number =>
  2 * dayMs + (unit === 'months' ? amount * 3 * dayMs : 0) + (onWorkdays ? longestCloseDays * dayMs : 0);

/** How far behind the start of its date a moment lies, negative for before, give or take the slack. */
function distanceOf({ amount, unit, direction, anchor }: RelativeMoment, facts: EventFacts): number {
  const unitMs = { minutes: 60_000, hours: 3_600_000, days: 86_400_000, weeks: 604_800_000, months: monthMs }[unit];
  const { startMs, endMs } = instantsOf(facts);
  const closesMs = registrationEndsMs({ facts, startMs }) ?? startMs;
  const anchors = { start: 0, end: endMs - startMs, deadline: closesMs - startMs, publication: 0 };
  return anchors[anchor] + (direction === 'before' ? -amount : amount) * unitMs;
}
