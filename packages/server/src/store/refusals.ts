import type { Knex } from 'knex';
import { listGrowthStore } from './list-growth';
import { listStore } from './lists';
import { tellOthers } from './webhooks';

/** What other mail servers said no to, and the addresses that are not written to for it. */
export function refusalStore(db: Knex) {
  return {
    async markBounced(id: number, text: string, now: Date): Promise<void> {
      await db('subscriber')
        .where({ id })
        .update({ bounced_at: now, bounce_text: text.slice(0, 500) });
      await listGrowthStore(db).note(await listStore(db).ofPerson(id), now, 'bounced', 1);
      await tellOthers(db, [id], { kind: 'bounce', channel: 'email', detail: text }, now);
    },
    /** A refusal that suppresses nobody by itself. */
    async note(id: number, about: 'mailbox' | 'policy' | 'report', text: string, now: Date): Promise<void> {
      await db('refusal').insert({ subscriber_id: id, about, at: now, text: text.slice(0, 500) });
    },
    /** The same of a mailbox, once a day: several refusals within minutes say no more than one. @returns whether it is the first of the day (UTC) */
    async noteOfMailbox(id: number, text: string, now: Date): Promise<boolean> {
      const day = new Date(Math.floor(now.getTime() / 86_400_000) * 86_400_000);
      const known = await db('refusal')
        .where({ subscriber_id: id, about: 'mailbox' })
        .where('at', '>=', day)
        .first('id');
      if (!known) await this.note(id, 'mailbox', text, now);
      return !known;
    },
    /** On how many days a mailbox took nothing since then; counts no further than `most`. */
    async countOfMailbox(id: number, since: Date, most: number): Promise<number> {
      const rows: unknown[] = await db('refusal')
        .where({ subscriber_id: id, about: 'mailbox' })
        .where('at', '>=', since)
        .limit(most)
        .select('id');
      return rows.length;
    },
    async countOfPolicy(since: Date, most: number): Promise<number> {
      const rows: unknown[] = await db('refusal')
        .where({ about: 'policy' })
        .where('at', '>=', since)
        .limit(most)
        .select('id');
      return rows.length;
    },
    /** Of how many people somebody reported since then that we are refused as the sender; reads no more than `most` reports. */
    async countReported(since: Date, most: number): Promise<number> {
      const ids: number[] = await db('refusal')
        .where({ about: 'report' })
        .where('at', '>=', since)
        .limit(most)
        .pluck('subscriber_id');
      return new Set(ids).size;
    },
    /** Begins to count anew, when a person lets the sending go on. */
    async forgetPolicy(): Promise<void> {
      await db('refusal').where({ about: 'policy' }).delete();
    },
    /** Counts no further than `most`. */
    async countBouncedSince(since: Date, most: number): Promise<number> {
      const rows: unknown[] = await db('subscriber').where('bounced_at', '>=', since).limit(most).select('id');
      return rows.length;
    },
  };
}
