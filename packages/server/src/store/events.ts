import type { Knex } from 'knex';
import { eventFacts, type EventStatus } from '@convite/contract';
import { extentOf, instantsOf, type EventFacts, type EventVersion } from '@convite/core';
import { readJson } from './database';

/** An event with its newest version. */
export interface StoredEvent {
  readonly id: number;
  readonly publicKey: string;
  readonly uid: string;
  readonly status: EventStatus;
  readonly version: EventVersion;
  /** When the newest version was made; the DTSTAMP of what is published. */
  readonly at: Date;
}

/** A version with who made it when. */
export interface StoredVersion extends EventVersion {
  readonly at: Date;
  readonly by: string;
}

interface EventRow {
  id: number;
  public_key: string;
  uid: string;
  status: EventStatus;
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
    return rows[0] ? eventOf(rows[0]) : null;
  };

  return {
    find: (id: number): Promise<StoredEvent | null> => one({ 'e.id': id }, false),
    /** Locks the event's row, for a change inside a transaction. */
    findForUpdate: (id: number): Promise<StoredEvent | null> => one({ 'e.id': id }, true),
    async findMany(ids: readonly number[]): Promise<Map<number, StoredEvent>> {
      const rows: EventRow[] = await newest().whereIn('e.id', [...new Set(ids)]);
      return new Map(rows.map((row) => [row.id, eventOf(row)]));
    },
    findByUid: (uid: string): Promise<StoredEvent | null> => one({ 'e.uid': uid }, false),
    findByPublicKey: (key: string): Promise<StoredEvent | null> => one({ 'e.public_key': key }, false),

    async all(): Promise<StoredEvent[]> {
      const rows: EventRow[] = await newest().orderBy('e.starts_at').limit(1000);
      return rows.map(eventOf);
    },
    /** Published events that may have a date in the window; which, a series says itself. */
    async aliveBetween(fromMs: number, toMs: number): Promise<StoredEvent[]> {
      const rows: EventRow[] = await newest()
        .where('e.status', 'published')
        .where('e.starts_at', '<=', new Date(toMs))
        .where((or) => or.whereNull('e.last_at').orWhere('e.last_at', '>=', new Date(fromMs)))
        .orderBy('e.starts_at');
      return rows.map(eventOf);
    },
    /** Events for a feed: published or called off, of a topic or by their ids, not long over. */
    async forFeed(of: { topic: string } | { ids: readonly number[] }, sinceMs: number): Promise<StoredEvent[]> {
      const rows: EventRow[] = await newest()
        .whereIn('e.status', ['published', 'called-off'])
        .where((or) => or.whereNull('e.last_at').orWhere('e.last_at', '>=', new Date(sinceMs)))
        .modify((query) => ('ids' in of ? void query.whereIn('e.id', [...of.ids]) : undefined))
        .orderBy('e.starts_at')
        .limit(2000);
      const events = rows.map(eventOf);
      return 'topic' in of ? events.filter(({ version }) => version.facts.topics.includes(of.topic)) : events;
    },
    /** Series whose firings do not stand planned until then. */
    async idsToPlan(untilMs: number): Promise<number[]> {
      return db('event')
        .where('repeats', true)
        .whereNot('status', 'called-off')
        .where((or) => or.whereNull('planned_until').orWhere('planned_until', '<', new Date(untilMs)))
        .where((or) => or.whereNull('last_at').orWhere('last_at', '>', new Date(untilMs - 60 * 86_400_000)))
        .limit(200)
        .pluck('id');
    },
    async setPlannedUntil(id: number, atMs: number): Promise<void> {
      await db('event')
        .where({ id })
        .update({ planned_until: new Date(atMs) });
    },

    async create(event: {
      publicKey: string;
      uid: string;
      status: EventStatus;
      facts: EventFacts;
      by: string;
      now: Date;
      splitFrom?: number;
    }): Promise<number> {
      const [id] = await db('event').insert({
        public_key: event.publicKey,
        uid: event.uid,
        status: event.status,
        version: 1,
        split_from: event.splitFrom ?? null,
        ...extentColumns(event.facts),
      });
      const version: EventVersion = { number: 1, sequence: 0, facts: event.facts, calledOff: false };
      await this.addVersion(Number(id), version, event.by, event.now);
      return Number(id);
    },

    /** Adds a version; earlier ones are never touched. */
    async addVersion(eventId: number, version: EventVersion, by: string, now: Date): Promise<void> {
      await db('event_version').insert({
        event_id: eventId,
        number: version.number,
        sequence: version.sequence,
        facts: JSON.stringify(version.facts),
        called_off: version.calledOff,
        created_at: now,
        by_name: by,
      });
      await db('event')
        .where({ id: eventId })
        .update({ version: version.number, planned_until: null, ...extentColumns(version.facts) });
    },

    async setStatus(id: number, status: EventStatus): Promise<void> {
      await db('event').where({ id }).update({ status });
    },

    async versions(eventId: number): Promise<StoredVersion[]> {
      const rows: (EventRow & { created_at: Date; by_name: string })[] = await db('event_version')
        .where({ event_id: eventId })
        .orderBy('number');
      return rows.map((row) => ({ ...versionOf(row), at: row.created_at, by: row.by_name }));
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
  version: versionOf(row),
  at: row.created_at,
});
