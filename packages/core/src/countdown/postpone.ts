import { instantsOf, timedSpan, type EventFacts } from '../event/event';
import { addDays, daysApart, wallTimeAt } from '../time/wall-time';
import type { EpochMs } from '../time/zone';
import { standbyMs } from './firing';
import { dueAt, isOfPeople, plainAround, type Moment, type MomentAround } from './moment';

/** The same event, as long as it was, at another start; one of whole days moves by days. */
export function startingAt(facts: EventFacts, toMs: EpochMs): EventFacts {
  const { span, zone } = facts;
  const { startMs, endMs } = instantsOf(facts);
  if (span.kind === 'timed') return { ...facts, span: timedSpan(toMs, endMs + toMs - startMs, facts) };
  const days = daysApart(span.firstDay, wallTimeAt(toMs, zone).slice(0, 10));
  return { ...facts, span: { ...span, firstDay: addDays(span.firstDay, days), lastDay: addDays(span.lastDay, days) } };
}

/** Where a cue would go if its event began at another time. */
export interface Postponed {
  readonly id: number;
  readonly fromMs: EpochMs;
  readonly toMs: EpochMs;
  /** Its moment would be past, or too near to be set by itself. */
  readonly isLate: boolean;
}

/** What a move of the start does to the cues that have not fired; what is counted from something else stays where it is. */
export function postpone(
  cues: readonly { readonly id: number; readonly moment: Moment }[],
  facts: EventFacts,
  toMs: EpochMs,
  nowMs: EpochMs,
  around: MomentAround = plainAround,
  standby = standbyMs,
): Postponed[] {
  const moved = startingAt(facts, toMs);
  return cues.flatMap(({ id, moment }) => {
    if (isOfPeople(moment)) return [];
    const [from, to] = [facts, moved].map((one) => dueAt(moment, one, one.zone, around));
    return from === undefined || to === undefined
      ? []
      : [{ id, fromMs: from, toMs: to, isLate: to !== from && to < nowMs + standby }];
  });
}
