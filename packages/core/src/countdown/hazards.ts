import { standbyMs } from './firing';
import { transitionsBetween, type EpochMs } from '../time/zone';
import { quietEndsMs, type QuietSpan } from '../time/quiet-hours';

/** What is worth a second look before a cue goes. */
export type Hazard =
  | 'past'
  | 'under-ten-minutes'
  | 'after-start'
  | 'not-done-by-start'
  | 'close-to-another'
  | 'quiet-hours'
  | 'clock-change';

/** One firing as the hazards see it. */
export interface WatchedFiring {
  readonly id: number;
  readonly dueMs: EpochMs;
  /** Start of the occurrence it belongs to. */
  readonly startMs: EpochMs;
  /** Says that it comes before the start. */
  readonly countsDown: boolean;
  readonly isOver: boolean;
  /** When its last message leaves at its sender's pace; null where that has no bound. */
  readonly finishMs: EpochMs | null;
  /** Where its people are; left out, where the event is. */
  readonly zone?: string;
}

/** A text or email at night is read as rudeness, whether or not the house keeps quiet hours (common practice). */
export const usualQuiet: QuietSpan = { from: '22:00', until: '08:00' };

/**
 * The hazards of each firing of one event, by its id. Firings that are over have none.
 * @param zone where the event is
 * @param quiet the house's own quiet hours, where it has any
 */
export function findHazards(
  firings: readonly WatchedFiring[],
  zone: string,
  nowMs: EpochMs,
  quiet: QuietSpan = usualQuiet,
): Map<number, Hazard[]> {
  return new Map(
    firings.map((firing) => [firing.id, firing.isOver ? [] : hazardsOf(firing, firings, zone, nowMs, quiet)]),
  );
}

function hazardsOf(
  firing: WatchedFiring,
  all: readonly WatchedFiring[],
  zone: string,
  nowMs: EpochMs,
  quiet: QuietSpan,
): Hazard[] {
  const { dueMs, startMs, countsDown, id, finishMs } = firing;
  const isClose = all.some((other) => other.id !== id && !other.isOver && Math.abs(other.dueMs - dueMs) < standbyMs);
  const found: [Hazard, boolean][] = [
    ['past', dueMs < nowMs],
    ['under-ten-minutes', dueMs >= nowMs && dueMs < nowMs + standbyMs],
    ['after-start', countsDown && dueMs >= startMs],
    ['not-done-by-start', countsDown && dueMs < startMs && finishMs !== null && finishMs >= startMs],
    ['close-to-another', isClose],
    ['quiet-hours', quietEndsMs(quiet, firing.zone ?? zone, dueMs) !== null],
    ['clock-change', transitionsBetween(zone, Math.min(dueMs, startMs), Math.max(dueMs, startMs)).length > 0],
  ];
  return found.filter(([, applies]) => applies).map(([hazard]) => hazard);
}
