import type { Knex } from 'knex';
import { eventFacts, type EventQuery, type EventStatus } from '@convite/contract';
import type { EventFacts } from '@convite/core';
import { likePrefix, readJson } from './database';
import { eventOf, newestOf, type EventRow, type StoredEvent } from './event-rows';
import { readEach } from './per-row';

/** So many events are planned on before the worker looks at anything else. */
const plannedAtOnce = 200;
/** Enough of an event to put it in order. */
export interface EventOutline {
  readonly id: number;
  readonly startMs: number;
  /** Of a series; null for what happens once. */
  readonly series: EventFacts | null;
}

/** Words in one of the facts, whatever their case. */
const wordsIn = (field: 'title' | 'venue'): string =>
  `json_value(v.facts, '$.${field}') collate utf8mb4_unicode_520_ci like ?`;

/** Which events are to come, over, in a window, in a feed, or behind with their planning. */
export function eventLists(db: Knex) {
  return {
    /** Events with a date to come or over, by words in title or place; of a series the facts, which say its next date. */
    async outline(
      { when, search, status, topic }: Pick<EventQuery, 'when' | 'search' | 'status' | 'topic'>,
      now: Date,
    ): Promise<EventOutline[]> {
      const words = `%${likePrefix(search)}`;
      const rows: { id: number; starts_at: Date; facts: unknown }[] = await db('event as e')
        .join('event_version as v', (on) => on.on('v.event_id', 'e.id').andOn('v.number', 'e.version'))
        .where((or) =>
          when === 'coming'
            ? or.whereNull('e.last_at').orWhere('e.last_at', '>=', now)
            : or.where('e.last_at', '<', now),
        )
        .modify((query) =>
          search
            ? void query.where((or) => or.whereRaw(wordsIn('title'), words).orWhereRaw(wordsIn('venue'), words))
            : undefined,
        )
        .modify((query) => {
          if (status) void query.where('e.status', status);
          if (topic) void query.whereRaw(`json_contains(v.facts, json_quote(?), '$.topics')`, topic);
        })
        .orderBy('e.last_at', 'desc')
        .orderBy('e.id')
        .select('e.id', 'e.starts_at', db.raw('if(e.repeats, v.facts, null) as facts'));
      return readEach(db, 'event', rows, ({ id, starts_at, facts }) => ({
        id,
        startMs: starts_at.getTime(),
        series: facts === null ? null : eventFacts.parse(readJson(facts)),
      }));
    },
    /** The first events that have cues, by words in the title or by number, in the order of their titles. */
    async withCues(
      { search, id }: { readonly search: string; readonly id?: number | undefined },
      most: number,
    ): Promise<{ id: number; title: string }[]> {
      return newestOf(db)
        .clearSelect()
        .whereExists(db('cue').whereRaw('cue.event_id = e.id').where('is_retired', false))
        .modify((query) => {
          if (id !== undefined) void query.where('e.id', id);
          if (search) void query.whereRaw(wordsIn('title'), `%${likePrefix(search)}`);
        })
        .select('e.id', db.raw("json_value(v.facts, '$.title') as title"))
        .orderBy('title')
        .limit(most);
    },
    /** A published event that is to come, the next to start where one has not begun; null for none. */
    async nextId(now: Date): Promise<number | null> {
      const alive = db('event').where('status', 'published').orderBy('starts_at').limit(1);
      const coming: { id: number } | undefined = await alive.clone().where('starts_at', '>=', now).first('id');
      const begun: { id: number } | undefined =
        coming ?? (await alive.where((or) => or.whereNull('last_at').orWhere('last_at', '>=', now)).first('id'));
      return begun?.id ?? null;
    },
    /** Events of a state, published where none is named, that may have a date in the window; which, a series says itself. */
    async aliveBetween(
      fromMs: number,
      toMs: number,
      states: readonly EventStatus[] = ['published'],
    ): Promise<StoredEvent[]> {
      const rows: EventRow[] = await newestOf(db)
        .whereIn('e.status', [...states])
        .where('e.starts_at', '<=', new Date(toMs))
        .where((or) => or.whereNull('e.last_at').orWhere('e.last_at', '>=', new Date(fromMs)))
        .orderBy('e.starts_at');
      return readEach(db, 'event', rows, eventOf);
    },
    /** Events for a feed: published or called off, of a topic or by their ids, not long over. */
    async forFeed(of: { topic: string } | { ids: readonly number[] }, sinceMs: number): Promise<StoredEvent[]> {
      const rows: EventRow[] = await newestOf(db)
        .whereIn('e.status', ['published', 'called-off'])
        .where((or) => or.whereNull('e.last_at').orWhere('e.last_at', '>=', new Date(sinceMs)))
        .modify((query) => {
          if ('ids' in of) void query.whereIn('e.id', [...of.ids]);
          else void query.whereRaw(`json_contains(v.facts, json_quote(?), '$.topics')`, of.topic);
        })
        .orderBy('e.starts_at');
      return readEach(db, 'event', rows, eventOf);
    },
    /** Titles of some that people who asked for a topic may still hear of, the next ones first. */
    async titlesAbout(topic: string, sinceMs: number, most: number): Promise<string[]> {
      const rows: { title: string }[] = await newestOf(db)
        .clearSelect()
        .whereIn('e.status', ['published', 'called-off'])
        .where((or) => or.whereNull('e.last_at').orWhere('e.last_at', '>=', new Date(sinceMs)))
        .whereRaw(`json_contains(v.facts, json_quote(?), '$.topics')`, topic)
        .orderBy('e.starts_at')
        .limit(most)
        .select(db.raw(`json_value(v.facts, '$.title') as title`));
      return rows.map(({ title }) => title);
    },
    /** Series, and events with cues that go on by people's dates and zones, whose firings do not stand planned until then; and what is to be planned anew. */
    async idsToPlan(untilMs: number): Promise<number[]> {
      const behind = (query: Knex.QueryBuilder): Promise<number[]> =>
        query
          .whereNot('e.status', 'called-off')
          .where((or) => or.whereNull('e.planned_until').orWhere('e.planned_until', '<', new Date(untilMs)))
          .where((or) => or.whereNull('e.last_at').orWhere('e.last_at', '>', new Date(untilMs - 60 * 86_400_000)))
          .limit(plannedAtOnce)
          .distinct('e.id')
          .pluck('e.id');
      const [series, byPeople, anew] = await Promise.all([
        behind(db('event as e').where('e.repeats', true)),
        behind(
          db('cue as c').join('event as e', 'e.id', 'c.event_id').where({ 'c.goes_on': true, 'c.is_retired': false }),
        ),
        behind(db('event as e').whereNull('e.planned_until')),
      ]);
      return [...new Set([...series, ...byPeople, ...anew])];
    },
    /** All that are still to come and have a countdown are planned anew by the worker. */
    async replanAll(sinceMs: number): Promise<void> {
      await db.raw(
        `update event e set e.planned_until = null
         where e.status <> 'called-off' and (e.last_at is null or e.last_at > ?)
           and exists (select 1 from cue c where c.event_id = e.id and not c.is_retired)`,
        [new Date(sinceMs)],
      );
    },
    /** Those whose cues go by working days are planned anew by the worker. */
    async replanByWorkdays(sinceMs: number): Promise<void> {
      await db.raw(
        `update event e join cue c on c.event_id = e.id and c.goes_on and not c.is_retired
         set e.planned_until = null
         where json_value(c.moment, '$.onWorkdays') and e.status <> 'called-off' and (e.last_at is null or e.last_at > ?)`,
        [new Date(sinceMs)],
      );
    },
    async setPlannedUntil(id: number, atMs: number): Promise<void> {
      await db('event')
        .where({ id })
        .update({ planned_until: new Date(atMs) });
    },
  };
}
