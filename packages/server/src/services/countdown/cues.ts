import { cueFields, type CueChange, type CueFields } from '@convite/contract';
import { dueAt, goesByZones, isOfPublication, isOfWhole, isWallTime, type Moment, type Problem } from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { checkWording } from './check-wording';
import { Failure, notFound, refuseProblems, refuseStale } from '../failure';
import { askRelease } from '../release/ask-release';
import { standbyMsOf } from './standby';
import { aroundOf, planCues, zonesAround, type PlanningHouse } from './plan-firings';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';

/** Saves a cue, new when `id` is null, and plans its firing. A cue that is set must be whole and far enough ahead. */
export async function saveCue(
  context: Context,
  eventId: number,
  id: number | null,
  { was, ...fields }: CueChange,
  actor: Actor,
): Promise<number> {
  return context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    if (!event) throw notFound('event');
    const firings = id === null ? [] : await tx.firings.ofCue(id);
    const known = id === null ? null : await tx.cues.find(id);
    if (id !== null && known?.eventId !== eventId) throw notFound('cue');
    const isOver =
      firings.some(({ state }) => state === 'sending') ||
      (!event.version.facts.series && firings.some(({ state }) => state === 'done'));
    if (isOver || known?.isRetired)
      throw new Failure(409, 'fired', 'This cue has fired; what was sent cannot be changed. Make a new cue.');
    if (known) refuseStale('cue', cueFields.parse(known), was);
    refuseProblems(fields.isDraft ? [] : await checkCue(tx, fields, event, context.clock.now()));
    if (fields.moment.kind === 'fixed' && !isWallTime(fields.moment.wall))
      refuseProblems([{ code: 'bad-date', path: 'moment' }]);
    if (id !== null) {
      // Editing a stopped or missed cue is how a person sets it again.
      for (const firing of firings)
        if (firing.state === 'stopped' && !firing.isExpanded)
          await tx.firings.setUnfired(firing.id, ['stopped'], 'draft', firing.dueMs);
      await tx.cues.update(id, fields);
    }
    const cueId = id ?? (await tx.cues.create(eventId, fields));
    if (fields.isDraft) await tx.releases.drop('cue', cueId);
    else await askRelease(context, tx, { what: 'cue', ref: cueId }, actor);
    await planCues(tx, event, await tx.cues.ofEvent(eventId), context.clock.now());
    await tx.firings.recountCue(cueId);
    await tx.house.audit(
      nowOf(context),
      actor,
      id === null ? 'cue: added' : 'cue: changed',
      `${fields.name}, ${event.version.facts.title}`,
    );
    await tx.live.touch('board', `event:${eventId}`);
    return cueId;
  });
}

/** What must be right before a cue may be set; a draft may have gaps. */
export async function checkCue(
  store: Pick<StoreSubjects, 'fields' | 'house' | 'subscribers'>,
  fields: CueFields,
  event: StoredEvent,
  nowMs: number,
): Promise<Problem[]> {
  const problems = checkWording(fields.wording, fields.channel);
  if (fields.moment.kind === 'own-date' && (await store.fields.find(fields.moment.field))?.type !== 'date')
    problems.push({ code: 'no-date-field', path: 'moment' });
  const { invitees, lists, segments = [], people = [] } = fields.audience;
  if (invitees.length + lists.length + segments.length + people.length === 0)
    problems.push({ code: 'no-audience', path: 'audience' });
  if (fields.moment.kind === 'relative' && fields.moment.anchor === 'deadline' && !event.version.facts.registration)
    problems.push({ code: 'no-registration', path: 'moment' });
  if (fields.moment.kind === 'fixed' && !isWallTime(fields.moment.wall))
    problems.push({ code: 'bad-date', path: 'moment' });
  else {
    const settings = await store.house.settings();
    if (await isTooSoon(store, fields.moment, event, nowMs, settings))
      problems.push({ code: 'too-soon', path: 'moment', facts: { count: settings.standby.minutes } });
  }
  return problems;
}

/**
 * Is the one moment too close? A series has later dates for it, and so have people's own dates. By each person's clock some zones
 * may be too late where others are not: theirs is missed, and a person sees it.
 */
async function isTooSoon(
  store: Pick<StoreSubjects, 'subscribers'>,
  moment: Moment,
  event: StoredEvent,
  nowMs: number,
  settings: PlanningHouse,
): Promise<boolean> {
  const { facts } = event.version;
  if (moment.kind === 'own-date' || facts.isPersonal || !isOfWhole(moment, facts)) return false;
  const zones = goesByZones(moment) ? await zonesAround(store, event) : [facts.zone];
  // Of what is not published, nobody knows yet.
  if (isOfPublication(moment) && event.publishedAt === null) return false;
  const around = aroundOf(settings, event);
  return zones.every((zone) => dueAt(moment, facts, zone, around) < nowMs + standbyMsOf(settings));
}

/** Removes a cue. One that has fired for some dates of a series keeps its past and is planned no more. */
export async function removeCue(context: Context, eventId: number, id: number, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    const cue = await tx.cues.find(id);
    if (!event || cue?.eventId !== eventId) throw notFound('cue');
    const firings = await tx.firings.ofCue(id);
    const hasFired = firings.some(({ isExpanded }) => isExpanded);
    if (hasFired && !event.version.facts.series)
      throw new Failure(409, 'fired', 'This cue has fired; it stays, with what became of it.');
    if (hasFired) {
      await tx.cues.retire(id);
      await tx.firings.deleteUnfired(firings.map((firing) => firing.id));
    } else await tx.cues.remove(id);
    await tx.releases.drop('cue', id);
    await tx.house.audit(nowOf(context), actor, 'cue: removed', cue.name);
    await tx.live.touch('board', `event:${eventId}`);
  });
}
