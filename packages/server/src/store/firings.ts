import type { Knex } from 'knex';
import type { StoredFiringState } from '@convite/core';
import { closeFirings } from './close-firings';
import { firingBoard } from './firing-board';
import { firingCourse } from './firing-course';
import { firingCounts } from './firing-counts';
import { firingPlans } from './firing-plans';
import { isMinuteSlot } from '@convite/core';
import { firingOf, manyFirings, withItsText, type FiringRow, type StoredFiring } from './firing-rows';
import { lateJoiners } from './late-joiners';
import { readOne } from './per-row';

export type { StoredFiring } from './firing-rows';

/** A zone that a cue's firings for a slot are for, and whether it is still to go there. */
interface ZoneOfSlot {
  readonly zone: string;
  readonly isAhead: boolean;
}

export function firingStore(db: Knex) {
  return {
    ...firingReads(db),
    ...closeFirings(db),
    ...lateJoiners(db),
    ...firingBoard(db),
    ...firingPlans(db),
    ...firingCourse(db),
    ...firingCounts(db),
  };
}

function firingReads(db: Knex) {
  return {
    async find(id: number): Promise<StoredFiring | null> {
      const row: FiringRow | undefined = await db('firing').where({ id }).first();
      return row ? readOne(db, 'firing', row, firingOf) : null;
    },
    async findMany(ids: readonly number[]): Promise<StoredFiring[]> {
      return ids.length ? manyFirings(db('firing').whereIn('id', [...ids])) : [];
    },
    /** Those of an event's cues: what is or was due since then, and of each cue the last before. */
    async ofCues(cueIds: readonly number[], sinceMs: number): Promise<StoredFiring[]> {
      const since = new Date(sinceMs);
      const ofCue = (id: number) => db('firing').where({ cue_id: id });
      const parts = await Promise.all(
        cueIds.flatMap((id) => [
          manyFirings(ofCue(id).where('due_at', '>=', since).orderBy('due_at')),
          manyFirings(ofCue(id).where('due_at', '<', since).orderBy('due_at', 'desc').limit(1)),
        ]),
      );
      return parts.flat().sort((a, b) => a.dueMs - b.dueMs || a.id - b.id);
    },
    /** All of an event, whenever they were due. */
    ofEvent: (eventId: number) => manyFirings(db('firing').where({ event_id: eventId }).orderBy('due_at')),
    /** All of one cue and of its text, whenever they were due. */
    async ofCue(cueId: number): Promise<StoredFiring[]> {
      return manyFirings(
        db('firing')
          .whereIn('cue_id', await withItsText(db, cueId))
          .orderBy('due_at'),
      );
    },
    /** The zones that a cue's firings for one slot are for, and whether each is still to go. */
    async zonesOf(cueId: number, slot: string): Promise<ZoneOfSlot[]> {
      return (await this.zonesOfMany([{ cueId, slot }]))(cueId, slot);
    },
    /** The same of several, read at once. */
    async zonesOfMany(
      slots: readonly { readonly cueId: number; readonly slot: string }[],
    ): Promise<(cueId: number, slot: string) => ZoneOfSlot[]> {
      const rows: { cue_id: number; slot: string; zone: string; is_expanded: number }[] = slots.length
        ? await db('firing')
            .whereIn(
              ['cue_id', 'slot'],
              slots.map(({ cueId, slot }) => [cueId, slot]),
            )
            .whereNot('zone', '')
            .orderBy('zone')
            .select('cue_id', 'slot', 'zone', 'is_expanded')
        : [];
      return (cueId, slot) =>
        rows
          .filter((row) => row.cue_id === cueId && row.slot === slot)
          .map((row) => ({ zone: row.zone, isAhead: !row.is_expanded }));
    },
    /**
     * A firing with those of the same cue and slot for other zones, or with the others by the minute that stand as it does: one thing,
     * as people see it.
     */
    async withOtherZones({ id, cueId, slot, zone, state }: StoredFiring): Promise<number[]> {
      if (cueId !== null && isMinuteSlot(slot))
        return db('firing').where({ cue_id: cueId, state }).where('slot', 'like', '%Z@%').orderBy('due_at').pluck('id');
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
        manyFirings(ofCues(['draft', 'set', 'missed', 'stopped'])),
        manyFirings(ofCues(['done', 'failed', 'sending']).where('due_at', '>=', new Date(sinceMs))),
      ]);
      return parts.flat();
    },
    ofDigest: (digestId: number, fromMs: number) =>
      manyFirings(
        db('firing').where({ digest_id: digestId }).where('due_at', '>=', new Date(fromMs)).orderBy('due_at').limit(8),
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
    /** When a firing will next be due, by the shared clock; null when none is set. */
    async nextDueMs(): Promise<number | null> {
      const row: { due_at: Date } | undefined = await db('firing')
        .where({ state: 'set' })
        .orderBy('due_at')
        .first('due_at');
      return row?.due_at.getTime() ?? null;
    },
    /** Of an event, what is set or on its way. */
    underWay: (eventId: number) =>
      manyFirings(db('firing').where({ event_id: eventId }).whereIn('state', ['set', 'sending'])),
    /** What is open though nothing of it waits or is on its way: whoever sent its last message died before closing it. */
    async leftOpen(): Promise<number[]> {
      const [rows = []]: { id: number }[][] = await db.raw(
        // One look for each, by key; as "not exists" all that waits would be put together first.
        `select f.id from firing f where f.state = 'sending' and f.is_expanded
           and (select d.id from delivery d where d.firing_id = f.id and d.state in ('queued', 'sending') limit 1) is null`,
      );
      return rows.map(({ id }) => id);
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
