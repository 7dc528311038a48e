import type { EventYear } from '@convite/contract';
import { findClashes, occurrencesBetween, resolveWallTime, wallTimeAt } from '@convite/core';
import type { Context } from '../context';

/** A year of daily series of a dozen events, and as many clashes as anybody can solve; that there are more is said. */
const mostDates = 4000;
const mostClashes = 200;

/** Twelve months of dates, from the first of the month before this one by the house's zone, with those that want one venue. */
export async function readYear({ store, clock }: Pick<Context, 'store' | 'clock'>): Promise<EventYear> {
  const { zone } = await store.house.settings();
  const today = wallTimeAt(clock.now(), zone);
  const fromMs = resolveWallTime(firstOfMonth(today, -1), zone);
  const toMs = resolveWallTime(firstOfMonth(today, 11), zone);
  const events = await store.events.aliveBetween(fromMs, toMs, ['published', 'draft']);
  const dates = events
    .flatMap((event) =>
      occurrencesBetween(event.version.facts, fromMs, toMs)
        .filter(({ calledOff, startMs }) => !calledOff && startMs >= fromMs && startMs < toMs)
        .map(({ facts, startMs, endMs }) => ({
          eventId: event.id,
          title: facts.title,
          venue: facts.venue,
          startMs,
          endMs,
          isDraft: event.status === 'draft',
        })),
    )
    .sort((a, b) => a.startMs - b.startMs);
  const shown = dates.slice(0, mostDates);
  const clashes = findClashes(shown, mostClashes + 1);
  return {
    from: new Date(fromMs).toISOString(),
    to: new Date(toMs).toISOString(),
    zone,
    dates: shown.map(({ startMs, endMs: _, ...date }) => ({ ...date, at: new Date(startMs).toISOString() })),
    clashes: clashes.slice(0, mostClashes).map(({ first, second }) => ({
      at: new Date(second.startMs).toISOString(),
      venue: second.venue,
      titles: [first.title, second.title],
      eventIds: [first.eventId, second.eventId],
    })),
    isCut: dates.length > mostDates || clashes.length > mostClashes,
  };
}

/** Midnight of the first of the month so many from the one that a clock reading is in. */
function firstOfMonth(wall: string, months: number): string {
  const count = Number(wall.slice(0, 4)) * 12 + Number(wall.slice(5, 7)) - 1 + months;
  return `${Math.floor(count / 12)}-${String((count % 12) + 1).padStart(2, '0')}-01T00:00`;
}
