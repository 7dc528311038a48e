import type { Knex } from 'knex';
import type { FiringKind } from '@convite/contract';
import type { Channel, Lane, StoredFiringState } from '@convite/core';
import { manyFirings, type StoredFiring } from './firing-rows';
import { moving } from './waiting';

/** A quarter of an hour: every zone's day begins at one. */
const quarterSeconds = 900;

/** A zone in which the audience has nobody, or a day on which nobody has theirs, is no news, once that was counted. */
const isShown = (query: Knex.QueryBuilder): Knex.QueryBuilder =>
  query.whereRaw(
    "not ((zone <> '' or slot like '____-__-__' or slot like '%@%') and if(is_expanded, planned, coalesce(gets, 1)) = 0)",
  );

/** What of it is looked at; what is left out is all. */
export interface BoardFilter {
  readonly channel?: Lane | undefined;
  readonly kind?: FiringKind | undefined;
  readonly state?: StoredFiringState | undefined;
  readonly eventId?: number | undefined;
}
const lookedAt = <S extends StoredFiringState>(states: readonly S[], { state }: BoardFilter): readonly S[] =>
  states.filter((one) => state === undefined || one === state);
const narrowed = (query: Knex.QueryBuilder, { channel, kind, eventId }: BoardFilter): Knex.QueryBuilder =>
  query.modify((narrow) => {
    if (channel) void narrow.where({ channel });
    if (kind) void narrow.where({ kind });
    if (eventId) void narrow.where({ event_id: eventId });
  });

/** What is to go out, what went, and what wants somebody: in the order of time, each part by its index. */
export function firingBoard(db: Knex) {
  /** The first few of each state by their moments, put together: each part ends at its limit. */
  const firstOf = async (
    states: readonly StoredFiringState[],
    fromMs: (state: StoredFiringState) => number,
    limit: number,
    filter: BoardFilter = {},
  ): Promise<StoredFiring[]> => {
    const parts = await Promise.all(
      lookedAt(states, filter).map((state) =>
        manyFirings(
          narrowed(isShown(db('firing').where({ state })), filter)
            .where('due_at', '>', new Date(fromMs(state)))
            .orderBy('due_at')
            .limit(limit),
        ),
      ),
    );
    return parts
      .flat()
      .sort((a, b) => a.dueMs - b.dueMs || a.id - b.id)
      .slice(0, limit);
  };

  return {
    /** What is still to come, also what somebody stopped and may set again. */
    ahead: (nowMs: number, limit: number, filter: BoardFilter = {}) =>
      firstOf(
        ['draft', 'set', 'sending', 'stopped', 'missed'],
        (state) => (state === 'stopped' || state === 'missed' ? nowMs : nowMs - 86_400_000),
        limit,
        filter,
      ),
    /** The one that goes now: of those under way the first of which anything can leave, else the first that is set. */
    async next(nowMs: number): Promise<StoredFiring | null> {
      const [underWay] = await manyFirings(moving(db, nowMs).orderBy('f.due_at').limit(1));
      if (underWay) return underWay;
      const [set] = await firstOf(['set'], () => nowMs - 86_400_000, 1);
      return set ?? null;
    },
    async behind(nowMs: number, limit: number, filter: BoardFilter = {}): Promise<StoredFiring[]> {
      const parts = await Promise.all(
        lookedAt(['done', 'failed', 'stopped', 'missed'], filter).map((state) =>
          manyFirings(
            narrowed(isShown(db('firing').where({ state })), filter)
              .where('due_at', '<=', new Date(nowMs))
              .orderBy('due_at', 'desc')
              .limit(limit),
          ),
        ),
      );
      return parts
        .flat()
        .sort((a, b) => b.dueMs - a.dueMs || b.id - a.id)
        .slice(0, limit);
    },
    async hasGoneOut(): Promise<boolean> {
      return Boolean(await db('firing').where({ state: 'done' }).first('id'));
    },
    /** Those that a person may have to see to: drafts, missed ones, and what did not reach everybody. */
    async wanting(fromMs: number, toMs: number, limit: number): Promise<StoredFiring[]> {
      const within = (query: Knex.QueryBuilder) =>
        manyFirings(
          query
            .whereBetween('due_at', [new Date(fromMs), new Date(toMs)])
            .orderBy('due_at')
            .limit(limit),
        );
      const parts = await Promise.all([
        ...['draft', 'missed', 'failed'].map((state) => within(db('firing').where({ state }))),
        within(db('firing').where('has_failed', true).whereNot('state', 'failed')),
        within(db('firing').where('lacks_join_link', true)),
      ]);
      return [...new Map(parts.flat().map((firing) => [firing.id, firing])).values()].sort((a, b) => a.dueMs - b.dueMs);
    },
    /** Messages by channel in each quarter of an hour, as far as they went or are to go. */
    async load(fromMs: number, toMs: number): Promise<{ atMs: number; channel: Channel; messages: number }[]> {
      const rows: { quarter: number; channel: Channel; messages: number | string }[] = await db('firing')
        .whereBetween('due_at', [new Date(fromMs), new Date(toMs)])
        .whereNotIn('state', ['stopped', 'missed'])
        .whereNot('channel', 'act')
        .groupBy('quarter', 'channel')
        .select(
          db.raw('floor(unix_timestamp(due_at) / ?) as quarter', [quarterSeconds]),
          'channel',
          db.raw('sum(if(is_expanded, planned, coalesce(gets, 0))) as messages'),
        );
      return rows.map(({ quarter, channel, messages }) => ({
        atMs: Number(quarter) * quarterSeconds * 1000,
        channel,
        messages: Number(messages),
      }));
    },
  };
}
