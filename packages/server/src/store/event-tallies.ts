import type { Knex } from 'knex';
import * as z from 'zod';
import { noReplies } from './guests';
import { readJson } from './database';

const count = z.number().int();
const replies = z.object({ accepted: count, declined: count, tentative: count, 'needs-action': count });
const byChannel = z.object({ email: count, text: count });
/** What screens show of an event's guests, as counted last. */
const tally = z.object({
  replies,
  /** By the keys of those dates that anybody answered for; any other has the answers for the whole. */
  byDate: z.record(z.string(), replies).default({}),
  /** How many hold which version, newest first; null for none. */
  holders: z.array(z.object({ version: count.nullable(), count })),
  /** Whom a notice of the newest version would reach. */
  toTell: byChannel,
  /** Whom one of the next version would reach: all who hold any. */
  holding: byChannel.default({ email: 0, text: 0 }),
  /** Of those who wait for a place and hold none: who is to be told of the newest version, and who of any next one. */
  waiting: z
    .object({ toTell: byChannel, all: byChannel })
    .default({ toTell: { email: 0, text: 0 }, all: { email: 0, text: 0 } }),
});
export type EventTally = z.infer<typeof tally>;

export const noTally = (): EventTally => ({
  replies: noReplies(),
  byDate: {},
  holders: [],
  toTell: { email: 0, text: 0 },
  holding: { email: 0, text: 0 },
  waiting: { toTell: { email: 0, text: 0 }, all: { email: 0, text: 0 } },
});

/** The kept counts of events' guests; a counter of its own writes them, screens read them. */
export function eventTallyStore(db: Knex) {
  return {
    async find(eventId: number): Promise<EventTally> {
      return (await this.findMany([eventId])).get(eventId) ?? noTally();
    },
    async findMany(eventIds: readonly number[]): Promise<Map<number, EventTally>> {
      const rows: { event_id: number; tally: unknown }[] = await db('event_tally')
        .whereIn('event_id', [...new Set(eventIds)])
        .select('event_id', 'tally');
      return new Map(rows.map((row) => [row.event_id, tally.parse(readJson(row.tally))]));
    },
    /** @param behind how many hold a version older than the newest, or wait and know one that is */
    async keep(eventId: number, value: EventTally, behind: number, now: Date): Promise<void> {
      await db('event_tally')
        .insert({ event_id: eventId, tally: JSON.stringify(value), behind, counted_at: now })
        .onConflict('event_id')
        .merge();
    },
    /** Events of which somebody holds, or knows, a version older than the newest, with how many do. */
    async behind(limit: number): Promise<{ eventId: number; count: number }[]> {
      const rows: { event_id: number; behind: number }[] = await db('event_tally')
        .where('behind', '>', 0)
        .orderBy('behind', 'desc')
        .limit(limit)
        .select('event_id', 'behind');
      return rows.map((row) => ({ eventId: row.event_id, count: row.behind }));
    },
    /** Events that nobody counted yet. */
    async uncounted(limit: number): Promise<number[]> {
      return db('event as e')
        .leftJoin('event_tally as t', 't.event_id', 'e.id')
        .whereNull('t.event_id')
        .limit(limit)
        .pluck('e.id');
    },
  };
}
