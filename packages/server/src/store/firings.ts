import type { Knex } from 'knex';
import type { FiringKind, Tally } from '@convite/contract';
import type { Channel, StoredFiringState } from '@convite/core';
import { content, type Content } from './content';
import { isDuplicate, readJson } from './database';
import { readEach, readOne } from './per-row';
import { inTransaction } from './retry-locked';

export interface StoredFiring {
  readonly id: number;
  readonly kind: FiringKind;
  readonly eventId: number | null;
  readonly cueId: number | null;
  readonly digestId: number | null;
  /** Key of the date, or of the own time, that it is for; empty for the whole event. */
  readonly occurrence: string;
  readonly channel: Channel;
  readonly dueMs: number;
  readonly state: StoredFiringState;
  readonly note: string;
  readonly content: Content | null;
  readonly isExpanded: boolean;
  readonly planned: number;
  readonly sent: number;
  readonly failed: number;
}

interface Row {
  id: number;
  kind: FiringKind;
  event_id: number | null;
  cue_id: number | null;
  digest_id: number | null;
  occurrence: string;
  channel: Channel;
  due_at: Date;
  state: StoredFiringState;
  note: string;
  content: unknown;
  is_expanded: number;
  planned: number;
  sent: number;
  failed: number;
}

export interface NewFiring {
  readonly kind: FiringKind;
  readonly eventId?: number;
  readonly cueId?: number;
  readonly digestId?: number;
  readonly occurrence?: string;
  readonly channel: Channel;
  readonly dueMs: number;
  readonly state: StoredFiringState;
  readonly note?: string;
  readonly content?: Content;
}

/** States in which a firing can still change its moment. */
const unfired: readonly StoredFiringState[] = ['draft', 'set', 'missed', 'stopped'];

