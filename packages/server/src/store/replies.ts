import type { Knex } from 'knex';

/** So many answers that were set aside are shown of one event. */
const mostShown = 100;

/** The log of answers that came in by mail: each as it came, with whether it was counted, or why not. */
export function replyStore(db: Knex) {
  return {
    async log(reply: {
      eventId: number | null;
      at: Date;
      from: string;
      attendee: string;
      state: string;
      verdict: string;
      reason: string;
      raw: string;
      occurrence?: string;
    }): Promise<void> {
      await db('reply').insert({
        event_id: reply.eventId,
        occurrence: reply.occurrence ?? '',
        received_at: reply.at,
        from_address: reply.from.slice(0, 254),
        attendee: reply.attendee.slice(0, 254),
        state: reply.state.slice(0, 12),
        verdict: reply.verdict,
        reason: reply.reason,
        raw: reply.raw.slice(0, 16_000),
      });
    },
    async findSetAside(
      eventId: number,
      id: number,
    ): Promise<{ attendee: string; state: string; occurrence: string; reason: string } | null> {
      const row: { attendee: string; state: string; occurrence: string; reason: string } | undefined = await db('reply')
        .where({ id, event_id: eventId, verdict: 'set-aside' })
        .first('attendee', 'state', 'occurrence', 'reason');
      return row ?? null;
    },
    async markCounted(id: number): Promise<void> {
      await db('reply').where({ id }).update({ verdict: 'apply', reason: 'counted' });
    },
    async setAside(
      eventId: number,
    ): Promise<{ id: number; at: Date; from: string; attendee: string; state: string; reason: string }[]> {
      const rows: {
        id: number;
        received_at: Date;
        from_address: string;
        attendee: string;
        state: string;
        reason: string;
      }[] = await db('reply')
        .where({ event_id: eventId })
        .whereNot('verdict', 'apply')
        .orderBy('id', 'desc')
        .limit(mostShown);
      return rows.map((row) => ({
        id: row.id,
        at: row.received_at,
        from: row.from_address,
        attendee: row.attendee,
        state: row.state,
        reason: row.reason,
      }));
    },
    async countSetAsideSince(since: Date): Promise<{ eventId: number | null; count: number }[]> {
      const rows: { event_id: number | null; n: number }[] = await db('reply')
        .where('verdict', 'set-aside')
        .where('received_at', '>=', since)
        .groupBy('event_id')
        .select('event_id', db.raw('count(*) as n'));
      return rows.map((row) => ({ eventId: row.event_id, count: Number(row.n) }));
    },
  };
}
