import type { Misuse } from '@convite/contract';
import type { Knex } from 'knex';

interface Row {
  id: number;
  kind: Misuse['kind'];
  subscriber_id: number | null;
  event_id: number | null;
  at: Date;
  what: string;
}

/** All personal links were ended, now and then (a row each time), and what looked as if somebody had used those of others. */
export function linkEndingStore(db: Knex) {
  const open = () => db('misuse').whereNull('reviewed_at');
  return {
    /** The number of the last time, 0 for never; links made before it are good no more. */
    async last(): Promise<number> {
      const row: { newest?: number | null } | undefined = await db('link_ending').max({ newest: 'id' }).first();
      return Number(row?.newest ?? 0);
    },
    async end(at: Date, by: string): Promise<void> {
      await db('link_ending').insert({ at, by_name: by.slice(0, 120) });
    },
    /** What nobody has reviewed yet, the latest first. @param before the last one seen; 0 for the first page */
    async misuses(before: number, most: number): Promise<Misuse[]> {
      const rows: Row[] = await open()
        .modify((query) => void (before && query.where('id', '<', before)))
        .orderBy('id', 'desc')
        .limit(most)
        .select('id', 'kind', 'subscriber_id', 'event_id', 'at', 'what');
      return rows.map(({ subscriber_id: personId, event_id: eventId, at, ...row }) => ({
        ...row,
        personId: personId === null ? null : Number(personId),
        eventId,
        at: at.toISOString(),
      }));
    },
    /** Counts no further than `most`. */
    async countMisuses(most: number): Promise<number> {
      const ids: number[] = await open().limit(most).pluck('id');
      return ids.length;
    },
    /** @returns whether it was open */
    async review(id: number, by: string, at: Date): Promise<boolean> {
      const reviewed = { reviewed_at: at, reviewed_by: by.slice(0, 120) };
      return (await open().where({ id }).update(reviewed)) > 0;
    },
  };
}
