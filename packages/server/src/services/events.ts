import { randomBytes } from 'node:crypto';
import type { EventDetail, EventRow, WordingText } from '@convite/contract';
import { checkEvent, instantsOf, nextVersion, type EventFacts } from '@convite/core';
import type { StoredEvent } from '../store/events';
import { noReplies } from '../store/invitees';
import { nowOf, type Actor, type Context } from './context';
import { Failure, notFound, refuseProblems } from './failure';
import { planCues } from './plan-firings';
import { createNotices } from './notices';

/** @throws Failure 404 */
export async function getEvent({ store }: Pick<Context, 'store'>, id: number): Promise<StoredEvent> {
  const event = await store.events.find(id);
  if (!event) throw notFound('event');
  return event;
}

export function describeEvent({ links }: Pick<Context, 'links'>, event: StoredEvent): EventDetail {
  const { number, sequence, facts } = event.version;
  const { startMs, endMs } = instantsOf(facts);
  return {
    id: event.id,
    uid: event.uid,
    status: event.status,
    version: number,
    sequence,
    facts,
    startAt: new Date(startMs).toISOString(),
    endAt: new Date(endMs).toISOString(),
    pageUrl: links.page(event.publicKey),
  };
}

/** A new event begins as a draft: nothing of it reaches anybody before it is published. */
export async function createEvent(context: Context, facts: EventFacts, actor: Actor): Promise<number> {
  refuseProblems(checkEvent(facts));
  const publicKey = randomBytes(9).toString('base64url');
  const uid = `${randomBytes(12).toString('hex')}@${context.links.mailDomain}`;
  const now = nowOf(context);
  const id = await context.store.events.create({ publicKey, uid, status: 'draft', facts, by: actor.name, now });
  await context.store.house.audit(now, actor.name, 'event: created', facts.title);
  await context.store.live.touch('board', 'events');
  return id;
}

/**
 * Saves new facts as a new version and moves every unfired cue along. Saving what stands already changes nothing.
 * @throws Failure 422 with problems; 409 when somebody saved a version in between
 */
export async function saveEvent(
  context: Context,
  id: number,
  facts: EventFacts,
  basedOn: number,
  actor: Actor,
): Promise<void> {
  refuseProblems(checkEvent(facts));
  await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(id);
    if (!event) throw notFound('event');
    if (event.version.number !== basedOn) {
      throw new Failure(
        409,
        'changed-meanwhile',
        `Somebody saved version ${event.version.number} while you were editing. Reload to see it; what you typed is still here.`,
      );
    }
    const next = nextVersion(event.version, facts);
    if (!next) return;
    await tx.events.addVersion(id, next, actor.name, nowOf(context));
    await planCues(tx, { ...event, version: next }, await tx.cues.ofEvent(id), context.clock.now());
    await tx.house.audit(nowOf(context), actor.name, 'event: changed', `${facts.title}, version ${next.number}`);
    await tx.live.touch('board', 'events', `event:${id}`);
  });
}

/** Publishing sets the cues that are ready. */
export async function publishEvent(context: Context, id: number, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(id);
    if (!event) throw notFound('event');
    if (event.status !== 'draft') return;
    await tx.events.setStatus(id, 'published');
    await planCues(tx, { ...event, status: 'published' }, await tx.cues.ofEvent(id), context.clock.now());
    await tx.house.audit(nowOf(context), actor.name, 'event: published', event.version.facts.title);
    await tx.live.touch('board', 'events', `event:${id}`);
  });
}

/**
 * Calls the event off: a last version, every unfired cue stopped, and a CANCEL to everybody who was invited.
 * @throws Failure 409 for a count to confirm, or when it was called off before
 */
export async function callOffEvent(
  context: Context,
  id: number,
  wording: WordingText,
  confirmedCount: number | null,
  actor: Actor,
): Promise<void> {
  await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(id);
    const next = event && nextVersion(event.version, event.version.facts, true);
    if (!event) throw notFound('event');
    if (!next) throw new Failure(409, 'called-off', 'This event was called off before.');
    await tx.events.addVersion(id, next, actor.name, nowOf(context));
    await tx.events.setStatus(id, 'called-off');
    const called = { ...event, status: 'called-off', version: next } as const;
    await planCues(tx, called, await tx.cues.ofEvent(id), context.clock.now());
    await createNotices(tx, called, wording, confirmedCount, context.clock.now());
    await tx.house.audit(nowOf(context), actor.name, 'event: called off', event.version.facts.title);
    await tx.live.touch('board', 'events', `event:${id}`);
  });
}

/** The table of events, in the order of their starts. */
export async function listEvents({ store }: Pick<Context, 'store'>): Promise<EventRow[]> {
  const events = await store.events.all();
  const counts = await store.invitees.counts(events.map(({ id }) => id));
  const ahead = await store.firings.ahead(0, 5000);
  const names = await store.cues.names(ahead.flatMap(({ cueId }) => (cueId === null ? [] : [cueId])));
  return events.map((event) => {
    const { facts } = event.version;
    const { startMs, endMs } = instantsOf(facts);
    const next = ahead.find((firing) => firing.eventId === event.id && firing.state === 'set' && firing.cueId !== null);
    return {
      id: event.id,
      title: facts.title,
      zone: facts.zone,
      startAt: new Date(startMs).toISOString(),
      endAt: new Date(endMs).toISOString(),
      isAllDay: facts.span.kind === 'all-day',
      status: event.status,
      topics: [...facts.topics],
      replies: counts.get(event.id) ?? noReplies(),
      nextCue: next ? { name: names.get(next.cueId ?? 0) ?? '', dueAt: new Date(next.dueMs).toISOString() } : null,
    };
  });
}
