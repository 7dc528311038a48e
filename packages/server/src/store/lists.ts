import type { Knex } from 'knex';
import { listGrowthStore } from './list-growth';

export interface StoredList {
  readonly id: number;
  readonly name: string;
  readonly count: number;
  /** Put away: offered for nothing new, and still there where it is used. */
  readonly isArchived: boolean;
}

export interface ListRow {
  id: number;
  name: string;
  size: number;
  description: string;
  archived_at: Date | null;
}
export const listOf = ({ id, name, size, archived_at }: ListRow): StoredList => ({
  id,
  name,
  count: size,
  isArchived: archived_at !== null,
});

/** Lists and who is on them. Their sizes are kept with each change of them: a million members are counted by no screen. */
export function listStore(db: Knex) {
  const grow = async (listId: number, by: number): Promise<void> => {
    if (by !== 0)
      await db('list')
        .where({ id: listId })
        .update({ size: db.raw('greatest(0, cast(size as signed) + ?)', [by]) });
  };
  /** Who changes its members is alone with it: two who add the same people would count them twice. */
  const hold = async (listId: number): Promise<void> => {
    await db('list').where({ id: listId }).forUpdate().first('id');
  };
  return {
    /** All of them, those that are put away among them. */
    async all(): Promise<StoredList[]> {
      const rows: ListRow[] = await db('list').orderBy('name');
      return rows.map(listOf);
    },
    /** Whoever else is changing it waits until this transaction is over. */
    async findForUpdate(id: number): Promise<(StoredList & { description: string }) | null> {
      const row: ListRow | undefined = await db('list').where({ id }).forUpdate().first();
      return row ? { ...listOf(row), description: row.description } : null;
    },
    async find(id: number): Promise<(StoredList & { description: string }) | null> {
      const row: ListRow | undefined = await db('list').where({ id }).first();
      return row ? { ...listOf(row), description: row.description } : null;
    },
    /** @throws a duplicate-key error (see isDuplicate) when another list has that name */
    async change(
      id: number,
      { name, description, archivedAt }: { name: string; description: string; archivedAt: Date | null },
    ): Promise<void> {
      await db('list').where({ id }).update({ name, description, archived_at: archivedAt });
    },
    /** What asks for it, or leaves it out: cues that may still fire, and digests. */
    async usedBy(id: number, most: number): Promise<{ cueIds: number[]; digestIds: number[] }> {
      const cueIds: number[] = await db('cue_list as l')
        .join('cue as c', 'c.id', 'l.cue_id')
        .where('l.list_id', id)
        .where('c.is_retired', false)
        .orderBy('c.id', 'desc')
        .limit(most)
        .pluck('c.id');
      const digestIds: number[] = await db('digest')
        .whereRaw(
          `json_contains(json_extract(fields, '$.whom.lists'), ?) or json_contains(json_extract(fields, '$.whom.exceptLists'), ?)`,
          [id, id],
        )
        .pluck('id');
      return { cueIds, digestIds };
    },
    async sizeOf(id: number): Promise<number> {
      const row: { size: number } | undefined = await db('list').where({ id }).first('size');
      return row?.size ?? 0;
    },
    /** @throws a duplicate-key error (see isDuplicate) when a list of that name exists */
    async create(name: string): Promise<number> {
      const [id] = await db('list').insert({ name });
      return Number(id);
    },
    /**
     * The lists whose size changed much since they were last named here: audiences that ask for them are to be counted.
     */
    async takeChanged(): Promise<number[]> {
      const ids: number[] = await db('list')
        .whereRaw('abs(cast(size as signed) - cast(counted_size as signed)) > counted_size / 50')
        .pluck('id');
      if (ids.length)
        await db('list')
          .whereIn('id', ids)
          .update({ counted_size: db.ref('size') });
      return ids;
    },
    async has(id: number): Promise<boolean> {
      return Boolean(await db('list').where({ id }).first('id'));
    },
    /** The names of the lists that each of some people is on. */
    async namesOf(ids: readonly number[]): Promise<Map<number, string[]>> {
      const rows: { subscriber_id: number; name: string }[] = await db('list_member as m')
        .join('list as l', 'l.id', 'm.list_id')
        .whereIn('m.subscriber_id', [...ids])
        .orderBy('l.name')
        .select('m.subscriber_id', 'l.name');
      const names = new Map<number, string[]>();
      for (const row of rows) names.set(row.subscriber_id, [...(names.get(row.subscriber_id) ?? []), row.name]);
      return names;
    },
    async ofPerson(id: number): Promise<number[]> {
      return db('list_member').where({ subscriber_id: id }).orderBy('list_id').pluck('list_id');
    },
    /** The members of a list, in the order of their numbers, from behind one of them. */
    async membersAfter(listId: number, after: number, limit: number): Promise<number[]> {
      // Left to itself, the database reads the list from its beginning: a walk through all of it would be quadratic.
      return db(db.raw('list_member force index (primary)'))
        .where({ list_id: listId })
        .where('subscriber_id', '>', after)
        .orderBy('subscriber_id')
        .limit(limit)
        .pluck('subscriber_id');
    },
    /** Puts people on a list. To be called in a transaction. @returns those who were not on it */
    async join(listId: number, ids: readonly number[], now: Date): Promise<number[]> {
      await hold(listId);
      const members: number[] = await db('list_member')
        .where({ list_id: listId })
        .whereIn('subscriber_id', [...ids])
        .pluck('subscriber_id');
      const already = new Set(members);
      const joining = ids.filter((id) => !already.has(id));
      if (joining.length === 0) return [];
      await db('list_member')
        .insert(joining.map((id) => ({ list_id: listId, subscriber_id: id })))
        .onConflict(['list_id', 'subscriber_id'])
        .ignore();
      await grow(listId, joining.length);
      await listGrowthStore(db).note([listId], now, 'came', joining.length);
      return joining;
    },
    /** Takes people off a list. To be called in a transaction. @returns those who were on it */
    async leave(listId: number, ids: readonly number[], now: Date): Promise<number[]> {
      await hold(listId);
      const members = () =>
        db('list_member')
          .where({ list_id: listId })
          .whereIn('subscriber_id', [...ids]);
      const leaving: number[] = await members().pluck('subscriber_id');
      await grow(listId, -(await members().delete()));
      await listGrowthStore(db).note([listId], now, 'went', leaving.length);
      return leaving;
    },
    /** Puts somebody on these lists and off all others. To be called in a transaction. */
    async setOf(id: number, lists: readonly number[], now: Date): Promise<void> {
      const before = await this.ofPerson(id);
      const known: number[] = await db('list')
        .whereIn('id', [...lists])
        .pluck('id');
      for (const listId of before) if (!known.includes(listId)) await this.leave(listId, [id], now);
      for (const listId of known) if (!before.includes(listId)) await this.join(listId, [id], now);
    },
  };
}
