import {
  cueFields,
  mostPlanCues,
  mostPlans,
  type KeepPlan,
  type PlanCue,
  type PlanRow,
  type PlanSource,
} from '@convite/contract';
import { isOwnCue } from '../../store/cues';
import { isDuplicate } from '../../store/database';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { getEvent } from '../events/get-event';
import { Failure, notFound } from '../failure';
import { housePlans } from './house-plans';

/** The plans there are: the house's own by name, then those that come with Convite. */
export async function listPlans({ store }: Context): Promise<PlanRow[]> {
  const own = await store.plans.all(mostPlans);
  return [
    ...own.map(({ id, savedAt, ...plan }) => ({
      ...plan,
      source: { kind: 'plan', id } as const,
      savedAt: savedAt.toISOString(),
    })),
    ...housePlans.map(({ key, name, says, cues }) => ({
      source: { kind: 'house', name: key } as const,
      name,
      says,
      cues: cues.length,
      savedAt: null,
      savedBy: '',
    })),
  ];
}

/** What there is to take over from a plan, or from another event. @throws Failure 404 where it is gone */
export async function cuesOfSource(
  store: Pick<StoreSubjects, 'plans' | 'cues' | 'events'>,
  source: PlanSource,
): Promise<{ readonly name: string; readonly cues: readonly PlanCue[] }> {
  if (source.kind === 'house') {
    const plan = housePlans.find(({ key }) => key === source.name);
    if (!plan) throw notFound('plan');
    return plan;
  }
  if (source.kind === 'plan') {
    const plan = await store.plans.find(source.id);
    if (!plan) throw notFound('plan');
    return plan;
  }
  const event = await store.events.find(source.id);
  if (!event) throw notFound('event');
  const cues = (await store.cues.ofEvent(source.id)).filter(isOwnCue);
  return { name: event.version.facts.title, cues: cues.map((cue) => ({ ...cueFields.parse(cue), key: cue.id })) };
}

/**
 * Keeps the cues of an event as a plan. In place of one, a cue that was made of it stays the same cue, whatever became of it.
 * @returns its number
 */
export async function keepPlan(context: Context, { eventId, id, name, says }: KeepPlan, actor: Actor): Promise<number> {
  await getEvent(context, eventId);
  try {
    return await context.store.transact(async (tx) => {
      const known = id === null ? null : await tx.plans.find(id, true);
      if (id !== null && !known) throw notFound('plan');
      if (!known && (await tx.plans.count()) >= mostPlans)
        throw new Failure(409, 'too-many', `There are ${mostPlans} plans already: remove one that nobody uses.`);
      const stored = (await tx.cues.ofEvent(eventId)).filter(isOwnCue);
      if (stored.length === 0) throw new Failure(422, 'no-cues', 'This event has no cue to keep.');
      if (stored.length > mostPlanCues)
        throw new Failure(422, 'too-many', `A plan has ${mostPlanCues} cues at the most; there are ${stored.length}.`);
      const keys = new Map(
        id === null ? [] : (await tx.plans.cuesOf(id, eventId)).map(({ cueId, key }) => [cueId, key]),
      );
      let nextKey = known?.nextKey ?? 1;
      const keyed = stored.map((cue) => ({ cue, key: keys.get(cue.id) ?? nextKey++ }));
      const cues = keyed.map(({ cue, key }) => ({ ...cueFields.parse(cue), key }));
      const planId = known?.id ?? (await tx.plans.create({ name, says, cues, nextKey }, actor.name, nowOf(context)));
      if (known) await tx.plans.update({ id: planId, name, says, cues, nextKey }, actor.name, nowOf(context));
      for (const { cue, key } of keyed) await tx.plans.noteCue(planId, cue.id, key, cue);
      await tx.plans.noteSeen({ id: planId, nextKey }, eventId);
      await tx.house.audit(nowOf(context), actor, known ? 'plan: changed' : 'plan: kept', name);
      return planId;
    });
  } catch (error) {
    if (isDuplicate(error)) throw new Failure(409, 'name-taken', `There is a plan called “${name}” already.`);
    throw error;
  }
}

/** The cues that were made of it stay. */
export async function removePlan(context: Context, id: number, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const plan = await tx.plans.find(id, true);
    if (!plan) throw notFound('plan');
    await tx.plans.remove(id);
    await tx.house.audit(nowOf(context), actor, 'plan: removed', plan.name);
  });
}
