import type { Knex } from 'knex';
import type { FiringKind } from '@convite/contract';
import { movedSlot, type Channel, type PlanChanges, type PlannedFiring, type StoredFiringState } from '@convite/core';
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
  /** Of a message by hand: its subject, or how a text begins. */
  readonly title?: string;
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
  manual: 3,
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

/** Firings as people and their plans would have them: made, moved, stopped, set again. */
export function firingPlans(db: Knex) {
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
          title: firing.title ?? '',
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
               firing.held_by = if(n.held = 'by-person', firing.held_by, ''), firing.note = '', firing.announced_at = null, firing.count_at = ?
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

    /** Takes back one that nothing was done about yet. @returns whether it was so */
    async dropSet(id: number): Promise<boolean> {
      return (await db('firing').where({ id, state: 'set' }).delete()) > 0;
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
          .update({ state: to, due_at: new Date(dueMs), held: null, held_by: '', note: '', announced_at: null })) > 0
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
        .map((key) => ({ key, to: movedSlot(key, moveKey) }))
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
  };
}
