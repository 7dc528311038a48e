import type { Knex } from 'knex';
import { withItsText } from './firing-rows';
import { lateJoiners } from './late-joiners';
import { inTransaction, retryLocked } from './retry-locked';

/** A firing whose audience is to be counted. */
export interface CountDue {
  readonly id: number;
  readonly cueId: number | null;
  readonly digestId: number | null;
  readonly eventId: number | null;
  readonly slot: string;
  readonly zone: string;
  readonly dueMs: number;
  /** As counted last. */
  readonly gets: number | null;
}

/** What is still to be expanded, and so worth counting. */
const uncountedStates = ['draft', 'set', 'stopped', 'missed'];

/** How many are to get it; null when there is nothing to count. Of a digest's issue, how many dates are in it. */
export interface Counted extends CountedDoubts {
  readonly gets: number | null;
  readonly eventCount: number;
}

/** Of them, how many are worth a second look before it goes; null where that was not asked. */
export interface CountedDoubts {
  /** In quiet hours at its moment. */
  readonly inQuiet: number | null;
  /** Do without, since they had as many messages as they may get in a week. */
  readonly overLimit: number | null;
  /** Of no known name, which it says. */
  readonly nameless: number | null;
  /** Left out: the message depends on the join link, and they are no guests. */
  readonly noJoinLink: number | null;
}
export const noDoubts: CountedDoubts = { inQuiet: null, overLimit: null, nameless: null, noJoinLink: null };

/** Where `count_at` says that it is to be counted at once. */
export const atOnce = new Date(0);

/** The kept counts of audiences: how many are to get each firing, and when, by the shared clock, that is counted again. */
export function firingCounts(db: Knex) {
  /** What is being expanded just now, and so held, is counted no more. */
  const soon = (which: (tx: Knex) => Knex.QueryBuilder, at: Date): Promise<number> =>
    inTransaction(db, async (tx) => {
      const ids: number[] = await which(tx)
        .whereIn('state', uncountedStates)
        .where('is_expanded', false)
        .where((or) => or.whereNull('count_at').orWhere('count_at', '>', at))
        .forUpdate()
        .skipLocked()
        .pluck('id');
      return ids.length ? tx('firing').whereIn('id', ids).update({ count_at: at }) : 0;
    });
  const { wakeOpen } = lateJoiners(db);
  return {
    /**
     * Takes the next few that are to be counted; no other counter takes them for a minute.
     * @returns them, nearest moment first
     */
    async takeUncounted(nowMs: number, limit: number): Promise<CountDue[]> {
      const rows: CountRow[] = await db('firing')
        .where('count_at', '<=', new Date(nowMs))
        .orderBy('count_at')
        .limit(limit)
        .select('id', 'cue_id', 'digest_id', 'event_id', 'slot', 'zone', 'due_at', 'gets');
      if (rows.length)
        await db('firing')
          .whereIn(
            'id',
            rows.map(({ id }) => id),
          )
          .update({ count_at: new Date(nowMs + 60_000) });
      return rows.map(dueOf).sort((a, b) => a.dueMs - b.dueMs);
    },
    /**
     * Keeps a count.
     * @param nextMs when it is counted again; null for not before something changes
     */
    async keepCount(
      id: number,
      { gets, eventCount, inQuiet, overLimit, nameless, noJoinLink }: Counted,
      countedMs: number,
      nextMs: number | null,
    ): Promise<void> {
      await db('firing')
        .where({ id })
        .update({
          gets,
          event_count: eventCount,
          in_quiet: inQuiet,
          over_limit: overLimit,
          nameless,
          no_join_link: noJoinLink,
          counted_at: new Date(countedMs),
          count_at: nextMs === null ? null : new Date(nextMs),
        });
    },
    /** The largest audience counted for an event: 0 while none was. */
    async mostOf(eventIds: readonly number[]): Promise<Map<number, number>> {
      const rows: { event_id: number; most: number | null }[] = await db('firing')
        .whereIn('event_id', [...eventIds])
        .groupBy('event_id')
        .select('event_id', db.raw('max(gets) as most'));
      return new Map(rows.map((row) => [row.event_id, Number(row.most ?? 0)]));
    },
    /** The audience of an event's firings may have changed: they are counted by then. */
    async recountEvent(eventId: number, byMs: number): Promise<void> {
      await soon((tx) => tx('firing').where({ event_id: eventId }), new Date(byMs));
      await retryLocked(() => wakeOpen(db('firing').where({ event_id: eventId }), new Date(byMs)));
    },
    /** The same of the firings of a cue, or of a digest, that was edited. */
    async recountCue(cueId: number): Promise<void> {
      const cues = await withItsText(db, cueId);
      await soon((tx) => tx('firing').whereIn('cue_id', cues), atOnce);
    },
    recountDigest: (digestId: number) => soon((tx) => tx('firing').where({ digest_id: digestId }), atOnce),
    /** The same of whatever asks for a list, or leaves it out. */
    async recountList(listId: number, digestIds: readonly number[], byMs: number): Promise<void> {
      const cues: number[] = await db('cue_list').where({ list_id: listId }).pluck('cue_id');
      if (cues.length) {
        await soon((tx) => tx('firing').whereIn('cue_id', cues), new Date(byMs));
        await wakeOpen(db('firing').whereIn('cue_id', cues), new Date(byMs));
      }
      if (digestIds.length) await soon((tx) => tx('firing').whereIn('digest_id', [...digestIds]), new Date(byMs));
    },
  };
}

interface CountRow {
  id: number;
  cue_id: number | null;
  digest_id: number | null;
  event_id: number | null;
  slot: string;
  zone: string;
  due_at: Date;
  gets: number | null;
}
const dueOf = (row: CountRow): CountDue => ({
  id: row.id,
  cueId: row.cue_id,
  digestId: row.digest_id,
  eventId: row.event_id,
  slot: row.slot,
  zone: row.zone,
  dueMs: row.due_at.getTime(),
  gets: row.gets,
});
