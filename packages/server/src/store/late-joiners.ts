import type { Knex } from 'knex';

/** Looked at so often, whether or not anything is known to have changed. */
const lookAgainMs = 15 * 60_000;

/** Firings that have gone and are open for a while to who comes after their moment. */
export function lateJoiners(db: Knex) {
  return {
    async openFor(id: number, untilMs: number, nowMs: number): Promise<void> {
      if (untilMs <= nowMs) return;
      await db('firing')
        .where({ id })
        .update({ open_until: new Date(untilMs), join_at: new Date(nowMs + lookAgainMs) });
    },
    /** Somebody may have come to those that the query names: they are looked at by then. */
    wakeOpen: (which: Knex.QueryBuilder, at: Date): Promise<number> =>
      which.whereNotNull('join_at').where('join_at', '>', at).update({ join_at: at }),
    /**
     * Takes the next that is to be looked at, and says when it is looked at again. To be called in a transaction, which holds its
     * row. @returns its number, or null
     */
    async takeOpen(nowMs: number): Promise<number | null> {
      const now = new Date(nowMs);
      const row: { id: number; open_until: Date } | undefined = await db('firing')
        .where('join_at', '<=', now)
        .orderBy('join_at')
        .forUpdate()
        .skipLocked()
        .first('id', 'open_until');
      if (!row) return null;
      const nextMs = nowMs + lookAgainMs;
      const isOver = row.open_until.getTime() <= nowMs;
      await db('firing')
        .where({ id: row.id })
        .update({ join_at: isOver ? null : new Date(Math.min(nextMs, row.open_until.getTime())) });
      return isOver ? null : row.id;
    },
    /** So many more get it. */
    async addJoined(id: number, count: number): Promise<void> {
      await db('firing')
        .where({ id })
        .update({ state: 'sending', planned: db.raw('planned + ?', [count]) });
    },
  };
}
