import type { Knex } from 'knex';

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
    async all(): Promise<{ id: number; name: string; count: number }[]> {
      const rows: { id: number; name: string; size: number }[] = await db('list').orderBy('name');
      return rows.map(({ id, name, size }) => ({ id, name, count: size }));
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
    /** Puts people on a list. To be called in a transaction. @returns those who were not on it */
    async join(listId: number, ids: readonly number[]): Promise<number[]> {
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
      return joining;
    },
    /** Takes people off a list. To be called in a transaction. @returns those who were on it */
    async leave(listId: number, ids: readonly number[]): Promise<number[]> {
      await hold(listId);
      const members = () =>
        db('list_member')
          .where({ list_id: listId })
          .whereIn('subscriber_id', [...ids]);
      const leaving: number[] = await members().pluck('subscriber_id');
      await grow(listId, -(await members().delete()));
      return leaving;
    },
    /** Puts somebody on these lists and off all others. To be called in a transaction. */
    async setOf(id: number, lists: readonly number[]): Promise<void> {
      const now = await this.ofPerson(id);
      const known: number[] = await db('list')
        .whereIn('id', [...lists])
        .pluck('id');
      for (const listId of now) if (!known.includes(listId)) await this.leave(listId, [id]);
      for (const listId of known) if (!now.includes(listId)) await this.join(listId, [id]);
    },
  };
}
