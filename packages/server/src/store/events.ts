import type { Knex } from 'knex';
import { eventFacts, type EventReach, type EventStatus } from '@convite/contract';
import { extentOf, instantsOf, type EventFacts, type EventVersion } from '@convite/core';
import { likePrefix, readJson } from './database';
import { readEach, readOne } from './per-row';

/** An event with its newest version. */
export interface StoredEvent {
  readonly id: number;
  readonly publicKey: string;
  readonly uid: string;
  readonly status: EventStatus;
  /** Who may see it. */
  readonly reach: EventReach;
  readonly version: EventVersion;
  /** When the newest version was made; the DTSTAMP of what is published. */
  readonly at: Date;
}

/** A version with who made it when. */
export interface StoredVersion extends EventVersion {
  readonly at: Date;
  readonly by: string;
}

export interface NewEvent {
  readonly publicKey: string;
  readonly uid: string;
  readonly status: EventStatus;
  readonly reach: EventReach;
  readonly facts: EventFacts;
  readonly by: string;
  readonly now: Date;
  /** The series that “this and following” parted it from. */
  readonly splitFrom?: number;
}

/** So many events are planned on before the worker looks at anything else. */
const plannedAtOnce = 200;
/** Rows in one statement. */
const chunkSize = 500;

/** Enough of an event to put it in order. */
export interface EventOutline {
  readonly id: number;
  readonly startMs: number;
  /** Of a series; null for what happens once. */
  readonly series: EventFacts | null;
}

interface EventRow {
  id: number;
  public_key: string;
  uid: string;
  status: EventStatus;
  reach: EventReach;
  number: number;
  sequence: number;
  facts: unknown;
  called_off: number;
  created_at: Date;
}

