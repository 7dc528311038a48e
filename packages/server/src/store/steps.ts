import type { Step } from '@convite/core';
import type { Knex } from 'knex';
import { stepColumns } from './condition-sql';

/** People who took a step at the same instant, about the same date, in the same zone. */
export interface StepTaken {
  readonly atMs: number;
  /** The date's key; empty for the whole event. */
  readonly date: string;
  /** Empty where it was not asked for, or is not known. */
  readonly zone: string;
}
/** A cue that is to be looked at for steps taken since. */
export interface StepsDue {
  readonly cueId: number;
  /** Null for one that was not looked at since it was saved. */
  readonly seenMs: number | null;
}

/** What people do about an event, as the cues that are counted from it are planned. */
export function stepStore(db: Knex) {
  return {
    /** Takes the next cue to look at; to be called in a transaction, which holds its row until that says when it is looked at again. */
    async takeDue(nowMs: number): Promise<StepsDue | null> {
      const row: { id: number; steps_seen_at: Date | null } | undefined = await db('cue')
        .where('steps_look_at', '<=', new Date(nowMs))
        .orderBy('steps_look_at')
        .forUpdate()
        .skipLocked()
        .first('id', 'steps_seen_at');
      return row ? { cueId: row.id, seenMs: row.steps_seen_at?.getTime() ?? null } : null;
    },
    /** @param nextMs when it is looked at again; null for not before its event changes */
    async noteSeen(cueId: number, seenMs: number | null, nextMs: number | null): Promise<void> {
      await db('cue')
        .where({ id: cueId })
        .update({
          steps_look_at: nextMs === null ? null : new Date(nextMs),
          ...(seenMs !== null && { steps_seen_at: new Date(seenMs) }),
        });
    },
    /** The clock was put back: all are looked at anew. */
    async lookAnew(nowMs: number): Promise<void> {
      await db('cue')
        .where('steps_look_at', '>', new Date(nowMs))
        .update({ steps_look_at: new Date(nowMs), steps_seen_at: null });
    },
    /** The event changed: its cues may have steps to look at again. */
    async wake(cueIds: readonly number[], nowMs: number): Promise<void> {
      if (cueIds.length)
        await db('cue')
          .whereIn('id', [...cueIds])
          .update({ steps_look_at: new Date(nowMs) });
    },
    /**
     * Steps from an instant on, oldest first, so many at the most.
     * @param after the last that was read; null to begin with
     */
    async since(
      { eventId, step }: { readonly eventId: number; readonly step: Step },
      { fromMs, after }: { readonly fromMs: number; readonly after: StepTaken | null },
      isByZone: boolean,
      most: number,
    ): Promise<StepTaken[]> {
      const from = new Date(after?.atMs ?? fromMs);
      const { table, at, also } = stepColumns[step];
      const date = table === 'registration' ? 'm.occurrence' : "''";
      const zone = isByZone ? "coalesce(s.zone, '')" : "''";
      const [rows = []]: { at: Date; date: string; zone: string }[][] = await db.raw(
        `select m.${at} as at, ${date} as date, ${zone} as zone
         from ${table} m ${isByZone ? 'join subscriber s on s.id = m.subscriber_id' : ''}
         where m.event_id = ? and m.${at} >= ? and ${also}
           and (? or m.${at} > ? or ${date} > ? or (${date} = ? and ${zone} > ?))
         group by 1, 2, 3 order by 1, 2, 3 limit ?`,
        [eventId, from, after === null, from, after?.date ?? '', after?.date ?? '', after?.zone ?? '', most],
      );
      return rows.map((row) => ({ atMs: row.at.getTime(), date: row.date, zone: row.zone }));
    },
  };
}
