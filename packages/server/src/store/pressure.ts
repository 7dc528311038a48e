import type { Knex } from 'knex';

/** How often people were written to, and are to be, by what counts. */
export function pressureStore(db: Knex) {
  return {
    /**
     * When people of some numbers, both included, were sent what counts since then: by person, in order of time. Read from the
     * index of what counts.
     */
    async sentTo(from: number, to: number, since: Date): Promise<Map<number, number[]>> {
      const rows: { subscriber_id: number; sent_at: Date }[] = await db('delivery')
        .whereBetween('subscriber_id', [from, to])
        .where('counts', true)
        .where('sent_at', '>=', since)
        .whereIn('state', ['sent', 'delivered'])
        .orderBy(['subscriber_id', 'sent_at'])
        .select('subscriber_id', 'sent_at');
      const sent = new Map<number, number[]>();
      for (const { subscriber_id: id, sent_at: at } of rows) {
        const times = sent.get(id);
        if (times) times.push(at.getTime());
        else sent.set(id, [at.getTime()]);
      }
      return sent;
    },

    /** What is planned by the kept counts, firing by firing: cues and issues, which alone are planned ahead. Put together by the database it would read each twice. */
    async planned(from: Date, to: Date): Promise<{ atMs: number; value: number }[]> {
      const rows: { due_at: Date; messages: number }[] = await db('firing')
        .whereBetween('due_at', [from, to])
        .whereIn('state', ['set', 'sending'])
        .whereIn('kind', ['cue', 'digest'])
        .select('due_at', db.raw('if(is_expanded, planned, coalesce(gets, 0)) as messages'));
      return rows.map((row) => ({ atMs: row.due_at.getTime(), value: Number(row.messages) }));
    },

    /** Counts of what is to go out so soon are taken anew: how often people are written to has changed. */
    async recount(from: Date, to: Date): Promise<void> {
      await db('firing')
        .whereBetween('due_at', [from, to])
        .whereIn('state', ['draft', 'set'])
        .where('is_expanded', false)
        .update({ count_at: new Date(0) });
    },
  };
}
