import type { CueFields, CuePreview } from '@convite/contract';
import {
  dueAt,
  isWallTime,
  nextOccurrence,
  personalFacts,
  standbyMs,
  judge,
  wholeEvent,
  whoOf,
  type Problem,
} from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { checkWording } from './check-wording';
import { eventComposer } from '../sending/compose-firing';
import { getEvent } from '../events/get-event';
import { Failure, notFound, refuseProblems } from '../failure';
import { previewPerson } from '../sending/invite';
import { planCues } from './plan-firings';
import type { StoredEvent } from '../../store/events';

/** Saves a cue, new when `id` is null, and plans its firing. A cue that is set must be whole and far enough ahead. */
export async function saveCue(
  context: Context,
  eventId: number,
  id: number | null,
  fields: CueFields,
  actor: Actor,
): Promise<number> {
  return context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    if (!event) throw notFound('event');
    const firings = id === null ? [] : (await tx.firings.ofEvent(eventId)).filter((one) => one.cueId === id);
    const known = id === null ? null : await tx.cues.find(id);
    if (id !== null && known?.eventId !== eventId) throw notFound('cue');
    const isOver =
      firings.some(({ state }) => state === 'sending') ||
      (!event.version.facts.series && firings.some(({ state }) => state === 'done'));
    if (isOver || known?.isRetired)
      throw new Failure(409, 'fired', 'This cue has fired; what was sent cannot be changed. Make a new cue.');
    refuseProblems(fields.isDraft ? [] : checkCue(fields, event, context.clock.now()));
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
function checkCue(fields: CueFields, event: StoredEvent, nowMs: number): Problem[] {
  const problems = checkWording(fields, fields.channel);
  if (fields.audience.invitees.length + fields.audience.lists.length === 0)
    problems.push({ code: 'no-audience', path: 'audience' });
  if (fields.moment.kind === 'relative' && fields.moment.anchor === 'deadline' && !event.version.facts.registration)
    problems.push({ code: 'no-registration', path: 'moment' });
  if (fields.moment.kind === 'fixed' && !isWallTime(fields.moment.wall))
    problems.push({ code: 'bad-date', path: 'moment' });
  // A series has later dates for it; only a one-off can have come too close.
  else if (
    (!event.version.facts.series || fields.moment.kind === 'fixed') &&
    !event.version.facts.isPersonal &&
    dueAt(fields.moment, event.version.facts) < nowMs + standbyMs
  )
    problems.push({ code: 'too-soon', path: 'moment' });
  return problems;
}

/** Removes a cue. One that has fired for some dates of a series keeps its past and is planned no more. */
export async function removeCue(context: Context, eventId: number, id: number, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    const cue = await tx.cues.find(id);
    if (!event || cue?.eventId !== eventId) throw notFound('cue');
    const firings = (await tx.firings.ofEvent(eventId)).filter((one) => one.cueId === id);
    const hasFired = firings.some(({ isExpanded }) => isExpanded);
    if (hasFired && !event.version.facts.series)
      throw new Failure(409, 'fired', 'This cue has fired; it stays, with what became of it.');
    if (hasFired) {
      await tx.cues.retire(id);
      await tx.firings.deleteUnfired(firings.map((firing) => firing.id));
    } else await tx.cues.remove(id);
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
  const date = nextOccurrence(event.version.facts, context.clock.now());
  const target = { ...wholeEvent(eventId), occurrence: date?.key ?? '' };
  const who = whoOf(fields.audience, target);
  const chosen = personId ?? (await context.store.deliveries.firstOf(who, fields.channel));
  const person = await previewPerson(context, eventId, chosen);
  const facts = await context.store.personFacts.of(person.id, context.clock.now());
  const isMomentReadable = fields.moment.kind === 'relative' || isWallTime(fields.moment.wall);
  const shown = personalFacts(date?.facts ?? event.version.facts, person.own);
  const message = eventComposer(context, settings, event, {
    channel: fields.channel,
    content: {
      kind: 'cue',
      subject: fields.subject,
      body: fields.body,
      version: event.version.number,
      startMs: null,
      countsDown: false,
      audience: null,
    },
    occurrence: date?.key ?? '',
    guests: [],
    atMs: context.clock.now(),
  })(person, 0, []);
  return {
    dueAt: isMomentReadable ? new Date(dueAt(fields.moment, shown)).toISOString() : null,
    person: { id: person.id, name: person.name, whyNot: facts && judge(facts, who, fields.channel) },
    subject: message?.kind === 'email' ? message.subject : '',
    html: message?.kind === 'email' ? message.html : '',
    text: message?.text ?? '',
    audience: await context.store.deliveries.countAudience(who, fields.channel, eventId),
    problems: checkCue(fields, event, context.clock.now()),
  };
}
