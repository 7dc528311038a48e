import { cueFields, type PlanFollowed, type PlanFollower, type PlanFollowers } from '@convite/contract';
import { nextOccurrence } from '@convite/core';
import { cueMark, type CueOfPlan, type StoredPlan } from '../../store/plans';
import type { StoredCue } from '../../store/cues';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { planCues } from '../countdown/plan-firings';
import { notFound } from '../failure';
import { askRelease } from '../release/ask-release';
import { fitter } from './apply-plan';

/** So many events are asked about at once. */
const mostFollowers = 200;

/** The events still to come whose cues were made of a plan, to be asked which of them follow its change. */
export async function planFollowersOf({ store, clock }: Context, planId: number): Promise<PlanFollowers> {
  const plan = await store.plans.find(planId);
  if (!plan) throw notFound('plan');
  const ids = await store.plans.eventsOf(planId, mostFollowers + 1);
  const events = await store.events.findMany(ids.slice(0, mostFollowers));
  const rows: PlanFollower[] = [];
  for (const event of events.values()) {
    const { facts, calledOff } = event.version;
    const next = calledOff ? null : nextOccurrence(facts, clock.now());
    if (!next) continue;
    const { mine, changed } = await standing(store, plan, event.id);
    rows.push({
      eventId: event.id,
      title: facts.title,
      startAt: new Date(next.startMs).toISOString(),
      zone: facts.zone,
      cues: mine.length,
      changed: changed.size,
    });
  }
  return { rows: rows.sort((a, b) => a.startAt.localeCompare(b.startAt)), hasMore: ids.length > mostFollowers };
}

/** The cues of an event that were made of the plan, those of them that somebody changed since, and those that have fired. */
async function standing(
  store: Pick<StoreSubjects, 'plans' | 'cues'>,
  plan: StoredPlan,
  eventId: number,
): Promise<{ readonly mine: CueOfPlan[]; readonly cues: Map<number, StoredCue>; readonly changed: Set<number> }> {
  const mine = await store.plans.cuesOf(plan.id, eventId);
  const cues = await store.cues.findMany(mine.map(({ cueId }) => cueId));
  const isChanged = ({ cueId, mark }: CueOfPlan): boolean => {
    const cue = cues.get(cueId);
    return !cue || cueMark(cue) !== mark;
  };
  return { mine, cues, changed: new Set(mine.filter(isChanged).map(({ cueId }) => cueId)) };
}

/** Brings events in line with a plan, each for itself: what somebody changed there by hand stays, and so does what has fired. */
export async function followPlan(
  context: Context,
  planId: number,
  eventIds: readonly number[],
  actor: Actor,
): Promise<PlanFollowed> {
  const total = { changed: 0, added: 0, removed: 0, drafts: 0 };
  for (const eventId of eventIds) {
    const one = await context.store.transact((tx) => followOne(context, tx, { planId, eventId }, actor));
    for (const key of ['changed', 'added', 'removed', 'drafts'] as const) total[key] += one[key];
  }
  return total;
}

async function followOne(
  context: Context,
  tx: StoreSubjects,
  { planId, eventId }: { readonly planId: number; readonly eventId: number },
  actor: Actor,
): Promise<PlanFollowed> {
  const done = { changed: 0, added: 0, removed: 0, drafts: 0 };
  const event = await tx.events.findForUpdate(eventId);
  const plan = await tx.plans.find(planId);
  if (!plan) throw notFound('plan');
  if (!event || event.version.calledOff) return done;
  const { mine, cues, changed } = await standing(tx, plan, eventId);
  const fit = await fitter(tx, event, context.clock.now());
  const save = async (key: number, id: number | null): Promise<void> => {
    const wanted = plan.cues.find((cue) => cue.key === key);
    if (!wanted) return;
    const { fields, problems } = await fit(wanted);
    // What stands set there stays so, as far as it fits.
    const wasDraft = cues.get(id ?? 0)?.isDraft ?? fields.isDraft;
    const taken = { ...fields, isDraft: wasDraft || problems.length > 0 };
    const cueId = id ?? (await tx.cues.create(eventId, taken));
    if (id !== null) await tx.cues.update(id, taken);
    await tx.plans.noteCue(planId, cueId, key, taken);
    if (taken.isDraft) await tx.releases.drop('cue', cueId);
    else await askRelease(context, tx, { what: 'cue', ref: cueId }, actor);
    done[id === null ? 'added' : 'changed'] += 1;
    done.drafts += taken.isDraft ? 1 : 0;
  };
  for (const { cueId, key } of mine) {
    const cue = cues.get(cueId);
    const firings = await tx.firings.ofCue(cueId);
    // Of a series what has gone keeps what it said: a firing's own content is frozen.
    const isOver = !event.version.facts.series && firings.some(({ isExpanded }) => isExpanded);
    const wanted = plan.cues.find((one) => one.key === key);
    if (!cue || changed.has(cueId) || isOver || (wanted && cueMark(wanted) === cueMark(cueFields.parse(cue)))) continue;
    if (wanted) await save(key, cueId);
    else if (firings.some(({ isExpanded }) => isExpanded)) {
      await tx.cues.retire(cueId);
      await tx.firings.deleteUnfired(firings.map(({ id }) => id));
      done.removed += 1;
    } else {
      await tx.cues.remove(cueId);
      await tx.releases.drop('cue', cueId);
      done.removed += 1;
    }
  }
  const seen = await tx.plans.seenBy(planId, eventId);
  for (const { key } of plan.cues) if (key > seen) await save(key, null);
  await tx.plans.noteSeen(plan, eventId);
  if (done.changed + done.added + done.removed === 0) return done;
  await planCues(tx, event, await tx.cues.ofEvent(eventId), context.clock.now());
  await tx.house.audit(nowOf(context), actor, 'plan: followed', `${plan.name}, by ${event.version.facts.title}`);
  await tx.live.touch('board', `event:${eventId}`);
  return done;
}
