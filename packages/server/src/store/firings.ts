import type { Knex } from 'knex';
import type { FiringKind } from '@convite/contract';
import { heldCodes, type Channel, type HeldCode, type StoredFiringState } from '@convite/core';
import { content, type Content } from './content';
import { readJson } from './database';
import { firingChanges } from './firing-changes';
import { firingCounts } from './firing-counts';
import { readOne } from './per-row';
import { moving } from './waiting';

export interface StoredFiring {
  readonly id: number;
  readonly kind: FiringKind;
  readonly eventId: number | null;
  readonly cueId: number | null;
  readonly digestId: number | null;
  /** Key of the date, or of the own time, that it is for; empty for the whole event. */
  readonly slot: string;
  /** The zone of the people it is for, where its cue goes by each person's clock; else empty. */
  readonly zone: string;
  readonly channel: Channel;
  readonly dueMs: number;
  readonly state: StoredFiringState;
  readonly note: string;
  /** Why it does not go, or did not; who stopped it, where somebody did. */
  readonly held: HeldCode | null;
  readonly heldBy: string;
  readonly content: Content | null;
  readonly isExpanded: boolean;
  /** How many are to get it as counted last, and when that was; null while it was not counted. */
  readonly gets: number | null;
  readonly countedMs: number | null;
  /** Of a digest's issue: how many dates are in it, as counted last. */
  readonly eventCount: number;
  readonly planned: number;
  readonly sent: number;
  readonly failed: number;
  readonly skipped: number;
}

interface Row {
  id: number;
  kind: FiringKind;
  event_id: number | null;
  cue_id: number | null;
  digest_id: number | null;
  slot: string;
  zone: string;
  channel: Channel;
  due_at: Date;
  state: StoredFiringState;
  note: string;
  held: string | null;
  held_by: string;
  content: unknown;
  is_expanded: number;
  gets: number | null;
  counted_at: Date | null;
  event_count: number;
  planned: number;
  sent: number;
  failed: number;
  skipped: number;
}

export function firingStore(db: Knex) {
  return { ...firingReads(db), ...firingChanges(db), ...firingCounts(db) };
}

/** A quarter of an hour: every zone's day begins at one. */
const quarterSeconds = 900;

const columns = [
  'id',
  'kind',
  'event_id',
  'cue_id',
  'digest_id',
  'slot',
  'zone',
  'channel',
  'due_at',
  'state',
  'note',
  'held',
  'held_by',
  'is_expanded',
  'gets',
  'counted_at',
  'event_count',
  'planned',
  'sent',
  'failed',
  'skipped',
] as const satisfies readonly (keyof Row)[];

/** A zone in which the audience has nobody, or a day on which nobody has theirs, is no news, once that was counted. */
const isShown = (query: Knex.QueryBuilder): Knex.QueryBuilder =>
  query.whereRaw("not ((zone <> '' or slot like '____-__-__') and if(is_expanded, planned, coalesce(gets, 1)) = 0)");

