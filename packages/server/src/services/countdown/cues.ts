import { cueFields, type CueChange, type CueFields, type CuePreview } from '@convite/contract';
import {
  countsDown,
  dateDueNext,
  dueAt,
  dueOfOwnDate,
  goesByZones,
  instantsOf,
  isDay,
  isOfPublication,
  isOfWhole,
  isZone,
  nextOwnDay,
  isWallTime,
  personalFacts,
  wallTimeAt,
  wholeEvent,
  whoOf,
  type EventFacts,
  type FieldValue,
  type Moment,
  type MomentAround,
  type Problem,
  type Tree,
  type Who,
} from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { checkWording } from './check-wording';
import { contentIfSent } from '../sending/if-sent';
import { shownOfEvent } from '../sending/shown-message';
import { getEvent } from '../events/get-event';
import { Failure, notFound, refuseProblems, refuseStale } from '../failure';
import { previewPerson } from '../sending/invite';
import { asAllowed } from '../sending/as-allowed';
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

/** What a chosen person would get, when, and who does not, because: by the same functions that send. */
export async function previewCue(
  context: Context,
  eventId: number,
  fields: CueFields,
  personId: number | null,
): Promise<CuePreview> {
  const event = await getEvent(context, eventId);
  const settings = await context.store.house.settings();
  const { moment } = fields;
  const around = aroundOf(settings, event);
  const date = dateDueNext(moment, event.version.facts, context.clock.now(), around);
  const who = await whoNext(context, event, fields);
  const chosen = personId ?? (await context.store.audiences.firstOf(who, fields.channel));
  const person = await previewPerson(context, eventId, chosen, date?.key);
  const facts = await context.store.personFacts.of(person.id, context.clock.now());
  const shown = personalFacts(date?.facts ?? event.version.facts, person.own);
  const about = {
    channel: fields.channel,
    content: contentIfSent('cue', { document: fields.wording, version: event.version.number }, context.clock.now()),
    occurrence: date?.key ?? '',
    guests: [],
    atMs: context.clock.now(),
  };
  const ownDate = moment.kind === 'own-date' ? facts?.fields.get(moment.field) : undefined;
  const dueMs = dueForPerson(moment, shown, { zone: person.zone, ownDate }, context.clock.now(), around);
  return {
    dueAt: dueMs === null ? null : new Date(dueMs).toISOString(),
    person: {
      id: person.id,
      name: person.name,
      whyNot:
        facts && ((await context.store.audiences.whyNot(who, fields.channel, [person.id])).get(person.id) ?? null),
      waitsUntil: facts ? isoOrNull(who.quiet?.waits.find(({ zone }) => zone === person.zone)?.untilMs) : null,
      zone: person.zone,
      leftOutBy: facts ? await sayLeftOut(context, await context.store.audiences.leftOutBy(who, person.id)) : '',
    },
    message: await shownOfEvent(context, settings, event, about, { person, facts: shown }),
    problems: await checkCue(context.store, fields, event, context.clock.now()),
  };
}

const isoOrNull = (atMs: number | undefined): string | null =>
  atMs === undefined ? null : new Date(atMs).toISOString();

/** What leaves somebody out, by its name; empty where nothing does. */
async function sayLeftOut({ store }: Context, tree: Tree | null): Promise<string> {
  if (tree?.kind === 'list') {
    const lists = await store.lists.all();
    const names = lists.filter(({ id }) => tree.lists.includes(id)).map(({ name }) => name);
    return `the ${names.length === 1 ? 'list' : 'lists'} ${names.join(', ')}`;
  }
  if (tree?.kind === 'segment') {
    const segments = await store.segments.all();
    const names = segments.filter(({ id }) => tree.segments.includes(id)).map(({ name }) => name);
    return `the ${names.length === 1 ? 'segment' : 'segments'} ${names.join(', ')}`;
  }
  return tree?.kind === 'person' ? 'hand' : '';
}

/** Who would get a cue for the date that it is due for next; of people's own dates, whoever has one. */
export async function whoNext(
  { store, clock }: Context,
  event: StoredEvent,
  { audience, moment, channel }: Pick<CueFields, 'audience' | 'moment' | 'channel'>,
): Promise<Who> {
  const { id, version } = event;
  const { facts } = version;
  const nowMs = clock.now();
  const around = aroundOf(await store.house.settings(), event);
  const message = { kind: 'cue', channel, firing: null, eventZone: facts.zone } as const;
  if (moment.kind !== 'own-date') {
    const date = dateDueNext(moment, facts, nowMs, around);
    const next = date?.facts ?? facts;
    const dueIn = (zone: string): number =>
      Math.max(nowMs, dueForPerson(moment, next, { zone, ownDate: undefined }, nowMs, around) ?? nowMs);
    const startsMs = countsDown(moment) && !facts.isPersonal ? (date?.startMs ?? instantsOf(next).startMs) : null;
    const who = whoOf(audience, { ...wholeEvent(id), occurrence: date?.key ?? '' });
    return asAllowed(store, who, { ...message, atMs: dueIn(facts.zone), dueIn, startsMs });
  }
  const hasOne = { kind: 'field', field: moment.field, test: { is: 'filled' } } as const;
  // Each has it on a day of their own, at the same time of day.
  const today = wallTimeAt(nowMs, facts.zone).slice(0, 10);
  const dueIn = (zone: string): number => dueOfOwnDate(moment, today, clockFor(moment, zone, facts.zone), around);
  return asAllowed(store, whoOf(audience, { ...wholeEvent(id), also: [hasOne] }), { ...message, atMs: nowMs, dueIn });
}

/** Whose clock a moment is read on. */
const clockFor = (moment: Moment, zone: string, home: string): string =>
  goesByZones(moment) && isZone(zone) ? zone : home;

/** When the moment comes for one person; null for none, or while it is not a time yet. */
function dueForPerson(
  moment: Moment,
  facts: EventFacts,
  { zone, ownDate }: { readonly zone: string; readonly ownDate: FieldValue | undefined },
  nowMs: number,
  around: MomentAround,
): number | null {
  const clock = clockFor(moment, zone, facts.zone);
  if (moment.kind !== 'own-date')
    return moment.kind === 'relative' || isWallTime(moment.wall) ? dueAt(moment, facts, clock, around) : null;
  const day = typeof ownDate === 'string' && isDay(ownDate) ? nextOwnDay(moment, ownDate, nowMs, clock, around) : null;
  return day === null ? null : dueOfOwnDate(moment, day, clock, around);
}
