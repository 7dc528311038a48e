import { instantsOf, type EventFacts } from '../event/event';
import { findOccurrence, keyOf, occurrencesBetween, type Occurrence } from '../event/occurrences';
import { registrationEndsMs } from '../event/registration';
import type { EpochMs } from '../time/zone';
import { dueAt, type Moment } from './moment';

/** How far ahead the firings of a series are planned; the board shows four weeks. */
export const planAheadMs = 35 * 86_400_000;

/** One cue for one occurrence. */
export interface CueMoment {
  /** The occurrence's key; empty for a one-off, and for a fixed moment, which has no occurrence. */
  readonly key: string;
  readonly dueMs: EpochMs;
  readonly occurrence: Occurrence | null;
}

/**
 * When a cue is due for the occurrences of an event. A one-off has its one moment whenever that is; a series is asked
 * for a window, and a date that was moved takes its cues along.
 */
export function cueMoments(moment: Moment, facts: EventFacts, fromMs: EpochMs, toMs: EpochMs): CueMoment[] {
  if (!facts.series || moment.kind === 'fixed') return [{ key: '', dueMs: dueAt(moment, facts), occurrence: null }];
  const fromStartMs = distanceOf(moment, facts);
  const [nearMs, farMs] = [fromMs - fromStartMs - slackMs, toMs - fromStartMs + slackMs];
  const near = occurrencesBetween(facts, nearMs, farMs, Infinity);
  // A date that was changed may be of any length, so that its end lies anywhere.
  const changed = facts.series.exceptions.flatMap(({ at }) => findOccurrence(facts, keyOf(at)) ?? []);
  return [...new Map([...near, ...changed].map((date) => [date.key, date])).values()]
    .map((occurrence) => ({ key: occurrence.key, dueMs: dueAt(moment, occurrence.facts), occurrence }))
    .filter(({ dueMs }) => dueMs >= fromMs && dueMs < toMs)
    .sort((a, b) => a.dueMs - b.dueMs);
}

/** A set clock time moves a moment within its day, and clock changes by an hour. */
const slackMs = 2 * 86_400_000;

/** How far behind the start of its date a moment lies, negative for before, give or take the slack. */
function distanceOf(
  { amount, unit, direction, anchor }: Extract<Moment, { kind: 'relative' }>,
  facts: EventFacts,
): number {
  const unitMs = { minutes: 60_000, hours: 3_600_000, days: 86_400_000, weeks: 604_800_000 }[unit];
  const { startMs, endMs } = instantsOf(facts);
  const closesMs = registrationEndsMs({ facts, startMs }) ?? startMs;
  const anchors = { start: 0, end: endMs - startMs, deadline: closesMs - startMs };
  return anchors[anchor] + (direction === 'before' ? -amount : amount) * unitMs;
}
