import type { Knex } from 'knex';

const hourMs = 3_600_000;
const mostADay = 5;

/** Mail that somebody asked for by a message or a form: whoever asks may not be whom it goes to. */
export function askedStore(db: Knex) {
  return {
    /**
     * May this address be written to, because somebody asked? At most once an hour for an event, and five times a day. A
     * yes is written down before it is given, so that of many at once only the first ones get it.
     */
    async mayWrite(address: string, eventId: number, now: Date): Promise<boolean> {
      const [id] = await db('asked_mail').insert({ address: address.toLowerCase(), event_id: eventId, at: now });
      const rows: { event_id: number; at: Date }[] = await db('asked_mail')
        .where({ address: address.toLowerCase() })
        .where('at', '>', new Date(now.getTime() - 24 * hourMs))
        .where('id', '<', Number(id))
        .orderBy('at', 'desc')
        .limit(mostADay)
        .select('event_id', 'at');
      const isTooSoon = rows.some((row) => row.event_id === eventId && row.at.getTime() > now.getTime() - hourMs);
      if (!isTooSoon && rows.length < mostADay) return true;
      await db('asked_mail').where({ id }).delete();
      return false;
    },
    async forget(now: Date): Promise<void> {
      await db('asked_mail')
        .where('at', '<', new Date(now.getTime() - 48 * hourMs))
        .limit(5000)
        .delete();
    },
  };
}
