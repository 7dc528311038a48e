import type { Knex } from 'knex';
import type { Channel } from '@convite/core';
import { cameOfStore } from './came-of';
import { inTransaction } from './retry-locked';
import { moving } from './waiting';

/** Messages to single people: what became of them, now and afterwards. */
export function deliveryStore(db: Knex) {
  return {
    /** Is anything on its way at this moment? */
    async hasDue(nowMs: number): Promise<boolean> {
      const row: unknown = await moving(db, nowMs).first('f.id');
      return row !== undefined;
    },
    /** When a delivery that was put off is tried next; null when none is. */
    async nextRetryMs(): Promise<number | null> {
      const [rows = []]: { at: Date | null }[][] = await db.raw(
        `select min((select d.next_at from delivery d where d.firing_id = f.id and d.state = 'queued'
                     order by d.next_at limit 1)) as at
         from firing f where f.state = 'sending'`,
      );
      return rows[0]?.at?.getTime() ?? null;
    },
    async find(
      id: number,
    ): Promise<{ firingId: number; subscriberId: number; channel: Channel; state: string } | null> {
      const row: { firing_id: number; subscriber_id: number; channel: Channel; state: string } | undefined = await db(
        'delivery',
      )
        .where({ id })
        .first();
      return row
        ? { firingId: row.firing_id, subscriberId: row.subscriber_id, channel: row.channel, state: row.state }
        : null;
    },
    /** The mail that invited somebody to an event, the first of several; null where none left. */
    async invitationTo(eventId: number, subscriberId: number): Promise<number | null> {
      for (const table of ['delivery', 'delivery_past']) {
        const row: { id: number } | undefined = await db(`${table} as d`)
          .join('firing as f', 'f.id', 'd.firing_id')
          .where({
            'd.subscriber_id': subscriberId,
            'd.channel': 'email',
            'f.event_id': eventId,
            'f.kind': 'invitation',
          })
          .whereIn('d.state', ['sent', 'delivered'])
          .orderBy('d.id')
          .first('d.id');
        if (row) return row.id;
      }
      return null;
    },
    /**
     * What came back later: a bounce, or a gateway's receipt. Keeps the counts of a firing that is over true. Locks the
     * firing, then the delivery, as closing does.
     */
    setAftermath(id: number, state: 'bounced' | 'delivered' | 'failed', answer: string, now: Date): Promise<boolean> {
      // A mail server reports of mails, a text gateway of texts.
      const channel = state === 'bounced' ? 'email' : 'text';
      return inTransaction(db, async (tx) => {
        const row: { firing_id: number } | undefined = await tx('delivery').where({ id, channel }).first('firing_id');
        if (!row) return false;
        await tx('firing').where({ id: row.firing_id }).forUpdate().first('id');
        const from = ['sent', 'sending', 'delivered'].filter((one) => one !== state);
        const before: { state: string } | undefined = await tx('delivery')
          .where({ id })
          .whereIn('state', from)
          .forUpdate()
          .first('state');
        if (!before) return false;
        await tx('delivery')
          .where({ id })
          .update({ state, answer: answer.slice(0, 500) });
        if (answer) await tx('attempt').insert({ delivery_id: id, at: now, kind: state, answer: answer.slice(0, 500) });
        // One that is still in a worker's hands was not counted as sent yet.
        const wasSent = before.state === 'sending' ? 0 : 1;
        const isSent = state === 'delivered' ? 1 : 0;
        await tx('firing')
          .where({ id: row.firing_id })
          .update({
            sent: tx.raw('greatest(sent + ? - ?, 0)', [isSent, wasSent]),
            failed: tx.raw('failed + ?', [1 - isSent]),
            // What was taken first stays accepted in its sender's book, where it has a column of its own.
            counted_sent: tx.raw('counted_sent + ? - ?', [isSent, wasSent]),
            counted_failed: tx.raw('counted_failed + ?', [1 - isSent]),
            // MariaDB reads the counts as they were just set.
            state: tx.raw("if(state in ('done', 'failed'), if(failed > 0 and sent = 0, 'failed', 'done'), state)"),
          });
        if (state !== 'delivered') await cameOfStore(tx).noteOfFiring(row.firing_id, 'bounced', now);
        return true;
      });
    },
  };
}
