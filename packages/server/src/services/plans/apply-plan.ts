import {
  cueFields,
  type ApplyPlan,
  type CueFields,
  type PlanApplied,
  type PlanCue,
  type PlanFit,
  type PlanSource,
} from '@convite/contract';
import {
  dateDueNext,
  dueAt,
  isOfPeople,
  isOfPublication,
  type EpochMs,
  type MomentAround,
  type Problem,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { checkCue } from '../countdown/cues';
import { aroundOf, planCues } from '../countdown/plan-firings';
import { getEvent } from '../events/get-event';
import { Failure, notFound } from '../failure';
import { askRelease } from '../release/ask-release';
import { cuesOfSource } from './plans';

/** What the cues of a plan, or of another event, would be for this one: when each would go, and what does not fit. */
export async function fitPlan(context: Context, eventId: number, source: PlanSource): Promise<PlanFit> {
  const { store, clock } = context;
  const event = await getEvent(context, eventId);
  const { name, cues } = await cuesOfSource(store, source);
  const around = aroundOf(await store.house.settings(), event);
  const fit = await fitter(store, event, clock.now());
  return {
    name,
    cues: await Promise.all(
      cues.map(async (cue) => {
        const { problems } = await fit(cue);
        const dueMs = dueOnEvent(cue, event, clock.now(), around);
        return {
          key: cue.key,
          name: cue.name,
          channel: cue.channel,
          hasText: cue.textWording !== undefined,
          moment: cue.moment,
          dueAt: dueMs === null ? null : new Date(dueMs).toISOString(),
          problems: problems.map(({ facts = {}, ...problem }) => ({ ...problem, facts })),
          canBeKept: !isTooLate(problems),
        };
      }),
    ),
  };
}

/** Takes the chosen cues over, and plans them. What does not fit whole becomes a draft; what would be missed at once is left. */
export async function applyPlan(
  context: Context,
  eventId: number,
  { source, keys, isDraft }: ApplyPlan,
  actor: Actor,
): Promise<PlanApplied> {
  return context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    if (!event) throw notFound('event');
    if (event.version.calledOff) throw new Failure(409, 'called-off', 'This event was called off.');
    const { name, cues } = await cuesOfSource(tx, source);
    const fit = await fitter(tx, event, context.clock.now());
    const done = { set: 0, drafts: 0 };
    for (const cue of cues.filter(({ key }) => keys.includes(key))) {
      const { fields, problems } = await fit(cue);
      if (isTooLate(problems)) continue;
      const taken = { ...fields, isDraft: isDraft || fields.isDraft || problems.length > 0 };
      const id = await tx.cues.create(eventId, taken);
      if (source.kind === 'plan') await tx.plans.noteCue(source.id, id, cue.key, taken);
      if (!taken.isDraft) await askRelease(context, tx, { what: 'cue', ref: id }, actor);
      done[taken.isDraft ? 'drafts' : 'set'] += 1;
    }
    const plan = source.kind === 'plan' ? await tx.plans.find(source.id) : null;
    if (plan) await tx.plans.noteSeen(plan, eventId);
    await planCues(tx, event, await tx.cues.ofEvent(eventId), context.clock.now());
    const what = `${name}, for ${event.version.facts.title}: ${done.set} set, ${done.drafts} as drafts`;
    await tx.house.audit(nowOf(context), actor, 'plan: used', what);
    await tx.live.touch('board', `event:${eventId}`);
    return done;
  });
}

const isTooLate = (problems: readonly Problem[]): boolean => problems.some(({ code }) => code === 'too-soon');

/** A cue as it can stand on an event: without lists and segments that are gone, with all that does not fit. */
export async function fitter(
  store: StoreSubjects,
  event: StoredEvent,
  nowMs: EpochMs,
): Promise<(cue: PlanCue) => Promise<{ readonly fields: CueFields; readonly problems: readonly Problem[] }>> {
  const lists = new Set((await store.lists.all()).map(({ id }) => id));
  const segments = new Set((await store.segments.known()).keys());
  return async (cue) => {
    const { audience } = cue;
    const has = (known: ReadonlySet<number>, ids: readonly number[] = []): number[] =>
      ids.filter((id) => known.has(id));
    const kept = {
      ...audience,
      lists: has(lists, audience.lists),
      exceptLists: has(lists, audience.exceptLists),
      ...(audience.segments && { segments: has(segments, audience.segments) }),
      ...(audience.exceptSegments && { exceptSegments: has(segments, audience.exceptSegments) }),
    };
    const fields = cueFields.parse({ ...cue, audience: kept });
    const gone = sizeOf(audience) - sizeOf(kept);
    return {
      fields,
      problems: [
        ...(gone > 0 ? [{ code: 'audience-gone' as const, path: 'audience', facts: { count: gone } }] : []),
        ...(await checkCue(store, fields, event, nowMs)),
      ],
    };
  };
}

const sizeOf = ({ lists, exceptLists, segments = [], exceptSegments = [] }: CueFields['audience']): number =>
  lists.length + exceptLists.length + segments.length + exceptSegments.length;

/** When a cue would go, of a series for the first date that it can; null while nobody can say. */
function dueOnEvent(cue: CueFields, event: StoredEvent, nowMs: EpochMs, around: MomentAround): EpochMs | null {
  const { moment } = cue;
  if (isOfPeople(moment) || (isOfPublication(moment) && around.publishedMs === null)) return null;
  const { facts } = event.version;
  const date = facts.series ? dateDueNext(moment, facts, nowMs, around) : null;
  return dueAt(moment, date?.facts ?? facts, facts.zone, around);
}
