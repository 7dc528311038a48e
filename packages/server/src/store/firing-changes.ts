import type { Knex } from 'knex';
import type { FiringKind } from '@convite/contract';
import type { Channel, PlanChanges, PlannedFiring, StoredFiringState } from '@convite/core';
import type { Content } from './content';
import { isDuplicate } from './database';
import { atOnce } from './firing-counts';
import { inTransaction } from './retry-locked';

export interface NewFiring {
  readonly kind: FiringKind;
  readonly eventId?: number;
  readonly cueId?: number;
  readonly digestId?: number;
  readonly slot?: string;
  readonly channel: Channel;
  readonly dueMs: number;
  readonly state: StoredFiringState;
  readonly note?: string;
  readonly content?: Content;
}

/** States in which a firing can still change its moment. */
const unfired: readonly StoredFiringState[] = ['draft', 'set', 'missed', 'stopped'];

/** What goes first: who waits for an answer, then who must hear of a change, then what has its time, then digests. */
export const priorityOf: Readonly<Record<FiringKind, number>> = {
  answer: 1,
  notice: 2,
  invitation: 3,
  cue: 3,
  digest: 4,
};

/** So many firings in one statement. */
const batch = 500;
const rowOf = ({ slot, zone, channel, dueMs, state, held }: PlannedFiring) => ({
  slot,
  zone,
  channel,
  due_at: new Date(dueMs),
  state,
  held,
});

/** Everything that changes a firing's state. */
export function firingChanges(db: Knex) {
  return {
    async create(firing: NewFiring): Promise<number | null> {
      try {
        const [id] = await db('firing').insert({
          kind: firing.kind,
          priority: priorityOf[firing.kind],
          // New ones are counted at once; what is sent by hand is expanded before that.
          count_at: firing.kind === 'cue' || firing.kind === 'digest' ? atOnce : null,
          event_id: firing.eventId ?? null,
          cue_id: firing.cueId ?? null,
          digest_id: firing.digestId ?? null,
          slot: firing.slot ?? '',
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

    /** Carries a plan out, in bulk; what fired in the meantime stays as it is. */
    async applyPlan(eventId: number, { create, change, remove }: PlanChanges): Promise<void> {
      for (let from = 0; from < create.length; from += batch)
        await db('firing')
          .insert(
            create.slice(from, from + batch).map((firing) => ({
              kind: 'cue',
              priority: priorityOf.cue,
              event_id: eventId,
              cue_id: firing.cueId,
              count_at: atOnce,
              ...rowOf(firing),
            })),
          )
          // Somebody else planned the same firing in the same moment: theirs is as good.
          .onConflict(['cue_id', 'slot', 'zone'])
          .ignore();
      for (let from = 0; from < change.length; from += batch) {
        const some = change.slice(from, from + batch);
        await db.raw(
          `update firing join (${some.map(() => 'select ? as id, ? as due_at, ? as state, ? as channel, ? as held').join(' union all ')}) n
             on n.id = firing.id
           set firing.due_at = n.due_at, firing.state = n.state, firing.channel = n.channel, firing.held = n.held,
               firing.held_by = if(n.held = 'by-person', firing.held_by, ''), firing.note = '', firing.count_at = ?
           where firing.state in (${unfired.map(() => '?').join(', ')})`,
          [
            ...some.flatMap(({ id, to }) => [id, new Date(to.dueMs), to.state, to.channel, to.held]),
            atOnce,
            ...unfired,
          ],
        );
      }
      await this.deleteUnfired(remove);
    },

    /** Stops a firing, also one that is sending: what has not left stays. False when it was over already. */
    async stop(id: number, by: string): Promise<boolean> {
      const stop = async (tx: Knex): Promise<boolean> => {
        const changed = await tx('firing')
          .where({ id })
          .whereIn('state', ['draft', 'set', 'sending'])
          .update({ state: 'stopped', held: 'by-person', held_by: by, note: '' });
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
    ): Promise<boolean> {
      return (
        (await db('firing')
          .where({ id })
          .whereIn('state', [...from])
          .update({ state: to, due_at: new Date(dueMs), held: null, held_by: '', note: '' })) > 0
      );
    },

    /** Sets one that was stopped again, if its moment is that far ahead and nothing of it has gone out. */
    async setAgain(id: number, fromMs: number): Promise<void> {
      await db('firing')
        .where({ id, state: 'stopped', held: 'by-person', is_expanded: false })
        .where('due_at', '>=', new Date(fromMs))
        .update({ state: 'set', held: null, held_by: '', note: '' });
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
      const keys: string[] = await db('firing').where({ event_id: eventId }).distinct('slot').pluck('slot');
      const moves = keys
        .map((key) => ({ key, to: moveKey(key) ?? key }))
        .filter(({ key, to }) => key !== '' && key !== to);
      for (const { key } of moves)
        await db('firing')
          .where({ event_id: eventId, slot: key })
          .update({ slot: `~${key}` });
      for (const { key, to } of moves)
        await db('firing')
          .where({ event_id: eventId, slot: `~${key}` })
          .update({ slot: to });
    },

    async deleteUnfiredOfDigest(digestId: number): Promise<void> {
      await db('firing').where({ digest_id: digestId }).whereIn('state', ['draft', 'set']).delete();
    },

    /**
     * What is worth little after its moment, past its grace, becomes missed; returns how many. What somebody sent by hand,
     * and answers, go however late: they are said as things stand then.
     */
    async markMissed(beforeMs: number): Promise<number> {
      return db('firing')
        .where({ state: 'set' })
        .whereIn('kind', ['cue', 'digest'])
        .where('due_at', '<', new Date(beforeMs))
        .update({ state: 'missed', held: 'no-worker' });
    },

    /** Drafts whose moment passed become missed too: that nobody noticed is exactly what must be seen. */
    async markForgotten(nowMs: number): Promise<number> {
      return db('firing')
        .where({ state: 'draft' })
        .where('due_at', '<', new Date(nowMs))
        .update({ state: 'missed', held: 'still-draft' });
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
     * Closes the firings of which nothing is left to send; returns those closed. Nobody reached is `failed`. Locks the
     * firing, so that a bounce that comes in this moment is counted once.
     */
    async closeFinished(ids: readonly number[]): Promise<number[]> {
      const closed: number[] = [];
      for (const id of ids) if (await inTransaction(db, (tx) => close(tx, id))) closed.push(id);
      return closed;
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
        if (count)
          await tx('firing')
            .where({ id })
            .update({ state: 'sending', note: '', failed: tx.raw('greatest(failed, ?) - ?', [count, count]) });
        return count;
      });
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
  await tx('firing')
    .where({ id })
    .update({ state: tx.raw("if(failed > 0 and sent = 0, 'failed', 'done')") });
  return true;
}
