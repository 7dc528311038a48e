import { cueFields, noWording, type CueChange, type CueFields } from '@convite/contract';
import {
  dueAt,
  goesByZones,
  isExactStep,
  isOnPeople,
  isOfPeople,
  longestExactMs,
  noAudience,
  isOfPublication,
  isOfWhole,
  isWallTime,
  type Audience,
  type FieldType,
  type Moment,
  type Problem,
  type StepMoment,
} from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { checkAct } from './acts';
import { checkWording } from './check-wording';
import { Failure, notFound, refuseProblems, refuseStale } from '../failure';
import { askRelease } from '../release/ask-release';
import { standbyMsOf } from './standby';
import { aroundOf, planCues, zonesAround, type PlanningHouse } from './plan-firings';
import type { StoredCue } from '../../store/cues';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';

/**
 * Saves a cue, new when `id` is null, and plans its firings. A cue that is set must be whole and far enough ahead. The text that goes
 * with an email is saved through it: whatever is said of either holds for both, but for the words.
 */
export function saveCue(
  context: Context,
  eventId: number,
  id: number | null,
  { was, ...fields }: CueChange,
  actor: Actor,
): Promise<number> {
  return context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    if (!event) throw notFound('event');
    const known = id === null ? null : await tx.cues.find(id);
    if (id !== null && known?.eventId !== eventId) throw notFound('cue');
    if (known) refuseStale('cue', cueFields.parse(known), was);
    const main = known && known.textOf !== null ? await tx.cues.find(known.textOf) : null;
    if (!known || !main) return saveOwn(context, tx, { event, known }, fields, actor);
    await saveOwn(context, tx, { event, known: main }, asItsTextHasIt(main, fields), actor);
    return known.id;
  });
}

/** A cue by email as what was said of its text has it. */
const asItsTextHasIt = (main: CueFields, text: CueFields): CueFields => ({
  ...text,
  channel: main.channel,
  wording: main.wording,
  textWording: text.wording,
  audience: { ...text.audience, ...(main.audience.exceptTextable && { exceptTextable: true }) },
});

/** One that goes by its own channel alone. */
const alone = ({ textWording: _, audience: { exceptTextable: __, ...audience }, ...fields }: CueFields): CueFields => ({
  ...fields,
  audience,
});

/** One that writes to nobody. */
const doing = ({ name, moment, audience: { exceptTextable: _, ...audience }, act, isDraft }: CueFields): CueFields => ({
  ...{ name, moment, act, isDraft, channel: 'email', wording: noWording },
  // What is done once is for nobody in particular.
  audience: act && isOnPeople(act) ? audience : noAudience,
});

async function saveOwn(
  context: Context,
  tx: StoreSubjects,
  { event, known }: { readonly event: StoredEvent; readonly known: StoredCue | null },
  given: CueFields,
  actor: Actor,
): Promise<number> {
  const fields = given.act ? doing(given) : given.channel === 'email' && given.textWording ? given : alone(given);
  const nowMs = context.clock.now();
  const firings = known ? await tx.firings.ofCue(known.id) : [];
  const isOver =
    firings.some(({ state }) => state === 'sending') ||
    (!event.version.facts.series && firings.some(({ state }) => state === 'done'));
  if (isOver || known?.isRetired)
    throw new Failure(409, 'fired', 'This cue has fired; what was sent cannot be changed. Make a new cue.');
  refuseProblems(fields.isDraft ? [] : await checkCue(tx, fields, event, nowMs));
  if (fields.moment.kind === 'fixed' && !isWallTime(fields.moment.wall))
    refuseProblems([{ code: 'bad-date', path: 'moment' }]);
  if (known) {
    // Editing a stopped or missed cue is how a person sets it again.
    for (const firing of firings)
      if (firing.state === 'stopped' && !firing.isExpanded)
        await tx.firings.setUnfired(firing.id, ['stopped'], 'draft', firing.dueMs);
    await tx.cues.update(known.id, fields);
  }
  const cueId = known?.id ?? (await tx.cues.create(event.id, fields));
  if (fields.isDraft) await tx.releases.drop('cue', cueId);
  else await askRelease(context, tx, { what: 'cue', ref: cueId }, actor);
  await planCues(tx, event, await tx.cues.ofEvent(event.id), nowMs);
  await tx.firings.recountCue(cueId);
  const what = `${fields.name}, ${event.version.facts.title}`;
  await tx.house.audit(nowOf(context), actor, known ? 'cue: changed' : 'cue: added', what);
  await tx.live.touch('board', `event:${event.id}`);
  return cueId;
}

/** What must be right before a cue may be set; a draft may have gaps. */
export async function checkCue(
  store: Pick<StoreSubjects, 'fields' | 'house' | 'lists' | 'members' | 'subscribers' | 'webhooks'>,
  fields: CueFields,
  event: StoredEvent,
  nowMs: number,
): Promise<Problem[]> {
  const problems = fields.act ? await checkAct(store, fields.act) : checkWording(fields.wording, fields.channel);
  if (fields.textWording)
    problems.push(...checkWording(fields.textWording, 'text').map((one) => ({ ...one, path: `text.${one.path}` })));
  if (fields.moment.kind === 'own-date' && !isDated((await store.fields.find(fields.moment.field))?.type))
    problems.push({ code: 'no-date-field', path: 'moment' });
  if (fields.moment.kind === 'step') problems.push(...checkStep(fields.moment, event));
  if (!fields.act || isOnPeople(fields.act)) problems.push(...checkWhom(fields.audience));
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

/** Somebody has to be meant. */
export function checkWhom({
  invitees,
  came = [],
  places = [],
  lists,
  segments = [],
  people = [],
}: Audience): Problem[] {
  const isNobody = invitees.length + came.length + places.length + lists.length + segments.length + people.length === 0;
  return isNobody ? [{ code: 'no-audience', path: 'audience' }] : [];
}

/** What is counted exactly is not counted for long; a day has a clock time; nobody registers where nothing is registered for. */
function checkStep(moment: StepMoment, { version }: StoredEvent): Problem[] {
  const { amount, unit, at, step } = moment;
  const problems: Problem[] = [];
  if (isExactStep(moment)) {
    const minutes = amount * (unit === 'hours' ? 60 : 1);
    if (minutes < 1 || minutes * 60_000 > longestExactMs)
      problems.push({ code: 'bad-number', path: 'moment', facts: { least: 1, most: unit === 'hours' ? 72 : 4320 } });
  } else if (at === null || unit === 'minutes' || unit === 'hours') problems.push({ code: 'required', path: 'moment' });
  if (step !== 'invitation' && !version.facts.registration) problems.push({ code: 'no-registration', path: 'moment' });
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
  if (isOfPeople(moment) || facts.isPersonal || !isOfWhole(moment, facts)) return false;
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
    if (cue.textOf !== null) return parted(context, tx, { event, id: cue.textOf }, actor);
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

/** The email goes alone, then to everybody. */
async function parted(
  context: Context,
  tx: StoreSubjects,
  { event, id }: { readonly event: StoredEvent; readonly id: number },
  actor: Actor,
): Promise<void> {
  const known = await tx.cues.find(id);
  if (!known) throw notFound('cue');
  await saveOwn(context, tx, { event, known }, alone(cueFields.parse(known)), actor);
}

/** Its values have a day. */
const isDated = (type: FieldType | undefined): boolean => type === 'date' || type === 'date-time';
