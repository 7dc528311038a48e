import type { CueSourceQuery, EventPage, EventQuery, EventRow } from '@convite/contract';
import { sayRepeats } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import { noTally } from '../../store/event-tallies';
import type { Context } from '../context';
import { shownTimes } from './events';

const pageSize = 100;
/** Whoever looks for another types more of its name. */
const mostOffered = 20;

/** A page of the table of events: what comes, in the order of next dates, or what is over, latest first. */
export async function listEvents(
  { store, clock }: Pick<Context, 'store' | 'clock'>,
  { when, search, after, status = '', topic = '' }: Omit<EventQuery, 'status' | 'topic'> & Partial<EventQuery>,
): Promise<EventPage> {
  const nowMs = clock.now();
  const found = (await store.events.outline({ when, search, status, topic }, new Date(nowMs))).map(
    ({ id, startMs, series }) => ({
      id,
      atMs: series ? shownTimes(series, nowMs).startMs : startMs,
    }),
  );
  if (when === 'coming') found.sort((a, b) => a.atMs - b.atMs || a.id - b.id);
  const ids = found.slice(after, after + pageSize).map(({ id }) => id);
  const events = await store.events.findMany(ids);
  const tallies = await store.eventTallies.findMany(ids);
  const cues = await store.firings.nextCues(ids);
  const names = await store.cues.names([...cues.values()].map(({ cueId }) => cueId));
  const rows = ids.flatMap((id): EventRow[] => {
    const event = events.get(id);
    if (!event) return [];
    const cue = cues.get(id);
    return [
      {
        ...rowOf(event, nowMs),
        replies: (tallies.get(id) ?? noTally()).replies,
        nextCue: cue ? { name: names.get(cue.cueId) ?? '', dueAt: new Date(cue.dueMs).toISOString() } : null,
      },
    ];
  });
  return { rows, total: found.length, next: after + pageSize < found.length ? after + pageSize : null };
}

function rowOf({ id, status, version: { facts } }: StoredEvent, nowMs: number): Omit<EventRow, 'replies' | 'nextCue'> {
  const { startMs, endMs } = shownTimes(facts, nowMs);
  return {
    id,
    title: facts.title,
    zone: facts.zone,
    startAt: new Date(startMs).toISOString(),
    endAt: new Date(endMs).toISOString(),
    isAllDay: facts.span.kind === 'all-day',
    repeats: sayRepeats(facts),
    status,
    topics: [...facts.topics],
  };
}

/** Events that have cues, for taking them over. */
export const eventsWithCues = ({ store }: Pick<Context, 'store'>, query: CueSourceQuery) =>
  store.events.withCues(query, mostOffered);