export function firingStore(db: Knex) {
  const many = async (query: Knex.QueryBuilder): Promise<StoredFiring[]> => {
    const rows = (await query) as Row[];
    // What it says may be unreadable; that it is there, when and for whom, is not.
    return rows.map((row) => readEach(db, 'firing', [row], firingOf)[0] ?? firingOf({ ...row, content: null }));
  };

  return {
    async find(id: number): Promise<StoredFiring | null> {
      const row: Row | undefined = await db('firing').where({ id }).first();
      return row ? readOne(db, 'firing', row, firingOf) : null;
    },
    ofEvent: (eventId: number) => many(db('firing').where({ event_id: eventId }).orderBy('due_at')),
    ofDigest: (digestId: number, fromMs: number) =>
      many(
        db('firing').where({ digest_id: digestId }).where('due_at', '>=', new Date(fromMs)).orderBy('due_at').limit(8),
      ),
    /** What is still to come, also what somebody stopped and may set again. */
    ahead: (nowMs: number, limit: number) =>
      many(
        db('firing')
          .where((or) =>
            or
              .whereIn('state', ['draft', 'set', 'sending'])
              .orWhere((held) => held.whereIn('state', ['stopped', 'missed']).where('due_at', '>', new Date(nowMs))),
          )
          .where('due_at', '>', new Date(nowMs - 86_400_000))
          .orderBy('due_at')
          .orderBy('id')
          .limit(limit),
      ),
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
    behind: (nowMs: number, limit: number) =>
      many(
        db('firing')
          .whereIn('state', ['done', 'failed', 'stopped', 'missed'])
          .where('due_at', '<=', new Date(nowMs))
          .orderBy('due_at', 'desc')
          .orderBy('id', 'desc')
          .limit(limit),
      ),
    between: (fromMs: number, toMs: number) =>
      many(
        db('firing')
          .whereBetween('due_at', [new Date(fromMs), new Date(toMs)])
          .orderBy('due_at')
          .limit(2000),
      ),

    async create(firing: NewFiring): Promise<number | null> {
      try {
        const [id] = await db('firing').insert({
          kind: firing.kind,
          event_id: firing.eventId ?? null,
          cue_id: firing.cueId ?? null,
          digest_id: firing.digestId ?? null,
          occurrence: firing.occurrence ?? '',
          channel: firing.channel,
          due_at: new Date(firing.dueMs),
          state: firing.state,
          note: firing.note ?? '',
          content: firing.content ? JSON.stringify(firing.content) : null,
        });
        return Number(id);
      } catch (error) {
        // Somebody else planned the same firing in the same moment: theirs is as good.
        if (isDuplicate(error)) return null;
        throw error;
      }
    },

    /** Moves a firing that has not fired. False when it fired in the meantime. */
    async reschedule(
      id: number,
      change: { dueMs: number; state: StoredFiringState; channel: Channel; note: string },
    ): Promise<boolean> {
      const changed = await db('firing')
        .where({ id })
        .whereIn('state', [...unfired])
        .update({ due_at: new Date(change.dueMs), state: change.state, channel: change.channel, note: change.note });
      return changed > 0;
    },

    /** Stops a firing, also one that is sending: what has not left stays. False when it was over already. */
    async stop(id: number, note: string): Promise<boolean> {
      const stop = async (tx: Knex): Promise<boolean> => {
        const changed = await tx('firing')
          .where({ id })
          .whereIn('state', ['draft', 'set', 'sending'])
          .update({ state: 'stopped', note });
        if (changed) await tx('delivery').where({ firing_id: id, state: 'queued' }).update({ state: 'stopped' });
        return changed > 0;
      };
      return inTransaction(db, stop);
    },

    async setUnfired(
      id: number,
      from: readonly StoredFiringState[],
      to: StoredFiringState,
      dueMs: number,
      note: string,
    ): Promise<boolean> {
      return (
        (await db('firing')
          .where({ id })
          .whereIn('state', [...from])
          .update({ state: to, due_at: new Date(dueMs), note })) > 0
      );
    },

    /** Firings of dates that are no more. What went out, or was held by somebody, stays. */
    async deleteUnfired(ids: readonly number[]): Promise<void> {
      if (ids.length)
        await db('firing')
          .whereIn('id', [...ids])
          .whereIn('state', ['draft', 'set', 'missed'])
          .where('is_expanded', false)
          .delete();
    },
    /** Gives the firings of dates their new names when the dates of a series move; `~` keeps swaps apart. */
    async moveDates(eventId: number, moveKey: (key: string) => string | null): Promise<void> {
      const keys: string[] = await db('firing').where({ event_id: eventId }).distinct('occurrence').pluck('occurrence');
      const moves = keys.filter(Boolean).map((key) => ({ key, to: moveKey(key) ?? key }));
      for (const { key } of moves)
        await db('firing')
          .where({ event_id: eventId, occurrence: key })
          .update({ occurrence: `~${key}` });
      for (const { key, to } of moves)
        await db('firing')
          .where({ event_id: eventId, occurrence: `~${key}` })
          .update({ occurrence: to });
    },

    async deleteUnfiredOfDigest(digestId: number): Promise<void> {
      await db('firing').where({ digest_id: digestId }).whereIn('state', ['draft', 'set']).delete();
    },

    /** When a firing will next be due, by the shared clock; null when none is set. */
    async nextDueMs(): Promise<number | null> {
      const [firing] = (await db('firing').where({ state: 'set' }).min({ at: 'due_at' })) as { at: Date | null }[];
      return firing?.at?.getTime() ?? null;
    },

    /**
     * What is worth little after its moment, past its grace, becomes missed; returns how many. What somebody sent by hand,
     * and answers, go however late: they are said as things stand then.
     */
    async markMissed(beforeMs: number, note: string): Promise<number> {
      return db('firing')
        .where({ state: 'set' })
        .whereIn('kind', ['cue', 'digest'])
        .where('due_at', '<', new Date(beforeMs))
        .update({ state: 'missed', note });
    },

    /** Drafts whose moment passed become missed too: that nobody noticed is exactly what must be seen. */
    async markForgotten(nowMs: number): Promise<number> {
      return db('firing')
        .where({ state: 'draft' })
        .where('due_at', '<', new Date(nowMs))
        .update({ state: 'missed', note: 'It was still a draft at its moment.' });
    },

    /**
     * Takes the first due firing, skipping what another worker holds. To be called in a transaction: its row stays
     * locked until the deliveries stand beside it, so a crash leaves it as it was.
     */
    async lockDue(nowMs: number): Promise<number | null> {
      const ids: number[] = await db('firing')
        .where({ state: 'set' })
        .where('due_at', '<=', new Date(nowMs))
        .orderBy('due_at')
        .limit(1)
        .forUpdate()
        .skipLocked()
        .pluck('id');
      return ids[0] ?? null;
    },

    async markExpanded(id: number, frozen: Content | null, planned: number, note: string): Promise<void> {
      await db('firing')
        .where({ id })
        .update({
          state: planned > 0 ? 'sending' : 'done',
          is_expanded: true,
          planned,
          note,
          ...(frozen && { content: JSON.stringify(frozen) }),
        });
    },

    /** One firing that cannot be carried out: said with the reason, and the others go on. */
    async fail(id: number, note: string): Promise<void> {
      await db('firing')
        .where({ id })
        .whereIn('state', ['set', 'sending'])
        .update({ state: 'failed', note: note.slice(0, 500) });
    },

    /**
     * Closes the firings of which nothing is left to send, with their counts; returns those closed. Nobody reached is
     * `failed`. Locks the firing, so that a bounce that comes in this moment is counted once.
     */
    async closeFinished(ids: readonly number[]): Promise<number[]> {
      const closed: number[] = [];
      for (const id of ids) if (await inTransaction(db, (tx) => close(tx, id))) closed.push(id);
      return closed;
    },

    /** Counts by state from the deliveries themselves, for firings under way. */
    tallies: (ids: readonly number[]): Promise<Map<number, Tally>> => talliesOf(db, ids),

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
    /** Puts the failed deliveries of a firing that is over back into the queue. @returns how many */
    requeueFailed(id: number, now: Date): Promise<number> {
      return inTransaction(db, async (tx) => {
        const over = ['done', 'failed'];
        const row: unknown = await tx('firing').where({ id }).whereIn('state', over).forUpdate().first('id');
        if (!row) return 0;
        const count = await tx('delivery')
          .where({ firing_id: id, state: 'failed' })
          .update({ state: 'queued', attempts: 0, next_at: now });
        if (count) await tx('firing').where({ id }).update({ state: 'sending', note: '' });
        return count;
      });
    },
    /** Whether anything of it can go at this moment; what was put off waits. */
    async isMoving(id: number, nowMs: number): Promise<boolean> {
      const row: unknown = await db('delivery')
        .where({ firing_id: id })
        .where((or) =>
          or
            .where('state', 'sending')
            .orWhere((due) => due.where('state', 'queued').where('next_at', '<=', new Date(nowMs))),
        )
        .first('id');
      return row !== undefined;
    },

    async countFailedSince(since: Date): Promise<{ firingId: number; count: number }[]> {
      const rows: { id: number; failed: number }[] = await db('firing')
        .where('due_at', '>=', since)
        .where('failed', '>', 0)
        .select('id', 'failed');
      return rows.map((row) => ({ firingId: row.id, count: row.failed }));
    },
  };
}

