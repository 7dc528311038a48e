import type { Knex } from 'knex';
import * as z from 'zod';
import { readJson } from './database';
import { listStore } from './lists';
import { saidStore } from './said';
import type { NewSubscriber } from './newcomers';
import { inTransaction } from './retry-locked';

/** Taking people into a list, as far as it is. */
export interface ListImport {
  readonly id: number;
  readonly listId: number;
  readonly by: string;
  readonly state: 'running' | 'done' | 'undone' | 'stopped';
  readonly startedAt: Date;
  readonly total: number;
  /** How many of them have been looked at. */
  readonly position: number;
  readonly added: number;
  readonly already: number;
}

interface Row {
  id: number;
  list_id: number;
  by_name: string;
  state: ListImport['state'];
  started_at: Date;
  total: number;
  position: number;
  added: number;
  already: number;
}

const people = z.array(
  z.object({
    email: z.string().nullable(),
    name: z.string(),
    mobile: z.string(),
    zone: z.string(),
    language: z.string().optional(),
    textConsent: z.boolean().nullable(),
    fields: z.record(z.string(), z.string()).optional(),
  }),
);

/** A process that takes people in says so at least this often, or another goes on. */
const aliveSeconds = 20;

export function listImportStore(db: Knex) {
  const columns = ['id', 'list_id', 'by_name', 'state', 'started_at', 'total', 'position', 'added', 'already'] as const;
  return {
    async begin(listId: number, by: string, all: readonly NewSubscriber[], now: Date): Promise<number> {
      const [id] = await db('list_import').insert({
        list_id: listId,
        by_name: by,
        state: 'running',
        started_at: now,
        alive_until: db.raw(`now(3) + interval ${aliveSeconds} second`),
        total: all.length,
        people: JSON.stringify(all),
      });
      return Number(id);
    },
    async find(id: number): Promise<ListImport | null> {
      const row: Row | undefined = await db('list_import')
        .where({ id })
        .first(...columns);
      return row ? importOf(row) : null;
    },
    /** The latest into any list. */
    async latest(limit: number): Promise<(ListImport & { listName: string })[]> {
      const rows: Row[] = await db('list_import')
        .orderBy('id', 'desc')
        .limit(limit)
        .select(...columns);
      const lists: { id: number; name: string }[] = await db('list')
        .whereIn(
          'id',
          rows.map((row) => row.list_id),
        )
        .select('id', 'name');
      const names = new Map(lists.map(({ id, name }) => [id, name]));
      return rows.map((row) => ({ ...importOf(row), listName: names.get(row.list_id) ?? '' }));
    },
    /** Those that somebody stopped halfway and has neither gone on with nor undone. */
    async stopped(): Promise<{ listName: string }[]> {
      const rows: { name: string }[] = await db('list_import as p')
        .join('list as l', 'l.id', 'p.list_id')
        .where('p.state', 'stopped')
        .limit(20)
        .select('l.name');
      return rows.map(({ name }) => ({ listName: name }));
    },
    /** Takes over what nobody works on any more. @returns its number, or null */
    takeAbandoned(): Promise<number | null> {
      return inTransaction(db, async (tx) => {
        const [id]: number[] = await tx('list_import')
          .where('state', 'running')
          .whereRaw('alive_until < now(3)')
          .limit(1)
          .forUpdate()
          .skipLocked()
          .pluck('id');
        if (id === undefined) return null;
        await tx('list_import')
          .where({ id })
          .update({ alive_until: tx.raw(`now(3) + interval ${aliveSeconds} second`) });
        return id;
      });
    },
    /** Holds the import, and reads the next `size` people of it, less who was erased meanwhile; null when it does not run any more. */
    async nextChunk(
      id: number,
      size: number,
    ): Promise<{ people: NewSubscriber[]; size: number; position: number; listId: number } | null> {
      const row: (Row & { people: unknown }) | undefined = await db('list_import')
        .where({ id, state: 'running' })
        .forUpdate()
        .first(...columns, 'people');
      if (!row) return null;
      const all = people.parse(readJson(row.people ?? '[]'));
      const next = all.slice(row.position, row.position + size);
      return {
        people: next.filter(({ email, mobile }) => email ?? mobile),
        size: next.length,
        position: row.position,
        listId: row.list_id,
      };
    },
    async advance(id: number, done: { people: number; added: number; already: number }): Promise<void> {
      await db('list_import')
        .where({ id })
        .update({
          position: db.raw('position + ?', [done.people]),
          added: db.raw('added + ?', [done.added]),
          already: db.raw('already + ?', [done.already]),
          alive_until: db.raw(`now(3) + interval ${aliveSeconds} second`),
        });
    },
    async setState(id: number, from: readonly ListImport['state'][], to: ListImport['state']): Promise<boolean> {
      const changed = await db('list_import')
        .where({ id })
        .whereIn('state', [...from])
        .update({
          state: to,
          // What was taken in is in the list; the source is kept only while it may still be gone on with.
          ...((to === 'done' || to === 'undone') && { people: null }),
          ...(to === 'running' && { alive_until: db.raw(`now(3) + interval ${aliveSeconds} second`) }),
        });
      return changed > 0;
    },
    /** Remembers who joined the list by this import, and who became a subscriber by it. */
    async remember(id: number, joined: readonly { subscriberId: number; isNewPerson: boolean }[]): Promise<void> {
      if (joined.length)
        await db('list_import_member')
          .insert(
            joined.map(({ subscriberId, isNewPerson }) => ({
              import_id: id,
              subscriber_id: subscriberId,
              is_new_person: isNewPerson,
            })),
          )
          .onConflict(['import_id', 'subscriber_id'])
          .ignore();
    },
    /**
     * Takes back some of what an import did: memberships, and people who are subscribers by it alone. @returns how many
     * memberships; 0 when all is taken back
     */
    undoSome(id: number, most: number, now: Date): Promise<number> {
      return inTransaction(db, async (tx) => {
        const row: { list_id: number } | undefined = await tx('list_import').where({ id }).forUpdate().first('list_id');
        const rows: { subscriber_id: number; is_new_person: number }[] = await tx('list_import_member')
          .where({ import_id: id })
          .limit(most)
          .select('subscriber_id', 'is_new_person');
        if (!row || rows.length === 0) return 0;
        const ids = rows.map((one) => one.subscriber_id);
        const fresh = rows.filter((one) => one.is_new_person).map((one) => one.subscriber_id);
        await listStore(tx).leave(row.list_id, ids, now);
        const alone: number[] = await tx('subscriber as s')
          .whereIn('s.id', fresh)
          .whereNotExists(tx('list_member as m').whereRaw('m.subscriber_id = s.id'))
          .whereNotExists(tx('invitee as i').whereRaw('i.subscriber_id = s.id'))
          .whereNotExists(tx('delivery as d').whereRaw('d.subscriber_id = s.id'))
          // An opt-out outlives the import that brought the address.
          .whereNull('s.opted_out_at')
          .pluck('s.id');
        await saidStore(tx).forget(alone);
        await tx('subscriber').whereIn('id', alone).delete();
        await tx('list_import_member').where({ import_id: id }).whereIn('subscriber_id', ids).delete();
        return rows.length;
      });
    },
  };
}

const importOf = (row: Row): ListImport => ({
  id: row.id,
  listId: row.list_id,
  by: row.by_name,
  state: row.state,
  startedAt: row.started_at,
  total: row.total,
  position: row.position,
  added: row.added,
  already: row.already,
});
