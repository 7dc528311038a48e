import { mailboxKey } from '@convite/core';
import type { Knex } from 'knex';

const hourMs = 3_600_000;

const kinds = ['', 'registration'] as const;

/** How often mail may go to an address because somebody asked. */
export interface AskedLimit {
  /** What is counted; each kind by itself. */
  readonly kind: (typeof kinds)[number];
  /** For one event, at the most once in so many milliseconds. */
  readonly everyMs: number;
  readonly mostADay: number;
}

const common: AskedLimit = { kind: '', everyMs: hourMs, mostADay: 5 };

const keyOf = (address: string, kind: AskedLimit['kind']): string =>
  `${kind}${kind && ' '}${mailboxKey(address)}`.slice(0, 254);

/** Under which keys an address is counted. */
export const askedKeysOf = (address: string): string[] => kinds.map((kind) => keyOf(address, kind));

/** Mail that somebody asked for by a message or a form: whoever asks may not be whom it goes to. */
export function askedStore(db: Knex) {
  return {
    /**
     * May this address be written to, because somebody asked? At most once an hour for an event, and five times a day, where
     * no other limit is named. Sub-addresses of a mailbox count together. A yes is written down before it is given, so that of
     * many at once only the first ones get it.
     */
    async mayWrite(address: string, eventId: number, now: Date, limit = common): Promise<boolean> {
      const key = keyOf(address, limit.kind);
      const [id] = await db('asked_mail').insert({ address: key, event_id: eventId, at: now });
      const rows: { event_id: number; at: Date }[] = await db('asked_mail')
        .where({ address: key })
        .where('at', '>', new Date(now.getTime() - 24 * hourMs))
        .where('id', '<', Number(id))
        .orderBy('at', 'desc')
        .limit(limit.mostADay)
        .select('event_id', 'at');
      const isTooSoon = rows.some(
        (row) => row.event_id === eventId && row.at.getTime() > now.getTime() - limit.everyMs,
      );
      if (!isTooSoon && rows.length < limit.mostADay) return true;
      await db('asked_mail').where({ id }).delete();
      return false;
    },
    /** When such a mail last went to an address, within a day; null for never. @param eventId null for any */
    async lastAt(address: string, eventId: number | null, now: Date, limit: AskedLimit): Promise<Date | null> {
      const row: { at: Date } | undefined = await db('asked_mail')
        .where({ address: keyOf(address, limit.kind), ...(eventId !== null && { event_id: eventId }) })
        .where('at', '>', new Date(now.getTime() - 24 * hourMs))
        .orderBy('at', 'desc')
        .first('at');
      return row?.at ?? null;
    },
    /** The mail could not be sent: it does not count. */
    async takeBack(address: string, eventId: number, limit = common): Promise<void> {
      await db('asked_mail')
        .where({ address: keyOf(address, limit.kind), event_id: eventId })
        .orderBy('id', 'desc')
        .limit(1)
        .delete();
    },
    async forget(now: Date): Promise<void> {
      await db('asked_mail')
        .where('at', '<', new Date(now.getTime() - 48 * hourMs))
        .limit(5000)
        .delete();
    },
  };
}