async function close(tx: Knex, id: number): Promise<boolean> {
  const row: unknown = await tx('firing').where({ id, state: 'sending' }).forUpdate().first('id');
  if (!row) return false;
  const open: unknown = await tx('delivery')
    .where({ firing_id: id })
    .whereIn('state', ['queued', 'sending'])
    .first('id');
  if (open) return false;
  const { sent = 0, failed = 0 } = (await talliesOf(tx, [id])).get(id) ?? {};
  await tx('firing')
    .where({ id })
    .update({ state: failed > 0 && sent === 0 ? 'failed' : 'done', sent, failed });
  return true;
}

async function talliesOf(db: Knex, ids: readonly number[]): Promise<Map<number, Tally>> {
  const rows: { firing_id: number; state: string; n: number }[] = ids.length
    ? await db('delivery')
        .whereIn('firing_id', [...ids])
        .groupBy('firing_id', 'state')
        .select('firing_id', 'state', db.raw('count(*) as n'))
    : [];
  const tallies = new Map<number, { gets: number; sent: number; failed: number; waiting: number }>();
  for (const { firing_id, state, n } of rows) {
    const tally = tallies.get(firing_id) ?? { gets: 0, sent: 0, failed: 0, waiting: 0 };
    tally.gets += Number(n);
    if (state === 'sent' || state === 'delivered') tally.sent += Number(n);
    else if (state === 'failed' || state === 'bounced') tally.failed += Number(n);
    else if (state === 'queued' || state === 'sending') tally.waiting += Number(n);
    tallies.set(firing_id, tally);
  }
  return tallies;
}

const firingOf = (row: Row): StoredFiring => ({
  id: row.id,
  kind: row.kind,
  eventId: row.event_id,
  cueId: row.cue_id,
  digestId: row.digest_id,
  occurrence: row.occurrence,
  channel: row.channel,
  dueMs: row.due_at.getTime(),
  state: row.state,
  note: row.note,
  content: row.content === null ? null : content.parse(readJson(row.content)),
  isExpanded: Boolean(row.is_expanded),
  planned: row.planned,
  sent: row.sent,
  failed: row.failed,
});
