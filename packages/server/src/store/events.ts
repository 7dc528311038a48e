import type { Knex } from 'knex';
import { eventFacts, type EventStatus } from '@convite/contract';
import { instantsOf, type EventFacts, type EventVersion } from '@convite/core';
import { readJson } from './database';

/** An event with its newest version. */
export interface StoredEvent {
  readonly id: number;
  readonly publicKey: string;
  readonly uid: string;
  readonly status: EventStatus;
  readonly version: EventVersion;
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
}

export function eventStore(db: Knex) {
  const newest = () =>
    db('event as e')
      .join('event_version as v', (on) => on.on('v.event_id', 'e.id').andOn('v.number', 'e.version'))
      .select('e.id', 'e.public_key', 'e.uid', 'e.status', 'v.number', 'v.sequence', 'v.facts', 'v.called_off');
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
    findByUid: (uid: string): Promise<StoredEvent | null> => one({ 'e.uid': uid }, false),
    findByPublicKey: (key: string): Promise<StoredEvent | null> => one({ 'e.public_key': key }, false),

    async all(): Promise<StoredEvent[]> {
      const rows: EventRow[] = await newest().orderBy('e.starts_at').limit(1000);
      return rows.map(eventOf);
    },
    /** Published events that begin in the window, for a digest or the board. */
    async startingBetween(fromMs: number, toMs: number): Promise<StoredEvent[]> {
      const rows: EventRow[] = await newest()
        .where('e.status', 'published')
        .whereBetween('e.starts_at', [new Date(fromMs), new Date(toMs)])
        .orderBy('e.starts_at');
      return rows.map(eventOf);
    },

    async create(event: {
      publicKey: string;
      uid: string;
      status: EventStatus;
      facts: EventFacts;
      by: string;
      now: Date;
    }): Promise<number> {
      const { startMs, endMs } = instantsOf(event.facts);
      const [id] = await db('event').insert({
        public_key: event.publicKey,
        uid: event.uid,
        status: event.status,
        version: 1,
        starts_at: new Date(startMs),
        ends_at: new Date(endMs),
      });
      const version: EventVersion = { number: 1, sequence: 0, facts: event.facts, calledOff: false };
      await this.addVersion(Number(id), version, event.by, event.now);
      return Number(id);
    },

    /** Adds a version; earlier ones are never touched. */
    async addVersion(eventId: number, version: EventVersion, by: string, now: Date): Promise<void> {
      const { startMs, endMs } = instantsOf(version.facts);
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
        .update({ version: version.number, starts_at: new Date(startMs), ends_at: new Date(endMs) });
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
});
