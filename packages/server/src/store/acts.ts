import type { Knex } from 'knex';

/** Some people with whom a firing is to do something. */
export interface DueActs {
  readonly firingId: number;
  readonly deliveryIds: readonly number[];
  readonly personIds: readonly number[];
}

/** What is done with people instead of writing to them: deliveries by no channel. */
export function actStore(db: Knex) {
  return {
    /**
     * Takes some people of the first firing that has something to do. Locks that firing, so that what stops it waits, and their rows.
     * To be called in a transaction, at the end of which they are done with. @returns null when nothing is to be done
     */
    async takeNext(now: Date, most: number): Promise<DueActs | null> {
      const first: { firing_id: number } | undefined = await db('delivery')
        .where({ channel: 'act', state: 'queued' })
        .where('next_at', '<=', now)
        .orderBy('next_at')
        .first('firing_id');
      if (!first) return null;
      const firing: { id: number; state: string } | undefined = await db('firing')
        .where({ id: first.firing_id })
        .forUpdate()
        .first('id', 'state');
      const of = () => db('delivery').where({ firing_id: first.firing_id, channel: 'act', state: 'queued' });
      if (firing?.state !== 'sending') {
        await of().update({ state: 'stopped' });
        return { firingId: first.firing_id, deliveryIds: [], personIds: [] };
      }
      const rows: { id: number; subscriber_id: number }[] = await of()
        .orderBy('id')
        .limit(most)
        .forUpdate()
        .select('id', 'subscriber_id');
      return {
        firingId: firing.id,
        deliveryIds: rows.map(({ id }) => id),
        personIds: rows.map((row) => row.subscriber_id),
      };
    },
    /** Of some people those who are still there, and nobody else. */
    async stillThere(ids: readonly number[]): Promise<number[]> {
      return db('subscriber')
        .whereIn('id', [...ids])
        .whereNull('erased_at')
        .whereNull('same_as_id')
        .pluck('id');
    },
    /** Writes down what became of them. */
    async record(
      { firingId, deliveryIds }: DueActs,
      { isDone, answer }: { readonly isDone: boolean; readonly answer: string },
      now: Date,
    ): Promise<void> {
      if (deliveryIds.length === 0) return;
      await db('delivery')
        .whereIn('id', [...deliveryIds])
        .update({ state: isDone ? 'sent' : 'failed', answer: answer.slice(0, 500), ...(isDone && { sent_at: now }) });
      await db('firing')
        .where({ id: firingId })
        .update(
          isDone
            ? { sent: db.raw('sent + ?', [deliveryIds.length]) }
            : { failed: db.raw('failed + ?', [deliveryIds.length]) },
        );
    },
  };
}
