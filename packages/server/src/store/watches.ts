import type { Knex } from 'knex';
import { watchFields, type WatchFields } from '@convite/contract';
import { readJson } from './database';
import { inTransaction } from './retry-locked';
import { readEach, readOne } from './per-row';

/** An event of ours that came from elsewhere. */
export interface KnownEntry {
  readonly eventId: number;
  /** How it was there. */
  readonly digest: string;
  /** People in its description were looked for, as the watch asks for them now. */
  readonly peopleTaken: boolean;
}

export interface StoredWatch extends WatchFields {
  readonly id: number;
  readonly etag: string;
  readonly lastModified: string;
  readonly nextAt: Date;
  readonly lookedAt: Date | null;
  readonly outcome: string;
  readonly isFailing: boolean;
}

interface Row {
  id: number;
  fields: unknown;
  etag: string;
  last_modified: string;
  next_at: Date;
  looked_at: Date | null;
  outcome: string;
  is_failing: number;
}

/** Calendars elsewhere that are looked at again and again, and which event of ours came from which of theirs. */
export function watchStore(db: Knex) {
  return {
    async all(): Promise<StoredWatch[]> {
      const rows: Row[] = await db('watch').orderBy('id');
      return readEach(db, 'watch', rows, watchOf);
    },
    async find(id: number): Promise<StoredWatch | null> {
      const row: Row | undefined = await db('watch').where({ id }).first();
      return row ? readOne(db, 'watch', row, watchOf) : null;
    },
    async create(fields: WatchFields, now: Date): Promise<number> {
      const [id] = await db('watch').insert({ fields: JSON.stringify(fields), next_at: now });
      return Number(id);
    },
    /** What was known of the address is forgotten, so that the next look reads it whole, and its people again: they may be taken now, or have agreed. */
    async update(id: number, fields: WatchFields, now: Date): Promise<void> {
      await db('watch')
        .where({ id })
        .update({ fields: JSON.stringify(fields), next_at: now, etag: '', last_modified: '' });
      await db('imported').where({ watch_id: id }).update({ people_taken: false });
    },
    async remove(id: number): Promise<void> {
      await db('watch').where({ id }).delete();
    },
    /** Takes the first watch that is due, and puts its next look off, so that no other worker looks too. */
    async takeDue(now: Date): Promise<StoredWatch | null> {
      return inTransaction(db, async (tx) => {
        const rows: Row[] = await tx('watch')
          .where('next_at', '<=', now)
          .orderBy('next_at')
          .limit(5)
          .forUpdate()
          .skipLocked();
        const readable = readEach(db, 'watch', rows, watchOf);
        const due = readable.find(({ isOn }) => isOn);
        for (const { id } of rows) {
          // One that cannot be read is looked at again in an hour; the others go on.
          const everyMinutes = readable.find((watch) => watch.id === id)?.everyMinutes ?? 60;
          await tx('watch')
            .where({ id })
            .update({ next_at: new Date(now.getTime() + (due?.id === id || !due ? everyMinutes * 60_000 : 0)) });
        }
        return due ?? null;
      });
    },
    async setOutcome(
      id: number,
      look: { etag: string; lastModified: string; outcome: string; isFailing: boolean },
      now: Date,
    ): Promise<void> {
      await db('watch')
        .where({ id })
        .update({
          etag: look.etag.slice(0, 300),
          last_modified: look.lastModified.slice(0, 100),
          outcome: look.outcome.slice(0, 500),
          is_failing: look.isFailing,
          looked_at: now,
        });
    },

    /** The events of ours that came from there, by their UID there. `watchId` is 0 for files. */
    async known(watchId: number, uids: readonly string[]): Promise<Map<string, KnownEntry>> {
      const known = new Map<string, KnownEntry>();
      for (let from = 0; from < uids.length; from += 1000) {
        const rows: { foreign_uid: string; event_id: number; digest: string; people_taken: number }[] = await db(
          'imported',
        )
          .where({ watch_id: watchId })
          .whereIn(
            'foreign_uid',
            uids.slice(from, from + 1000).map((uid) => uid.slice(0, 255)),
          );
        for (const row of rows)
          known.set(row.foreign_uid, {
            eventId: row.event_id,
            digest: row.digest,
            peopleTaken: Boolean(row.people_taken),
          });
      }
      return known;
    },
    /** Notes which event of ours came from which of theirs, and how it stood there. */
    async remember(
      watchId: number,
      taken: readonly { readonly uid: string; readonly eventId: number; readonly digest: string }[],
    ): Promise<void> {
      for (let from = 0; from < taken.length; from += 500)
        await db('imported')
          .insert(
            taken.slice(from, from + 500).map(({ uid, eventId, digest }) => ({
              watch_id: watchId,
              foreign_uid: uid.slice(0, 255),
              event_id: eventId,
              digest,
              people_taken: true,
            })),
          )
          .onConflict(['watch_id', 'foreign_uid'])
          .merge(['event_id', 'digest', 'people_taken']);
    },
    /** UIDs there of published events that are still to come. */
    async coming(watchId: number, now: Date): Promise<string[]> {
      return db('imported as i')
        .join('event as e', 'e.id', 'i.event_id')
        .where({ 'i.watch_id': watchId, 'e.status': 'published' })
        .where('e.last_at', '>', now)
        .pluck('i.foreign_uid');
    },
  };
}

const watchOf = (row: Row): StoredWatch => ({
  id: row.id,
  ...watchFields.parse(readJson(row.fields)),
  etag: row.etag,
  lastModified: row.last_modified,
  nextAt: row.next_at,
  lookedAt: row.looked_at,
  outcome: row.outcome,
  isFailing: Boolean(row.is_failing),
});
