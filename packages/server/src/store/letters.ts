import type { Knex } from 'knex';
import type { Channel } from '@convite/core';

/** What a person wrote in words, to one of our addresses or by text. */
export interface Letter {
  readonly id: number;
  readonly channel: Channel;
  readonly eventId: number | null;
  readonly subscriberId: number | null;
  readonly at: Date;
  readonly from: string;
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly isOpen: boolean;
}

interface Row {
  id: number;
  channel: Channel;
  event_id: number | null;
  subscriber_id: number | null;
  received_at: Date;
  from_address: string;
  to_address: string;
  subject: string;
  text: string;
  is_open: number;
}

export function letterStore(db: Knex) {
  return {
    /** @property isProved that it is of whom it says */
    async add(letter: Omit<Letter, 'id' | 'isOpen'> & { readonly isProved: boolean }): Promise<void> {
      await db('letter').insert({
        channel: letter.channel,
        event_id: letter.eventId,
        subscriber_id: letter.subscriberId,
        received_at: letter.at,
        from_address: letter.from.slice(0, 254),
        to_address: letter.to.slice(0, 254),
        subject: letter.subject.slice(0, 300),
        text: letter.text.slice(0, 20_000),
        is_proved: letter.isProved,
      });
    },
    /** The newest of an event, or of none in particular, open ones among them. */
    async list(of: { readonly eventId: number } | 'open', limit: number): Promise<Letter[]> {
      const rows: Row[] = await db('letter')
        .modify((query) => void (of === 'open' ? query.where('is_open', true) : query.where('event_id', of.eventId)))
        .orderBy('id', 'desc')
        .limit(limit);
      return rows.map(letterOf);
    },
    async find(id: number): Promise<Letter | null> {
      const row: Row | undefined = await db('letter').where({ id }).first();
      return row ? letterOf(row) : null;
    },
    /** Open letters by event; looks no further than `most`. */
    async countOpen(most: number): Promise<{ eventId: number | null; count: number }[]> {
      const rows: { event_id: number | null }[] = await db('letter')
        .where('is_open', true)
        .orderBy('id', 'desc')
        .limit(most)
        .select('event_id');
      const counts = new Map<number | null, number>();
      for (const { event_id } of rows) counts.set(event_id, (counts.get(event_id) ?? 0) + 1);
      return [...counts].map(([eventId, count]) => ({ eventId, count }));
    },
    /** How many came since then, from one address or from all; counts no further than `most`. */
    async countSince(
      since: Date,
      most: number,
      { isProved, from }: { readonly isProved?: boolean; readonly from?: string } = {},
    ): Promise<number> {
      const rows: unknown[] = await db('letter')
        .where('received_at', '>=', since)
        .modify((query) => {
          if (isProved !== undefined) void query.where('is_proved', isProved);
          if (from !== undefined) void query.where('from_address', from);
        })
        .limit(most)
        .select('id');
      return rows.length;
    },
    /** Read, or not yet. */
    async setOpen(id: number, isOpen: boolean): Promise<boolean> {
      return (await db('letter').where({ id }).update({ is_open: isOpen })) > 0;
    },
    /** The event a guest most likely writes about: of theirs the one that begins next, else the last that did. */
    async eventInQuestion(subscriberId: number, now: Date): Promise<number | null> {
      const theirs = () =>
        db('invitee as i').join('event as e', 'e.id', 'i.event_id').where('i.subscriber_id', subscriberId);
      const next: { id: number } | undefined = await theirs()
        .where((or) => or.whereNull('e.last_at').orWhere('e.last_at', '>=', now))
        .orderByRaw('greatest(e.starts_at, ?)', [now])
        .first('e.id');
      const last: { id: number } | undefined = next ?? (await theirs().orderBy('e.last_at', 'desc').first('e.id'));
      return last?.id ?? null;
    },
  };
}

const letterOf = (row: Row): Letter => ({
  id: row.id,
  channel: row.channel,
  eventId: row.event_id,
  subscriberId: row.subscriber_id,
  at: row.received_at,
  from: row.from_address,
  to: row.to_address,
  subject: row.subject,
  text: row.text,
  isOpen: Boolean(row.is_open),
});