function firingReads(db: Knex) {
  /** What they say is read with one of them, not with many. */
  const many = async (query: Knex.QueryBuilder): Promise<StoredFiring[]> => {
    const rows = (await query.select(...columns)) as Omit<Row, 'content'>[];
    return rows.map((row) => firingOf({ ...row, content: null }));
  };
  /** The first few of each state by their moments, put together: each part ends at its limit. */
  const firstOf = async (
    states: readonly StoredFiringState[],
    fromMs: (state: StoredFiringState) => number,
    limit: number,
  ): Promise<StoredFiring[]> => {
    const parts = await Promise.all(
      states.map((state) =>
        many(
          isShown(db('firing').where({ state }))
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
    async find(id: number): Promise<StoredFiring | null> {
      const row: Row | undefined = await db('firing').where({ id }).first();
      return row ? readOne(db, 'firing', row, firingOf) : null;
    },
    /** Those of an event's cues: what is or was due since then, and of each cue the last before. */
    async ofCues(cueIds: readonly number[], sinceMs: number): Promise<StoredFiring[]> {
      const since = new Date(sinceMs);
      const ofCue = (id: number) => db('firing').where({ cue_id: id });
      const parts = await Promise.all(
        cueIds.flatMap((id) => [
          many(ofCue(id).where('due_at', '>=', since).orderBy('due_at')),
          many(ofCue(id).where('due_at', '<', since).orderBy('due_at', 'desc').limit(1)),
        ]),
      );
      return parts.flat().sort((a, b) => a.dueMs - b.dueMs || a.id - b.id);
    },
    /** All of an event, whenever they were due. */
    ofEvent: (eventId: number) => many(db('firing').where({ event_id: eventId }).orderBy('due_at')),
    /** All of one cue, whenever they were due. */
    ofCue: (cueId: number) => many(db('firing').where({ cue_id: cueId }).orderBy('due_at')),
    /** The zones that a cue's firings for one slot are for. */
    async zonesOf(cueId: number, slot: string): Promise<string[]> {
      return db('firing').where({ cue_id: cueId, slot }).whereNot('zone', '').orderBy('zone').pluck('zone');
    },
    /** A firing with those of the same cue and slot for other zones: one thing, as people see it. */
    async withOtherZones({ id, cueId, slot, zone }: StoredFiring): Promise<number[]> {
      if (zone === '' || cueId === null) return [id];
      return db('firing').where({ cue_id: cueId, slot }).orderBy('due_at').pluck('id');
    },
    /** Is a notice of the event on its way? */
    async isNoticeUnderWay(eventId: number): Promise<boolean> {
      const row: unknown = await db('firing')
        .where({ event_id: eventId, kind: 'notice' })
        .whereIn('state', ['set', 'sending'])
        .first('id');
      return row !== undefined;
    },
    /** Those of an event's cues that planning is about: what has not fired, and what was due since then. */
    async plannable(eventId: number, sinceMs: number): Promise<StoredFiring[]> {
      const ofCues = (states: readonly StoredFiringState[]) =>
        db('firing').where({ event_id: eventId }).whereIn('state', states).whereNotNull('cue_id');
      const parts = await Promise.all([
        many(ofCues(['draft', 'set', 'missed', 'stopped'])),
        many(ofCues(['done', 'failed', 'sending']).where('due_at', '>=', new Date(sinceMs))),
      ]);
      return parts.flat();
    },
    ofDigest: (digestId: number, fromMs: number) =>
      many(
        db('firing').where({ digest_id: digestId }).where('due_at', '>=', new Date(fromMs)).orderBy('due_at').limit(8),
      ),
    /** What is still to come, also what somebody stopped and may set again. */
    ahead: (nowMs: number, limit: number) =>
      firstOf(
        ['draft', 'set', 'sending', 'stopped', 'missed'],
        (state) => (state === 'stopped' || state === 'missed' ? nowMs : nowMs - 86_400_000),
        limit,
      ),
    /** The one that goes now: of those under way the first of which anything can leave, else the first that is set. */
    async next(nowMs: number): Promise<StoredFiring | null> {
      const [underWay] = await many(moving(db, nowMs).orderBy('f.due_at').limit(1));
      if (underWay) return underWay;
      const [set] = await firstOf(['set'], () => nowMs - 86_400_000, 1);
      return set ?? null;
    },
    /** The cue of each event that is set to fire next. */
    async nextCues(eventIds: readonly number[]): Promise<Map<number, { cueId: number; dueMs: number }>> {
      const rows: { event_id: number; cue_id: number; due_at: Date }[] = await db('firing')
        .whereIn('event_id', [...eventIds])
        .where('state', 'set')
        .whereNotNull('cue_id')
        .orderBy('due_at', 'desc')
        .select('event_id', 'cue_id', 'due_at');
      // The soonest is the last to be written.
      return new Map(rows.map((row) => [row.event_id, { cueId: row.cue_id, dueMs: row.due_at.getTime() }]));
    },
    async behind(nowMs: number, limit: number): Promise<StoredFiring[]> {
      const parts = await Promise.all(
        ['done', 'failed', 'stopped', 'missed'].map((state) =>
          many(
            isShown(db('firing').where({ state }))
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
    /** Those that a person may have to see to: drafts, missed ones, and what did not reach everybody. */
    async wanting(fromMs: number, toMs: number, limit: number): Promise<StoredFiring[]> {
      const within = (query: Knex.QueryBuilder) =>
        many(
          query
            .whereBetween('due_at', [new Date(fromMs), new Date(toMs)])
            .orderBy('due_at')
            .limit(limit),
        );
      const parts = await Promise.all([
        ...['draft', 'missed', 'failed'].map((state) => within(db('firing').where({ state }))),
        within(db('firing').where('has_failed', true).whereNot('state', 'failed')),
      ]);
      return [...new Map(parts.flat().map((firing) => [firing.id, firing])).values()].sort((a, b) => a.dueMs - b.dueMs);
    },
    /** Messages by channel in each quarter of an hour, as far as they went or are to go. */
    async load(fromMs: number, toMs: number): Promise<{ atMs: number; channel: Channel; messages: number }[]> {
      const rows: { quarter: number; channel: Channel; messages: number | string }[] = await db('firing')
        .whereBetween('due_at', [new Date(fromMs), new Date(toMs)])
        .whereNotIn('state', ['stopped', 'missed'])
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
    /** When a firing will next be due, by the shared clock; null when none is set. */
    async nextDueMs(): Promise<number | null> {
      const row: { due_at: Date } | undefined = await db('firing')
        .where({ state: 'set' })
        .orderBy('due_at')
        .first('due_at');
      return row?.due_at.getTime() ?? null;
    },
    async sendingIds(): Promise<number[]> {
      return db('firing').where({ state: 'sending', is_expanded: true }).limit(100).pluck('id');
    },
    /** The events that some firings are about. */
    async eventsOf(ids: readonly number[]): Promise<number[]> {
      return db('firing')
        .whereIn('id', [...ids])
        .whereNotNull('event_id')
        .distinct('event_id')
        .pluck('event_id');
    },
  };
}

const firingOf = (row: Row): StoredFiring => ({
  id: row.id,
  kind: row.kind,
  eventId: row.event_id,
  cueId: row.cue_id,
  digestId: row.digest_id,
  slot: row.slot,
  zone: row.zone,
  channel: row.channel,
  dueMs: row.due_at.getTime(),
  state: row.state,
  note: row.note,
  held: heldCodes.find((code) => code === row.held) ?? null,
  heldBy: row.held_by,
  content: row.content === null ? null : content.parse(readJson(row.content)),
  isExpanded: Boolean(row.is_expanded),
  gets: row.gets,
  countedMs: row.counted_at?.getTime() ?? null,
  eventCount: row.event_count,
  planned: row.planned,
  sent: row.sent,
  failed: row.failed,
  skipped: row.skipped,
});
