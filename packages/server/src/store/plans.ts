import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import * as z from 'zod';
import { cueFields, planCue, type CueFields, type PlanCue } from '@convite/contract';
import { readJson } from './database';

export interface StoredPlan {
  readonly id: number;
  readonly name: string;
  readonly says: string;
  readonly cues: readonly PlanCue[];
  /** The next cue that is new to it has this key. */
  readonly nextKey: number;
}
/** A cue made of a plan. */
export interface CueOfPlan {
  readonly cueId: number;
  readonly key: number;
  readonly mark: string;
}

/** A cue in 43 letters: whether it was changed since is seen by it. To set a draft is no change of it. */
export const cueMark = (fields: CueFields): string =>
  createHash('sha256')
    .update(JSON.stringify({ ...cueFields.parse(fields), isDraft: false }))
    .digest('base64url');

export function planStore(db: Knex) {
  const rowOf = (plan: Omit<StoredPlan, 'id'>, by: string, now: Date) => ({
    name: plan.name,
    says: plan.says,
    cues: JSON.stringify(plan.cues),
    cue_count: plan.cues.length,
    next_key: plan.nextKey,
    saved_by: by,
    saved_at: now,
  });
  return {
    /** By name, without what they hold. */
    async all(
      most: number,
    ): Promise<{ id: number; name: string; says: string; cues: number; savedBy: string; savedAt: Date }[]> {
      const rows: { id: number; name: string; says: string; cue_count: number; saved_by: string; saved_at: Date }[] =
        await db('plan').orderBy('name').limit(most).select('id', 'name', 'says', 'cue_count', 'saved_by', 'saved_at');
      return rows.map(({ id, name, says, cue_count, saved_by, saved_at }) => ({
        id,
        name,
        says,
        cues: cue_count,
        savedBy: saved_by,
        savedAt: saved_at,
      }));
    },
    async count(): Promise<number> {
      const [row] = await db('plan').count({ n: '*' });
      return Number(row?.['n'] ?? 0);
    },
    async find(id: number, lock = false): Promise<StoredPlan | null> {
      const row: PlanRowStored | undefined = await db('plan')
        .where({ id })
        .modify((query) => void (lock && query.forUpdate()))
        .first();
      return row
        ? {
            id: row.id,
            name: row.name,
            says: row.says,
            cues: z.array(planCue).parse(readJson(row.cues)),
            nextKey: row.next_key,
          }
        : null;
    },
    /** @throws a duplicate-key error (see isDuplicate) when a plan of that name exists */
    async create(plan: Omit<StoredPlan, 'id'>, by: string, now: Date): Promise<number> {
      const [id] = await db('plan').insert(rowOf(plan, by, now));
      return Number(id);
    },
    async update({ id, ...plan }: StoredPlan, by: string, now: Date): Promise<void> {
      await db('plan')
        .where({ id })
        .update(rowOf(plan, by, now));
    },
    async remove(id: number): Promise<void> {
      await db('plan').where({ id }).delete();
    },
    /** Notes that a cue stands as the plan says. */
    async noteCue(planId: number, cueId: number, key: number, fields: CueFields): Promise<void> {
      await db('cue_of_plan')
        .insert({ cue_id: cueId, plan_id: planId, plan_key: key, mark: cueMark(fields) })
        .onConflict('cue_id')
        .merge();
    },
    /** The cues of an event that were made of a plan. */
    async cuesOf(planId: number, eventId: number): Promise<CueOfPlan[]> {
      const rows: { cue_id: number; plan_key: number; mark: string }[] = await db('cue as c')
        .join('cue_of_plan as p', 'p.cue_id', 'c.id')
        .where({ 'c.event_id': eventId, 'c.is_retired': false, 'p.plan_id': planId })
        .select('p.cue_id', 'p.plan_key', 'p.mark');
      return rows.map(({ cue_id, plan_key, mark }) => ({ cueId: cue_id, key: plan_key, mark }));
    },
    /** Events that used a plan, newest first. */
    async eventsOf(planId: number, most: number): Promise<number[]> {
      return db('plan_of_event').where({ plan_id: planId }).orderBy('event_id', 'desc').limit(most).pluck('event_id');
    },
    /** Which cues of a plan an event knows of; 0 where it never used it. */
    async seenBy(planId: number, eventId: number): Promise<number> {
      const row: { seen_key: number } | undefined = await db('plan_of_event')
        .where({ plan_id: planId, event_id: eventId })
        .first('seen_key');
      return row?.seen_key ?? 0;
    },
    /** It has looked at all that the plan holds by now. */
    async noteSeen({ id, nextKey }: Pick<StoredPlan, 'id' | 'nextKey'>, eventId: number): Promise<void> {
      await db('plan_of_event')
        .insert({ plan_id: id, event_id: eventId, seen_key: nextKey - 1 })
        .onConflict()
        .merge(['seen_key']);
    },
  };
}

interface PlanRowStored {
  id: number;
  name: string;
  says: string;
  cues: unknown;
  next_key: number;
}
