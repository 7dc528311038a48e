import type { CueFields, CuePreview, CueRow, Tally } from '@convite/contract';
import {
  dueAt,
  findHazards,
  instantsOf,
  isWallTime,
  standbyMs,
  visibleState,
  whyNot,
  type Problem,
} from '@convite/core';
import type { StoredFiring } from '../store/firings';
import { nowOf, type Actor, type Context } from './context';
import { checkWording } from './check-wording';
import { eventComposer } from './compose-firing';
import { getEvent } from './events';
import { Failure, notFound, refuseProblems } from './failure';
import { previewPerson } from './invite';
import { planCues } from './plan-firings';
import type { StoredEvent } from '../store/events';

/** The countdown of an event: each cue with its firing, its audience now, and what is wrong with it. */
export async function listCues(context: Context, eventId: number): Promise<CueRow[]> {
  const event = await getEvent(context, eventId);
  const nowMs = context.clock.now();
  const cues = await context.store.cues.ofEvent(eventId);
  const firings = new Map(
    (await context.store.firings.ofEvent(eventId)).flatMap((firing) =>
      firing.cueId === null ? [] : [[firing.cueId, firing]],
    ),
  );
  const { startMs } = instantsOf(event.version.facts);
  const hazards = findHazards(
    cues.flatMap((cue) => {
      const firing = firings.get(cue.id);
      if (!firing) return [];
      const countsDown = cue.moment.kind === 'relative' && cue.moment.direction === 'before';
      return [{ id: firing.id, dueMs: firing.dueMs, countsDown, isOver: !['draft', 'set'].includes(firing.state) }];
    }),
    startMs,
    event.version.facts.zone,
    nowMs,
  );
  const tallies = await talliesOf(context, [...firings.values()]);
  return cues
    .flatMap(({ eventId: _, ...cue }) => {
      const firing = firings.get(cue.id);
      if (!firing) return [];
      const { id, state, dueMs, note } = firing;
      const tally = tallies.get(id) ?? noTally;
      return [
        {
          ...cue,
          firing: { id, state: visibleState(state, dueMs, nowMs), dueAt: new Date(dueMs).toISOString(), note, tally },
          hazards: hazards.get(id) ?? [],
        },
      ];
    })
    .sort((a, b) => a.firing.dueAt.localeCompare(b.firing.dueAt));
}

const noTally: Tally = { gets: 0, sent: 0, failed: 0, waiting: 0 };

/** How far each firing is: the audience as it is now while unfired, live counts while sending, stored ones after. */
export async function talliesOf({ store }: Context, firings: readonly StoredFiring[]): Promise<Map<number, Tally>> {
  const live = await store.firings.tallies(
    firings.filter(({ state, isExpanded }) => isExpanded && state !== 'done').map(({ id }) => id),
  );
  const entries = await Promise.all(
    firings.map(async (firing): Promise<[number, Tally]> => {
      if (firing.state === 'done')
        return [firing.id, { gets: firing.planned, sent: firing.sent, failed: firing.failed, waiting: 0 }];
      if (firing.isExpanded) return [firing.id, live.get(firing.id) ?? noTally];
      const cue = firing.cueId === null ? null : await store.cues.find(firing.cueId);
      if (!cue) return [firing.id, noTally];
      const { gets } = await store.deliveries.countAudience(cue.audience, cue.channel, firing.eventId);
      return [firing.id, { ...noTally, gets }];
    }),
  );
  return new Map(entries);
}

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
    const firing = id === null ? undefined : (await tx.firings.ofEvent(eventId)).find((one) => one.cueId === id);
    if (id !== null && !firing) throw notFound('cue');
    if (firing?.state === 'sending' || firing?.state === 'done')
      throw new Failure(409, 'fired', 'This cue has fired; what was sent cannot be changed. Make a new cue.');
    refuseProblems(fields.isDraft ? [] : checkCue(fields, event, context.clock.now()));
    if (fields.moment.kind === 'fixed' && !isWallTime(fields.moment.wall))
      refuseProblems([{ code: 'bad-date', path: 'moment' }]);
    if (id !== null) {
      // Editing a stopped or missed cue is how a person sets it again.
      if (firing?.state === 'stopped') await tx.firings.setUnfired(firing.id, ['stopped'], 'draft', firing.dueMs, '');
      await tx.cues.update(id, fields);
    }
    const cueId = id ?? (await tx.cues.create(eventId, fields));
    await planCues(tx, event, await tx.cues.ofEvent(eventId), context.clock.now());
    await tx.house.audit(
      nowOf(context),
      actor.name,
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
  if (fields.moment.kind === 'fixed' && !isWallTime(fields.moment.wall))
    problems.push({ code: 'bad-date', path: 'moment' });
  else if (dueAt(fields.moment, event.version.facts) < nowMs + standbyMs)
    problems.push({ code: 'too-soon', path: 'moment' });
  return problems;
}

export async function removeCue(context: Context, eventId: number, id: number, actor: Actor): Promise<void> {
  const cue = await context.store.cues.find(id);
  if (cue?.eventId !== eventId) throw notFound('cue');
  const firing = (await context.store.firings.ofEvent(eventId)).find((one) => one.cueId === id);
  if (firing?.isExpanded) throw new Failure(409, 'fired', 'This cue has fired; it stays, with what became of it.');
  await context.store.cues.remove(id);
  await context.store.house.audit(nowOf(context), actor.name, 'cue: removed', cue.name);
  await context.store.live.touch('board', `event:${eventId}`);
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
  const chosen = personId ?? (await context.store.deliveries.firstOf(fields.audience, fields.channel, eventId));
  const person = await previewPerson(context, eventId, chosen);
  const facts = await context.store.subscribers.facts(person.id, eventId);
  const isMomentReadable = fields.moment.kind === 'relative' || isWallTime(fields.moment.wall);
  const content = { kind: 'cue', subject: fields.subject, body: fields.body, version: event.version.number } as const;
  const message = eventComposer(context, settings, event, fields.channel, content)(person, 0, []);
  return {
    dueAt: isMomentReadable ? new Date(dueAt(fields.moment, event.version.facts)).toISOString() : null,
    person: { id: person.id, name: person.name, whyNot: facts && whyNot(facts, fields.audience, fields.channel) },
    subject: message?.kind === 'email' ? message.subject : '',
    html: message?.kind === 'email' ? message.html : '',
    text: message?.text ?? '',
    audience: await context.store.deliveries.countAudience(fields.audience, fields.channel, eventId),
    problems: checkCue(fields, event, context.clock.now()),
  };
}
