import { instantsOf, type EventFacts } from '../event/event';
import { occurrencesBetween, type Occurrence } from '../event/occurrences';
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
  const reachMs = reachOf(moment) + lengthOf(facts);
  return occurrencesBetween(facts, fromMs - reachMs, toMs + reachMs)
    .map((occurrence) => ({ key: occurrence.key, dueMs: dueAt(moment, occurrence.facts), occurrence }))
    .filter(({ dueMs }) => dueMs >= fromMs && dueMs < toMs);
}

/** How far a moment can lie from its start: a set clock time moves it within a day, a clock change by an hour. */
function reachOf(moment: Extract<Moment, { kind: 'relative' }>): number {
  const unitMs = { minutes: 60_000, hours: 3_600_000, days: 86_400_000, weeks: 604_800_000 }[moment.unit];
  return moment.amount * unitMs + 2 * 86_400_000;
}

function lengthOf(facts: EventFacts): number {
  const { startMs, endMs } = instantsOf(facts);
  return endMs - startMs;
}
