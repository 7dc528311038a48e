import type { Knex } from 'knex';

export type InventedKind = 'person' | 'list' | 'event';

/** How far a new house is, and what in it is invented. */
export function beginningStore(db: Knex) {
  const hasOwn = async (table: 'subscriber' | 'event', kind: InventedKind): Promise<boolean> =>
    Boolean(
      await db(`${table} as t`)
        .leftJoin('invented as v', (on) => on.on('v.id', 't.id').andOnVal('v.kind', kind))
        .whereNull('v.id')
        .first('t.id'),
    );
  return {
    /** Somebody, and some event, that nobody invented. */
    async hasOwn(): Promise<{ people: boolean; events: boolean }> {
      return { people: await hasOwn('subscriber', 'person'), events: await hasOwn('event', 'event') };
    },
    /** The sender's address that was proven last; empty for none. */
    async provenSender(): Promise<string> {
      const row: { proven_sender: string } | undefined = await db('setting').where({ id: 1 }).first('proven_sender');
      return row?.proven_sender ?? '';
    },
    async proveSender(email: string): Promise<void> {
      await db('setting').where({ id: 1 }).update({ proven_sender: email });
    },
    async hasInvented(): Promise<boolean> {
      return Boolean(await db('invented').first('id'));
    },
    async noteInvented(kind: InventedKind, ids: readonly number[]): Promise<void> {
      if (ids.length) await db('invented').insert(ids.map((id) => ({ kind, id })));
    },
    /** Takes all that was invented out again, with what hangs on it. To be called in a transaction. */
    async removeInvented(): Promise<void> {
      const of = (kind: InventedKind) => db('invented').where({ kind }).select('id');
      await db('event').whereIn('id', of('event')).delete();
      const ids: number[] = await db('invented').where({ kind: 'person' }).pluck('id');
      // Who was put on other lists since leaves them, and these know how many are on them.
      const members: { list_id: number; count: number }[] = await db('list_member')
        .whereIn('subscriber_id', ids)
        .groupBy('list_id')
        .select('list_id', db.raw('count(*) as count'));
      for (const { list_id, count } of members)
        await db('list')
          .where({ id: list_id })
          .update({ size: db.raw('greatest(0, cast(size as signed) - ?)', [count]) });
      await db('delivery').whereIn('subscriber_id', ids).delete();
      await db('subscriber').whereIn('id', ids).delete();
      await db('list').whereIn('id', of('list')).delete();
      await db('invented').delete();
    },
  };
}
