import { instantsOf, type EventFacts } from '../event/event';
import { addDays, resolveWallTime, wallTimeAt, type Day } from '../time/wall-time';
import type { EpochMs } from '../time/zone';

/** An event that a digest may list. */
export interface UpcomingEvent {
  readonly id: number;
  readonly facts: EventFacts;
}

/** The events of one issue, by the day they begin in the digest's zone. */
export interface IssueDay {
  readonly day: Day;
  readonly events: readonly UpcomingEvent[];
}

/**
 * The window of an issue: from the moment it is sent to the end of the day `days` later, in the digest's zone. Sent
 * on a Friday with 10 days it shows this weekend, next week and the weekend after (common practice).
 */
export function windowOf(dueMs: EpochMs, days: number, zone: string): { fromMs: EpochMs; toMs: EpochMs } {
  const lastDay = addDays(wallTimeAt(dueMs, zone).slice(0, 10), days);
  return { fromMs: dueMs, toMs: resolveWallTime(`${addDays(lastDay, 1)}T00:00`, zone) };
}

/**
 * What one person's issue lists: events that begin in the window, in the topics they asked for, by day and start. A
 * person who asked for no topic in particular gets them all. Null when there is nothing to say, so nothing is sent.
 */
export function composeIssue(
  events: readonly UpcomingEvent[],
  window: { fromMs: EpochMs; toMs: EpochMs },
  zone: string,
  topics: readonly string[],
): IssueDay[] | null {
  const days = new Map<Day, UpcomingEvent[]>();
  const starting = events
    .map((event) => ({ event, startMs: instantsOf(event.facts).startMs }))
    .filter(({ startMs }) => startMs >= window.fromMs && startMs < window.toMs)
    .filter(({ event }) => wants(topics, event.facts.topics))
    .sort((a, b) => a.startMs - b.startMs || a.event.id - b.event.id);
  for (const { event, startMs } of starting) {
    const day = wallTimeAt(startMs, zone).slice(0, 10);
    days.set(day, [...(days.get(day) ?? []), event]);
  }
  return days.size ? [...days].map(([day, list]) => ({ day, events: list })) : null;
}

/** Did a person who chose these topics ask for an event of those? */
export const wants = (chosen: readonly string[], ofEvent: readonly string[]): boolean =>
  chosen.length === 0 || ofEvent.some((topic) => chosen.includes(topic));
