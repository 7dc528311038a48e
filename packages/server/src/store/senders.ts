import type { SenderFields } from '@convite/contract';
import type { Knex } from 'knex';

/** Somebody as whom the house writes, beside itself. */
export interface StoredSender extends SenderFields {
  readonly id: number;
  readonly provenAt: Date | null;
  readonly isPaused: boolean;
}

interface SenderDbRow {
  readonly id: number;
  readonly name: string;
  readonly email: string;
  readonly reply_to: string;
  readonly text_sender: string;
  readonly signature: string;
  readonly takes_no_answers: number;
  readonly copy_to: string;
  readonly proven_at: Date | null;
  readonly is_paused: number;
}

/** A house has some dozens of them. */
export function senderStore(db: Knex) {
  return {
    async all(): Promise<(StoredSender & { readonly events: number })[]> {
      const rows: (SenderDbRow & { events: number })[] = await db('sender as s')
        .orderBy('s.name')
        .select('s.*', { events: db('event').whereRaw('sender_id = s.id').count('*') });
      return rows.map((row) => ({ ...senderOf(row), events: Number(row.events) }));
    },
    /** Of each sender what became of its messages since: sums that its firings keep, of its events alone. */
    async lately(since: Date): Promise<Map<number, { readonly sent: number; readonly failed: number }>> {
      const rows: { id: number; sent: number | string; failed: number | string }[] = await db('sender as s')
        .join('event as e', 'e.sender_id', 's.id')
        .join('firing as f', 'f.event_id', 'e.id')
        .where('f.due_at', '>=', since)
        .groupBy('s.id')
        .select('s.id', db.raw('sum(f.sent) as sent'), db.raw('sum(f.failed) as failed'));
      return new Map(rows.map(({ id, sent, failed }) => [id, { sent: Number(sent), failed: Number(failed) }]));
    },
    async count(): Promise<number> {
      return Number((await db('sender').count({ n: '*' }).first())?.['n'] ?? 0);
    },
    async find(id: number): Promise<StoredSender | null> {
      const row: SenderDbRow | undefined = await db('sender').where({ id }).first();
      return row ? senderOf(row) : null;
    },
    /** The same, which nobody else changes until the transaction ends. */
    async findForUpdate(id: number): Promise<StoredSender | null> {
      const row: SenderDbRow | undefined = await db('sender').where({ id }).forUpdate().first();
      return row ? senderOf(row) : null;
    },
    /** @returns its number; null where another has that address */
    async add(fields: SenderFields): Promise<number | null> {
      const [id] = await db('sender').insert(columnsOf(fields)).onConflict().ignore();
      return id ? Number(id) : null;
    },
    /** Another address has to be proven anew. @returns false where another sender has that address */
    async change(id: number, fields: SenderFields): Promise<boolean> {
      const other = await db('sender').where({ email: fields.email }).whereNot({ id }).first('id');
      if (other) return false;
      // Before the address is another: columns are set one after the other.
      await db('sender').where({ id }).whereNot({ email: fields.email }).update({ proven_at: null });
      await db('sender').where({ id }).update(columnsOf(fields));
      return true;
    },
    async pause(id: number, isPaused: boolean): Promise<void> {
      await db('sender').where({ id }).update({ is_paused: isPaused });
    },
    /** Events that wrote as this one write as the house. */
    async remove(id: number): Promise<void> {
      await db('event').where({ sender_id: id }).update({ sender_id: null });
      await db('sender').where({ id }).delete();
    },
    /** @param email lower case @returns whether there is one of that address */
    async prove(email: string, at: Date): Promise<boolean> {
      return (await db('sender').whereRaw('lower(email) = ?', [email]).update({ proven_at: at })) > 0;
    },
    async ofEvent(eventId: number, senderId: number | null): Promise<void> {
      await db('event').where({ id: eventId }).update({ sender_id: senderId });
    },
    /** Takes it on oneself to copy the first message of a firing. @returns false where somebody did */
    async takeCopy(firingId: number, at: Date): Promise<boolean> {
      return (await db('firing').where({ id: firingId }).whereNull('copied_at').update({ copied_at: at })) > 0;
    },
  };
}

const columnsOf = (fields: SenderFields) => ({
  name: fields.name,
  email: fields.email,
  reply_to: fields.replyTo,
  text_sender: fields.textSender,
  signature: fields.signature,
  takes_no_answers: fields.takesNoAnswers,
  copy_to: fields.copyTo,
});

const senderOf = (row: SenderDbRow): StoredSender => ({
  id: row.id,
  name: row.name,
  email: row.email,
  replyTo: row.reply_to,
  textSender: row.text_sender,
  signature: row.signature,
  takesNoAnswers: Boolean(row.takes_no_answers),
  copyTo: row.copy_to,
  provenAt: row.proven_at,
  isPaused: Boolean(row.is_paused),
});
