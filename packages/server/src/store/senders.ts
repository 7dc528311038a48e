import { pace, type SenderFields } from '@convite/contract';
import { noPace, paceUnits, paceOf, type Pace } from '@convite/core';
import type { Knex } from 'knex';
import { senderOfFiringSql } from './came-of';
import { readJson } from './database';

/** Somebody as whom the house writes, beside itself. */
export interface StoredSender extends SenderFields {
  readonly id: number;
  readonly provenAt: Date | null;
  readonly textProvenAt: Date | null;
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
  readonly hides_address: number;
  readonly pace: unknown;
  readonly proven_at: Date | null;
  readonly text_proven_at: Date | null;
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
    /** Of some firings those whose sender has a pace of its own, and truly writes. */
    async pacesOf(firings: readonly number[]): Promise<Map<number, PaceOfSender>> {
      if (firings.length === 0) return new Map();
      const rows: { firing_id: number; id: number; pace: unknown }[] = await db
        .from(
          db('firing as f')
            .whereIn('f.id', [...firings])
            .select({ firing_id: 'f.id' }, db.raw(`${senderOfFiringSql} as sender_id`))
            .as('w'),
        )
        .join('sender as s', 's.id', 'w.sender_id')
        .where('s.is_paused', false)
        .whereNotNull('s.proven_at')
        .select('w.firing_id', 's.id', 's.pace');
      return new Map(
        rows
          .map(({ firing_id, id, pace: kept }) => [firing_id, { senderId: id, pace: paceFrom(kept) }] as const)
          .filter(([, one]) => paceUnits.some((unit) => paceOf(one.pace, unit) !== null)),
      );
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
      await db('sender')
        .where({ id })
        .whereNot({ text_sender: fields.textSender })
        .update({ text_proven_at: null, text_code: '' });
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
    /** A code is on its way to the sender's number. @param sealed the code, as only we can read it */
    async askText(id: number, sealed: string, until: Date): Promise<void> {
      await db('sender').where({ id }).update({ text_code: sealed, text_code_until: until, text_tries: 0 });
    },
    /** Takes one try at the code. @returns it as it was sealed; null where there is none, or no try is left */
    async tryTextCode(id: number, most: number, now: Date): Promise<string | null> {
      const tried = await db('sender')
        .where({ id })
        .whereNot('text_code', '')
        .where('text_code_until', '>', now)
        .where('text_tries', '<', most)
        .update({ text_tries: db.raw('text_tries + 1') });
      if (tried === 0) return null;
      const row: { text_code: string } | undefined = await db('sender').where({ id }).first('text_code');
      return row?.text_code ?? null;
    },
    async proveText(id: number, at: Date): Promise<void> {
      await db('sender').where({ id }).update({ text_proven_at: at, text_code: '' });
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
  hides_address: fields.hidesAddress,
  pace: JSON.stringify(fields.pace),
});

/** A sender's own pace. */
export interface PaceOfSender {
  readonly senderId: number;
  readonly pace: Pace;
}
const paceFrom = (kept: unknown): Pace => pace.catch(noPace).parse(readJson(kept));

const senderOf = (row: SenderDbRow): StoredSender => ({
  id: row.id,
  name: row.name,
  email: row.email,
  replyTo: row.reply_to,
  textSender: row.text_sender,
  signature: row.signature,
  takesNoAnswers: Boolean(row.takes_no_answers),
  copyTo: row.copy_to,
  hidesAddress: Boolean(row.hides_address),
  pace: paceFrom(row.pace),
  provenAt: row.proven_at,
  textProvenAt: row.text_proven_at,
  isPaused: Boolean(row.is_paused),
});
