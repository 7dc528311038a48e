import type { Knex } from 'knex';
import { affectedRows } from './database';
import { inTransaction } from './retry-locked';

/** So many deliveries move in one transaction. */
const batch = 5000;

/** Deliveries of firings that are long over: kept by month, and dropped by the month. */
export function pastStore(db: Knex) {
  return {
    /**
     * Moves some deliveries of the firing that has been over longest. Done again after a crash, nothing is lost or doubled.
     * @param before firings due before this are past
     * @returns whether there was anything to do
     */
    async moveSome(before: Date): Promise<boolean> {
      const firing: { id: number; due_at: Date } | undefined = await db('firing')
        .where('is_past', false)
        .where('due_at', '<', before)
        .where('is_expanded', true)
        .whereIn('state', ['done', 'failed', 'stopped'])
        .orderBy('due_at')
        .first('id', 'due_at');
      if (!firing) return false;
      await ensureMonth(db, firing.due_at);
      const moved = await inTransaction(db, async (tx) => {
        await tx('firing').where({ id: firing.id }).forUpdate().first('id');
        const ids: number[] = await tx('delivery')
          .where({ firing_id: firing.id })
          .orderBy('id')
          .limit(batch)
          .pluck('id');
        if (ids.length === 0) {
          await tx('firing').where({ id: firing.id }).update({ is_past: true });
          return 0;
        }
        const marks = ids.map(() => '?').join(', ');
        await tx.raw(
          `insert ignore into delivery_past
             (id, firing_id, subscriber_id, channel, state, attempts, answer, sent_at, at, to_all_id, person)
           select d.id, d.firing_id, d.subscriber_id, d.channel, d.state, d.attempts, d.answer, d.sent_at, ?, s.to_all_id, s.person
           from delivery d left join said s on s.delivery_id = d.id where d.id in (${marks})`,
          [firing.due_at, ...ids],
        );
        return affectedRows(await tx.raw(`delete from delivery where id in (${marks})`, ids));
      });
      return moved >= 0;
    },

    /** Drops the months that ended before this, and what was answered then. @returns how many months went */
    async dropBefore(before: Date): Promise<number> {
      const gone = (await monthsOf(db)).filter((month) => month < monthOf(before));
      for (const month of gone) await db.raw(`alter table delivery_past drop partition ??`, [`p_${month}`]);
      await db('attempt').where('at', '<', before).limit(batch).delete();
      await forgetForAll(before);
      return gone.length;
    },
  };

  /** What all shared in messages that are dropped. It was kept as they went out: the oldest stand first. */
  async function forgetForAll(before: Date): Promise<void> {
    const oldest: { id: number; due_at: Date }[] = await db('said_to_all as a')
      .join('firing as f', 'f.id', 'a.firing_id')
      .orderBy('a.id')
      .limit(batch)
      .select('a.id', 'f.due_at');
    const gone = oldest.filter(({ due_at }) => monthOf(due_at) < monthOf(before)).map(({ id }) => id);
    if (gone.length) await db('said_to_all').whereIn('id', gone).delete();
  }
}

const monthOf = (at: Date): string => at.toISOString().slice(0, 7).replace('-', '');

/** The months that have a part of their own, as 202611, in order. */
async function monthsOf(db: Knex): Promise<string[]> {
  const [rows = []]: { name: string }[][] = await db.raw(
    `select partition_name as name from information_schema.partitions
     where table_schema = database() and table_name = 'delivery_past' and partition_name <> 'p_rest' order by name`,
  );
  return rows.map(({ name }) => name.slice('p_'.length));
}

/** Parts come to be in the order of time: one for a month before those there are would have to be cut from the next. */
async function ensureMonth(db: Knex, at: Date): Promise<void> {
  const month = monthOf(at);
  const known = await monthsOf(db);
  if (known.includes(month)) return;
  const next = known.find((one) => one > month);
  const whole = next ? `p_${next}` : 'p_rest';
  const rest = next
    ? `partition p_${next} values less than ('${firstAfter(next)}')`
    : 'partition p_rest values less than (maxvalue)';
  await db.raw(
    `alter table delivery_past reorganize partition ${whole} into
       (partition p_${month} values less than ('${firstAfter(month)}'), ${rest})`,
  );
}

/** The first day after a month. */
function firstAfter(month: string): string {
  const [year, number] = [Number(month.slice(0, 4)), Number(month.slice(4))];
  return new Date(Date.UTC(year, number, 1)).toISOString().slice(0, 10);
}