export function eventStore(db: Knex) {
  const newest = () =>
    db('event as e')
      .join('event_version as v', (on) => on.on('v.event_id', 'e.id').andOn('v.number', 'e.version'))
      .select(
        'e.id',
        'e.public_key',
        'e.uid',
        'e.status',
        'e.reach',
        'v.number',
        'v.sequence',
        'v.facts',
        'v.called_off',
        'v.created_at',
      );
  const one = async (where: Record<string, string | number>, lock: boolean): Promise<StoredEvent | null> => {
    const rows: EventRow[] = await newest()
      .where(where)
      .modify((query) => (lock ? void query.forUpdate() : undefined));
    return rows[0] ? readOne(db, 'event', rows[0], eventOf) : null;
  };

  return {
    /** The number of an event's newest version; null when it is gone. */
    async versionNow(id: number): Promise<number | null> {
      const row: { version: number } | undefined = await db('event').where({ id }).first('version');
      return row?.version ?? null;
    },
    find: (id: number): Promise<StoredEvent | null> => one({ 'e.id': id }, false),
    /** Locks the event's row, for a change inside a transaction. */
    findForUpdate: (id: number): Promise<StoredEvent | null> => one({ 'e.id': id }, true),
    async findMany(ids: readonly number[]): Promise<Map<number, StoredEvent>> {
      const rows: EventRow[] = await newest().whereIn('e.id', [...new Set(ids)]);
      return new Map(readEach(db, 'event', rows, eventOf).map((event) => [event.id, event]));
    },
    findByUid: (uid: string): Promise<StoredEvent | null> => one({ 'e.uid': uid }, false),
    findByPublicKey: (key: string): Promise<StoredEvent | null> => one({ 'e.public_key': key }, false),

    /** Events with a date to come or over, by words in title or place; of a series the facts, which say its next date. */
    async outline(when: 'coming' | 'past', search: string, now: Date): Promise<EventOutline[]> {
      const words = `%${likePrefix(search)}`;
      const text = (field: string) => `json_value(v.facts, '$.${field}') collate utf8mb4_unicode_520_ci like ?`;
      const rows: { id: number; starts_at: Date; facts: unknown }[] = await db('event as e')
        .join('event_version as v', (on) => on.on('v.event_id', 'e.id').andOn('v.number', 'e.version'))
        .where((or) =>
          when === 'coming'
            ? or.whereNull('e.last_at').orWhere('e.last_at', '>=', now)
            : or.where('e.last_at', '<', now),
        )
        .modify((query) =>
          search
            ? void query.where((or) => or.whereRaw(text('title'), words).orWhereRaw(text('venue'), words))
            : undefined,
        )
        .orderBy('e.last_at', 'desc')
        .orderBy('e.id')
        .select('e.id', 'e.starts_at', db.raw('if(e.repeats, v.facts, null) as facts'));
      return readEach(db, 'event', rows, ({ id, starts_at, facts }) => ({
        id,
        startMs: starts_at.getTime(),
        series: facts === null ? null : eventFacts.parse(readJson(facts)),
      }));
    },
    /** Events that have cues, by name. */
    async withCues(): Promise<{ id: number; title: string }[]> {
      return newest()
        .clearSelect()
        .whereExists(db('cue').whereRaw('cue.event_id = e.id').where('is_retired', false))
        .select('e.id', db.raw("json_value(v.facts, '$.title') as title"))
        .orderBy('title')
        .limit(500);
    },
    /** Published events that may have a date in the window; which, a series says itself. */
    async aliveBetween(fromMs: number, toMs: number): Promise<StoredEvent[]> {
      const rows: EventRow[] = await newest()
        .where('e.status', 'published')
        .where('e.starts_at', '<=', new Date(toMs))
        .where((or) => or.whereNull('e.last_at').orWhere('e.last_at', '>=', new Date(fromMs)))
        .orderBy('e.starts_at');
      return readEach(db, 'event', rows, eventOf);
    },
    /** Events for a feed: published or called off, of a topic or by their ids, not long over. */
    async forFeed(of: { topic: string } | { ids: readonly number[] }, sinceMs: number): Promise<StoredEvent[]> {
      const rows: EventRow[] = await newest()
        .whereIn('e.status', ['published', 'called-off'])
        .where((or) => or.whereNull('e.last_at').orWhere('e.last_at', '>=', new Date(sinceMs)))
        .modify((query) => ('ids' in of ? void query.whereIn('e.id', [...of.ids]) : undefined))
        .orderBy('e.starts_at')
        .limit(2000);
      const events = readEach(db, 'event', rows, eventOf);
      return 'topic' in of ? events.filter(({ version }) => version.facts.topics.includes(of.topic)) : events;
    },
    /** Series, and events with cues that go on by people's dates and zones, whose firings do not stand planned until then. */
    async idsToPlan(untilMs: number): Promise<number[]> {
      const behind = (query: Knex.QueryBuilder): Promise<number[]> =>
        query
          .whereNot('e.status', 'called-off')
          .where((or) => or.whereNull('e.planned_until').orWhere('e.planned_until', '<', new Date(untilMs)))
          .where((or) => or.whereNull('e.last_at').orWhere('e.last_at', '>', new Date(untilMs - 60 * 86_400_000)))
          .limit(plannedAtOnce)
          .distinct('e.id')
          .pluck('e.id');
      const [series, byPeople] = await Promise.all([
        behind(db('event as e').where('e.repeats', true)),
        behind(
          db('cue as c').join('event as e', 'e.id', 'c.event_id').where({ 'c.goes_on': true, 'c.is_retired': false }),
        ),
      ]);
      return [...new Set([...series, ...byPeople])];
    },
    async setPlannedUntil(id: number, atMs: number): Promise<void> {
      await db('event')
        .where({ id })
        .update({ planned_until: new Date(atMs) });
    },

    async create(event: NewEvent): Promise<number> {
      const [id = 0] = await this.createMany([event]);
      return id;
    },
    /** Stores new events, each with its first version. @returns their numbers, in the order given */
    async createMany(events: readonly NewEvent[]): Promise<number[]> {
      const ids: number[] = [];
      for (let from = 0; from < events.length; from += chunkSize) {
        const chunk = events.slice(from, from + chunkSize);
        await db('event').insert(
          chunk.map(({ publicKey, uid, status, reach, splitFrom, facts }) => ({
            public_key: publicKey,
            uid,
            status,
            reach,
            version: 1,
            split_from: splitFrom ?? null,
            ...extentColumns(facts),
          })),
        );
        const uids = chunk.map(({ uid }) => uid);
        const rows: { id: number; uid: string }[] = await db('event').whereIn('uid', uids).select('id', 'uid');
        const idOf = new Map(rows.map(({ id, uid }) => [uid, id]));
        await db('event_version').insert(
          chunk.map(({ uid, facts, by, now }) => ({
            event_id: idOf.get(uid) ?? 0,
            ...versionColumns({ number: 1, sequence: 0, facts, calledOff: false }),
            created_at: now,
            by_name: by,
          })),
        );
        ids.push(...uids.map((uid) => idOf.get(uid) ?? 0));
      }
      return ids;
    },

    /** Adds a version; earlier ones are never touched. */
    async addVersion(eventId: number, version: EventVersion, by: string, now: Date): Promise<void> {
      await db('event_version').insert({
        event_id: eventId,
        ...versionColumns(version),
        created_at: now,
        by_name: by,
      });
      await db('event')
        .where({ id: eventId })
        .update({ version: version.number, planned_until: null, ...extentColumns(version.facts) });
    },

    async setReach(id: number, reach: EventReach): Promise<void> {
      await db('event').where({ id }).update({ reach });
    },
    /** Holds the event for a change inside a transaction, without reading it. */
    async lock(id: number): Promise<void> {
      await db('event').where({ id }).forUpdate().first('id');
    },
    async setStatus(id: number, status: EventStatus): Promise<void> {
      await db('event').where({ id }).update({ status });
    },

    async versions(eventId: number): Promise<StoredVersion[]> {
      const rows: (EventRow & { created_at: Date; by_name: string })[] = await db('event_version')
        .select('*', 'event_id as id')
        .where({ event_id: eventId })
        .orderBy('number');
      return readEach(db, 'event', rows, (row) => ({ ...versionOf(row), at: row.created_at, by: row.by_name }));
    },
    /** The versions up to one, oldest first; those before the last twenty are not asked about any more. */
    async versionsUpTo(eventId: number, number: number): Promise<EventVersion[]> {
      const rows: EventRow[] = await db('event_version')
        .select('*', 'event_id as id')
        .where({ event_id: eventId })
        .where('number', '<=', number)
        .orderBy('number', 'desc')
        .limit(20);
      return readEach(db, 'event', rows.reverse(), versionOf);
    },
    async version(eventId: number, number: number): Promise<EventVersion | null> {
      const row: EventRow | undefined = await db('event_version').where({ event_id: eventId, number }).first();
      return row ? versionOf(row) : null;
    },
  };
}

/** First start, first end and last end, so that a window finds an event without asking its rule. */
function extentColumns(facts: EventFacts): Record<string, unknown> {
  const extent = extentOf(facts);
  return {
    starts_at: new Date(extent.startMs),
    ends_at: new Date(instantsOf(facts).endMs),
    last_at: extent.endMs === null ? null : new Date(extent.endMs),
    repeats: facts.series !== null,
  };
}

const versionColumns = ({ number, sequence, facts, calledOff }: EventVersion): Record<string, unknown> => ({
  number,
  sequence,
  facts: JSON.stringify(facts),
  called_off: calledOff,
});

const versionOf = (row: Pick<EventRow, 'number' | 'sequence' | 'facts' | 'called_off'>): EventVersion => ({
  number: row.number,
  sequence: row.sequence,
  facts: eventFacts.parse(readJson(row.facts)),
  calledOff: Boolean(row.called_off),
});

const eventOf = (row: EventRow): StoredEvent => ({
  id: row.id,
  publicKey: row.public_key,
  uid: row.uid,
  status: row.status,
  reach: row.reach,
  version: versionOf(row),
  at: row.created_at,
});
