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
     * Takes some people of the first firing that has something to do. Locks that firing, so that what stops it waits, and two workers
     * take two firings. To be called in a transaction, at the end of which they are done with. @returns null when nothing is to be done
     */
    async takeNext(now: Date, most: number): Promise<DueActs | null> {
      const queued = (firing: Knex.Raw | number) =>
        db('delivery as d').where('d.firing_id', firing).where('d.state', 'queued').where('d.next_at', '<=', now);
      const firing: { id: number } | undefined = await db('firing as f')
        .where({ 'f.state': 'sending', 'f.channel': 'act' })
        .whereExists(queued(db.raw('f.id')).select(db.raw('1')))
        .orderBy(['f.priority', 'f.id'])
        .forUpdate()
        .skipLocked()
        .first('f.id');
      if (!firing) return null;
      const rows: { id: number; subscriber_id: number }[] = await queued(firing.id)
        // In the order of their index, so that no chunk reads those behind it.
        .orderBy(['d.next_at', 'd.id'])
        .limit(most)
        .forUpdate()
        .select('d.id', 'd.subscriber_id');
      return {
        firingId: firing.id,
        deliveryIds: rows.map(({ id }) => id),
        personIds: rows.map((row) => row.subscriber_id),
      };
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
