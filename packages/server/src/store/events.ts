import type { Knex } from 'knex';
import type { EventReach, EventStatus } from '@convite/contract';
import { extentOf, instantsOf, type EventFacts, type EventVersion } from '@convite/core';
import { isLockTimeout } from './database';
import { eventLists } from './event-lists';
import { eventOf, newestOf, versionOf, type EventRow, type StoredEvent, type StoredVersion } from './event-rows';
import { readEach, readOne } from './per-row';

export type { EventOutline } from './event-lists';
export type { StoredEvent, StoredVersion } from './event-rows';

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
  /** When it was published, where that was not just now. */
  readonly publishedAt?: Date | null;
}

/** Rows in one statement. */
const chunkSize = 500;

export function eventStore(db: Knex) {
  return { ...eventLists(db), ...eventVersions(db), ...eventAlone(db) };
}

/** One event: found, made and changed. */
function eventAlone(db: Knex) {
  const one = async (where: Record<string, string | number>, lock: boolean): Promise<StoredEvent | null> => {
    const rows: EventRow[] = await newestOf(db)
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
      const rows: EventRow[] = await newestOf(db).whereIn('e.id', [...new Set(ids)]);
      return new Map(readEach(db, 'event', rows, eventOf).map((event) => [event.id, event]));
    },
    findByUid: (uid: string): Promise<StoredEvent | null> => one({ 'e.uid': uid }, false),
    findByPublicKey: (key: string): Promise<StoredEvent | null> => one({ 'e.public_key': key }, false),

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
          chunk.map(({ publicKey, uid, status, reach, splitFrom, facts, now, publishedAt = now }) => ({
            public_key: publicKey,
            uid,
            status,
            reach,
            version: 1,
            split_from: splitFrom ?? null,
            published_at: status === 'draft' ? null : publishedAt,
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

    /** With all that belongs to it: for drafts that nobody has heard of. */
    async remove(id: number): Promise<void> {
      await db('event').where({ id }).delete();
      await db('sending_turn').where({ event_id: id }).delete();
    },

    async setReach(id: number, reach: EventReach): Promise<void> {
      await db('event').where({ id }).update({ reach });
    },
    /**
     * Of the sendings of an event one is written down at a time, in the caller's transaction. Whoever edits the event, or registers,
     * waits for none of them. Locks by writing, as a cluster needs it, and does not wait.
     * @returns false while another is being written down
     */
    async takeTurn(id: number): Promise<boolean> {
      try {
        await db.raw(
          `set statement innodb_lock_wait_timeout = 0 for
           insert into sending_turn (event_id, taken_at) values (?, now(6)) on duplicate key update taken_at = now(6)`,
          [id],
        );
        return true;
      } catch (error) {
        if (isLockTimeout(error)) return false;
        throw error;
      }
    },
    async setHeldBy(id: number, by: string | null): Promise<void> {
      await db('event').where({ id }).update({ held_by: by });
    },
    async setGrace(id: number, minutes: number | null): Promise<void> {
      await db('event').where({ id }).update({ grace_minutes: minutes });
    },
    async setContact(id: number, { email, mobile }: StoredEvent['contact']): Promise<void> {
      await db('event').where({ id }).update({ contact_email: email, contact_mobile: mobile });
    },
    async setStatus(id: number, status: EventStatus): Promise<void> {
      await db('event').where({ id }).update({ status });
    },
    async publish(id: number, at: Date): Promise<void> {
      await db('event').where({ id }).update({ status: 'published', published_at: at });
    },
  };
}

/** All that an event ever said. */
function eventVersions(db: Knex) {
  return {
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
