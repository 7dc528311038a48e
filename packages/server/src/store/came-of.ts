import type { Knex } from 'knex';
import type { Came, SenderHealth } from '@convite/contract';

/** An answer, or an opt-out, comes of the last message if that is no older. */
const withinMs = 7 * 86_400_000;
const healthDays = 30;

const dayParts = ['accepted', 'refused', 'bounced', 'complaints', 'pauses'] as const;
type DayPart = (typeof dayParts)[number];
type CamePart = 'sent' | 'replies' | 'opt_outs';

/** The house itself, where no other sender wrote. */
export const houseSender = 0;

/**
 * As whom the firing `f` wrote, or is to write: of its event, its digest, or chosen by hand; null for the house. To be asked of
 * one firing, or some.
 */
export const senderOfFiringSql = `coalesce(
  (select e.sender_id from event e where e.id = f.event_id),
  (select json_value(g.fields, '$.senderId') from digest g where g.id = f.digest_id),
  if(f.kind = 'manual', json_value(f.content, '$.senderId'), null))`;

/** What came of senders, day by day, and of kept wordings: sums that are added to as it happens, and read by screens. */
export function cameOfStore(db: Knex) {
  const addDay = (tx: Knex, senderId: number, at: Date, parts: Partial<Record<DayPart, number>>) => {
    const known = dayParts.filter((part) => parts[part]);
    if (known.length === 0) return Promise.resolve();
    const values = known.map((part) => parts[part] ?? 0);
    return tx.raw(
      `insert into sender_day (sender_id, day, ${known.join()}) values (?, ?, ${known.map(() => 'greatest(?, 0)').join()})
       on duplicate key update ${known.map((part) => `${part} = greatest(cast(${part} as signed) + ?, 0)`).join()}`,
      [senderId, at.toISOString().slice(0, 10), ...values, ...values],
    );
  };
  const addWording = (tx: Knex, key: string, part: CamePart, more: number) =>
    tx.raw(
      `insert into wording_came (wording_key, ${part}) values (?, greatest(?, 0))
       on duplicate key update ${part} = greatest(cast(${part} as signed) + ?, 0)`,
      [key, more, more],
    );
  return {
    /**
     * Adds what was sent of a firing since it was added last. To be called in a transaction that holds the firing, once nothing of
     * it is left to send.
     */
    async countClosed(id: number, now: Date): Promise<void> {
      const row: ClosedRow | undefined = await db('firing as f')
        .where('f.id', id)
        .first(
          db.raw(
            'cast(f.sent as signed) - f.counted_sent as sent, cast(f.failed as signed) - f.counted_failed as failed',
          ),
          db.raw(`json_value(f.content, '$.document.from') as wording_key, ${senderOfFiringSql} as sender_id`),
        );
      if (!row || (Number(row.sent) === 0 && Number(row.failed) === 0)) return;
      await addDay(db, await writingSender(db, row.sender_id), now, {
        accepted: Number(row.sent),
        refused: Number(row.failed),
      });
      if (row.wording_key) await addWording(db, row.wording_key, 'sent', Number(row.sent));
      await db('firing')
        .where({ id })
        .update({ counted_sent: db.ref('sent'), counted_failed: db.ref('failed') });
    },
    /** Something became of one message after it was taken, or of a sender itself. */
    async noteOfFiring(firingId: number, part: 'bounced' | 'complaints', at: Date): Promise<void> {
      const row: { sender_id: number | string | null } | undefined = await db('firing as f')
        .where('f.id', firingId)
        .first(db.raw(`${senderOfFiringSql} as sender_id`));
      if (row) await addDay(db, await writingSender(db, row.sender_id), at, { [part]: 1 });
    },
    notePause: (senderId: number, at: Date) => addDay(db, senderId, at, { pauses: 1 }),
    /**
     * Somebody answered, or opted out: that came of the wording that the last message to them was begun from, if that is not
     * long ago. @param eventId of what the answer is about; null for any
     */
    async noteOfPerson(
      subscriberId: number,
      part: 'replies' | 'opt_outs',
      at: Date,
      eventId: number | null = null,
    ): Promise<void> {
      const row: { wording_key: string | null } | undefined = await db('delivery as d')
        .join('firing as f', 'f.id', 'd.firing_id')
        .where('d.subscriber_id', subscriberId)
        .where('d.sent_at', '>=', new Date(at.getTime() - withinMs))
        .modify((query) => void (eventId !== null && query.where('f.event_id', eventId)))
        .orderBy('d.sent_at', 'desc')
        .first(db.raw(`json_value(f.content, '$.document.from') as wording_key`));
      if (row?.wording_key) await addWording(db, row.wording_key, part, 1);
    },
    /** What came of every kept wording of which something went out. */
    async ofWordings(): Promise<Map<string, Came>> {
      const rows: { wording_key: string; sent: number; replies: number; opt_outs: number }[] = await db('wording_came');
      return new Map(
        rows.map(({ wording_key, sent, replies, opt_outs }) => [wording_key, { sent, replies, optOuts: opt_outs }]),
      );
    },
    /** Of every sender the last thirty days; the house is 0. */
    async healthOfSenders(now: Date): Promise<Map<number, SenderHealth>> {
      const since = new Date(now.getTime() - healthDays * 86_400_000).toISOString().slice(0, 10);
      const rows: ({ sender_id: number } & Record<DayPart, number | string>)[] = await db('sender_day')
        .where('day', '>=', since)
        .groupBy('sender_id')
        .select('sender_id', ...dayParts.map((part) => db.raw('sum(??) as ??', [part, part])));
      return new Map(
        rows.map(({ sender_id, ...sums }) => [
          sender_id,
          {
            accepted: Number(sums.accepted),
            refused: Number(sums.refused),
            bounced: Number(sums.bounced),
            complaints: Number(sums.complaints),
            pauses: Number(sums.pauses),
          },
        ]),
      );
    },
  };
}

interface ClosedRow {
  readonly sent: number | string;
  readonly failed: number | string;
  readonly wording_key: string | null;
  readonly sender_id: number | string | null;
}

/** The sender that truly wrote: the house where that one is paused, or was never proven. */
async function writingSender(db: Knex, id: number | string | null): Promise<number> {
  if (id === null) return houseSender;
  const row: unknown = await db('sender')
    .where({ id: Number(id), is_paused: false })
    .whereNotNull('proven_at')
    .first('id');
  return row ? Number(id) : houseSender;
}
