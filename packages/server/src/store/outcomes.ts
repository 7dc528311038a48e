import type { Knex } from 'knex';
import type { Channel } from '@convite/core';
import { houseSender } from './came-of';
import { returnPace, returnPaces } from './pace';
import { senderStore } from './senders';

/** What became of one attempt. */
export type Outcome =
  | { readonly id: number; readonly kind: 'sent' }
  | { readonly id: number; readonly kind: 'failed'; readonly answer: string }
  | {
      readonly id: number;
      readonly kind: 'retry';
      readonly answer: string;
      readonly nextMs: number;
      readonly mayHaveLeft: boolean;
    }
  /** Handed back untried; with a moment, behind the others. */
  | { readonly id: number; readonly kind: 'returned'; readonly nextMs: number | null }
  /** Not sent after all, because the firing was stopped. */
  | { readonly id: number; readonly kind: 'stopped' }
  /** Not sent after all: asked again, there is a reason against it. */
  | { readonly id: number; readonly kind: 'skipped'; readonly answer: string };

/** Back to the queue, unless the firing was stopped while the delivery was held. */
export const requeuedSql =
  "if((select f.state from firing f where f.id = delivery.firing_id) = 'stopped', 'stopped', 'queued')";
/** What became of deliveries that workers had in their hands. */
export function outcomeStore(db: Knex) {
  const requeued = db.raw(requeuedSql);
  return {
    /**
     * Writes down what became of deliveries, each only while this lease still holds it, and keeps the counts of their firings.
     * Locks the firings, then the deliveries. To be called in a transaction.
     * @param firings those that the deliveries belong to
     * @returns which of them the lease still held
     */
    async record(
      lease: string,
      firings: readonly number[],
      outcomes: readonly Outcome[],
      now: Date,
    ): Promise<ReadonlySet<number>> {
      const ids = outcomes.map(({ id }) => id);
      await db('firing')
        .whereIn('id', [...firings])
        .orderBy('id')
        .forUpdate()
        .select('id');
      const rows: { id: number; firing_id: number; channel: Channel; state: string }[] = await db('delivery')
        .whereIn('id', ids)
        .where({ lease })
        .forUpdate()
        .select('id', 'firing_id', 'channel', 'state');
      const held = new Map(rows.map((row) => [row.id, row]));
      const counts = new Map<number, { sent: number; failed: number; skipped: number }>();
      for (const outcome of outcomes) {
        const row = held.get(outcome.id);
        // A bounce or a receipt may be written down before the hand-over is: what came later stands, and was counted.
        if (
          row?.state !== 'sending' ||
          !(outcome.kind === 'sent' || outcome.kind === 'failed' || outcome.kind === 'skipped')
        )
          continue;
        const count = counts.get(row.firing_id) ?? { sent: 0, failed: 0, skipped: 0 };
        count[outcome.kind] += 1;
        counts.set(row.firing_id, count);
      }
      const ours = outcomes.filter(({ id }) => held.has(id));
      const idsOf = (kind: Outcome['kind']): number[] => ours.flatMap((one) => (one.kind === kind ? [one.id] : []));
      const update = async (kind: Outcome['kind'], change: Record<string, unknown>): Promise<void> => {
        if (idsOf(kind).length)
          await db('delivery')
            .whereIn('id', idsOf(kind))
            .update({ ...change, lease: null });
      };
      await update('sent', {
        state: db.raw("if(state = 'sending', 'sent', state)"),
        sent_at: now,
        answer: db.raw("if(state = 'sent', '', answer)"),
      });
      await update('stopped', { state: 'stopped' });
      for (const outcome of ours) {
        const answer = 'answer' in outcome ? outcome.answer.slice(0, 500) : '';
        const one = db('delivery').where({ id: outcome.id, state: 'sending' });
        if (outcome.kind === 'failed') await one.update({ state: 'failed', lease: null, answer });
        if (outcome.kind === 'skipped') await one.update({ state: 'skipped', lease: null, answer });
        if (outcome.kind === 'returned')
          await one.update({
            state: requeued,
            lease: null,
            attempts: db.raw('greatest(attempts, 1) - 1'),
            ...(outcome.nextMs !== null && { next_at: new Date(outcome.nextMs) }),
          });
        if (outcome.kind === 'retry')
          await one.update({
            state: requeued,
            lease: null,
            next_at: new Date(outcome.nextMs),
            answer,
            ...(outcome.mayHaveLeft && { may_have_left: true }),
          });
      }
      const unsent = ours.filter(({ kind }) => kind === 'returned' || kind === 'skipped' || kind === 'stopped');
      const back = unsent.flatMap(({ id }) => held.get(id) ?? []);
      const paces = await senderStore(db).pacesOf([...new Set(back.map((row) => row.firing_id))]);
      for (const channel of ['email', 'text'] as const) {
        const ofChannel = back.filter((row) => row.channel === channel).map((row) => row.firing_id);
        await returnPace(db, houseSender, channel, ofChannel.length);
        await returnPaces(db, channel, ofChannel, paces);
      }
      const answered = ours.flatMap((outcome) =>
        outcome.kind === 'failed' || outcome.kind === 'retry'
          ? [{ delivery_id: outcome.id, at: now, kind: outcome.kind, answer: outcome.answer.slice(0, 500) }]
          : [],
      );
      if (answered.length) await db('attempt').insert(answered);
      for (const [id, { sent, failed, skipped }] of counts)
        await db('firing')
          .where({ id })
          .update({
            sent: db.raw('sent + ?', [sent]),
            failed: db.raw('failed + ?', [failed]),
            skipped: db.raw('skipped + ?', [skipped]),
          });
      return new Set(held.keys());
    },
  };
}
