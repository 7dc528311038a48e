import type { Knex } from 'knex';
import type { FiringKind } from '@convite/contract';
import { graceMs } from '@convite/core';
import { cameOfStore } from './came-of';
import type { Content } from './content';
import { inTransaction } from './retry-locked';

/** What each hand of a worker writes down: answers in their order, changes, and all others. */
export type HandOf = Extract<FiringKind, 'answer' | 'notice'> | 'others';

/** A firing's own course: due, expanded, done, or missed. */
export function firingCourse(db: Knex) {
  return {
    /**
     * What is worth little after its moment, past its grace, an hour or what its event says, becomes missed; returns how many. What somebody sent by hand,
     * and answers, go however late: they are said as things stand then.
     * @param id of one firing; all are looked at where it is left out
     */
    markMissed(nowMs: number, id?: number): Promise<number> {
      return inTransaction(db, async (tx) => {
        // What is being written down just now is passed over, and no event is locked: that may be held for a minute.
        const ids: number[] = await tx('firing as f')
          .where({ 'f.state': 'set', ...(id !== undefined && { 'f.id': id }) })
          .whereIn('f.kind', ['cue', 'digest'])
          .where('f.due_at', '<', new Date(nowMs))
          .whereRaw(
            `f.due_at < ? - interval coalesce((select e.grace_minutes from event e where e.id = f.event_id), ?) minute`,
            [new Date(nowMs), graceMs / 60_000],
          )
          .forUpdate()
          .skipLocked()
          .pluck('f.id');
        return ids.length ? tx('firing').whereIn('id', ids).update({ state: 'missed', held: 'no-worker' }) : 0;
      });
    },

    /** Drafts whose moment passed become missed too: that nobody noticed is exactly what must be seen. */
    async markForgotten(nowMs: number): Promise<number> {
      return (
        db('firing')
          .where({ state: 'draft' })
          // What is sent by hand has no moment: it waits for whoever releases it.
          .whereIn('kind', ['cue', 'digest'])
          .where('due_at', '<', new Date(nowMs))
          .whereNotExists(db('release_wait as r').whereRaw("r.what = 'firing' and r.ref = firing.id"))
          .update({ state: 'missed', held: 'still-draft' })
      );
    },

    /**
     * Takes the first due firing, skipping what another worker holds. To be called in a transaction: its row stays
     * locked until the deliveries stand beside it, so a crash leaves it as it was.
     * @param except those that are passed over
     * @param among of which; of all where it is left out
     */
    async lockDue(nowMs: number, except: readonly number[] = [], among?: HandOf): Promise<number | null> {
      const ids: number[] = await db('firing')
        // Named, since rows that are looked through are locked: by another key that were all that is due.
        .from(
          db.raw(
            `firing force index (${among === 'answer' || among === 'notice' ? 'firing_kind_state_due_at_index' : 'firing_state_due_at_index'})`,
          ),
        )
        .where({ state: 'set' })
        .modify((query) => {
          if (among === 'others') void query.whereNotIn('kind', ['answer', 'notice']);
          else if (among) void query.where({ kind: among });
        })
        .where('due_at', '<=', new Date(nowMs))
        .whereNotIn('id', [...except])
        .orderBy('due_at')
        .limit(1)
        .forUpdate()
        .skipLocked()
        .pluck('id');
      return ids[0] ?? null;
    },

    /**
     * Takes it on oneself to tell of the next firing that is within so long, and nobody was told of yet: of cues and digests, which
     * go by themselves. @returns its number, or null
     */
    async takeStandby(nowMs: number, withinMs: number, isHouseTold = true): Promise<number | null> {
      return inTransaction(db, async (tx) => {
        const [id]: number[] = await tx('firing')
          .where({ state: 'set' })
          .whereBetween('due_at', [new Date(nowMs), new Date(nowMs + withinMs)])
          .whereNull('announced_at')
          .whereIn('kind', ['cue', 'digest'])
          // What answers somebody's step by the minute is many small ones.
          .whereNot('slot', 'like', '%Z@%')
          // Where the house names nobody, an event may.
          .where((or) =>
            or
              .whereRaw('?', [isHouseTold])
              .orWhereExists(
                tx('event as e').whereRaw(
                  "e.id = firing.event_id and (e.contact_email <> '' or e.contact_mobile <> '')",
                ),
              ),
          )
          .orderBy('due_at')
          .limit(1)
          .forUpdate()
          .skipLocked()
          .pluck('id');
        if (id === undefined) return null;
        await tx('firing')
          .where({ id })
          .update({ announced_at: new Date(nowMs) });
        return id;
      });
    },
    /** Nobody could be told. */
    async forgetStandby(id: number): Promise<void> {
      await db('firing').where({ id }).update({ announced_at: null });
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
    async closeFinished(ids: readonly number[], now: Date): Promise<number[]> {
      const closed: number[] = [];
      for (const id of ids) if (await inTransaction(db, (tx) => close(tx, id, now))) closed.push(id);
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

async function close(tx: Knex, id: number, now: Date): Promise<boolean> {
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
  await cameOfStore(tx).countClosed(id, now);
  return true;
}
