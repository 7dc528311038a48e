import { randomBytes } from 'node:crypto';
import type { EventDetail, EventReach } from '@convite/contract';
import {
  isOfPublication,
  carryDates,
  checkEvent,
  differencesBetween,
  extentOf,
  findOccurrence,
  instantsOf,
  matters,
  nextOccurrence,
  splitSeries,
  changeOccurrence,
  type EventFacts,
  type Occurrence,
  type Scope,
  type WordingDocument,
} from '@convite/core';
import type { NewEvent, StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { doubtsOfPublishing, refuseDoubtful } from '../sending/doubts';
import { addressesOf } from './event-addresses';
import { getEvent } from './get-event';
import { Failure, notFound, refuseProblems } from '../failure';
import { createNotices } from '../sending/notices';
import { newVersion } from './new-version';
import { once } from '../sending/once';
import { planCues } from '../countdown/plan-firings';
import { takeCues } from '../countdown/take-cues';

export async function describeEvent(
  { links, clock, store }: Pick<Context, 'links' | 'clock' | 'store'>,
  event: StoredEvent,
): Promise<EventDetail> {
  const { number, sequence, facts } = event.version;
  const { startMs, endMs } = shownTimes(facts, clock.now());
  return {
    id: event.id,
    uid: event.uid,
    status: event.status,
    reach: event.reach,
    senderId: event.senderId,
    heldBy: event.heldBy,
    graceMinutes: event.graceMinutes,
    contact: event.contact,
    version: number,
    sequence,
    facts,
    startAt: new Date(startMs).toISOString(),
    endAt: new Date(endMs).toISOString(),
    pageUrl: addressesOf(links, event, null).page,
    feedUrl: event.reach === 'public' ? links.eventFeed(event.publicKey) : '',
    invited: await store.invitees.countGuests(event.id),
    toInvite: await store.toInvite.of(event.id),
    toInviteSegments: await store.toInvite.segmentsOf(event.id),
  };
}

/** Of a series, the date that matters: the next one, or the last when all are over. */
export function shownTimes(facts: EventFacts, nowMs: number): { startMs: number; endMs: number } {
  const next = nextOccurrence(facts, nowMs);
  if (next || !facts.series) return next ?? instantsOf(facts);
  const extent = extentOf(facts);
  return { startMs: extent.startMs, endMs: extent.endMs ?? extent.startMs };
}

/** A new event begins as a draft: nothing of it reaches anybody before it is published. */
export async function createEvent(
  context: Context,
  facts: EventFacts,
  actor: Actor,
  reach: EventReach = 'invited',
): Promise<number> {
  refuseProblems(checkEvent(facts));
  const id = await insertEvent(context, context.store, { facts, reach, status: 'draft', by: actor.name });
  await context.store.house.audit(nowOf(context), actor, 'event: created', facts.title);
  await context.store.live.touch('board', 'events');
  return id;
}

type Given = Pick<NewEvent, 'facts' | 'reach' | 'status' | 'by' | 'splitFrom' | 'publishedAt'>;

/** Stores new events, each under an address and a UID that nobody can guess. @returns their numbers, in the order given */
export function insertEvents(
  context: Pick<Context, 'links' | 'clock'>,
  store: StoreSubjects,
  events: readonly Given[],
): Promise<number[]> {
  const now = nowOf(context);
  return store.events.createMany(
    events.map((event) => ({
      ...event,
      publicKey: randomBytes(9).toString('base64url'),
      uid: `${randomBytes(12).toString('hex')}@${context.links.mailDomain}`,
      now,
    })),
  );
}

async function insertEvent(context: Context, store: StoreSubjects, event: Given): Promise<number> {
  const [id = 0] = await insertEvents(context, store, [event]);
  return id;
}

export interface Saved {
  /** The event that "this and following" made of the later dates; null otherwise. */
  readonly followingId: number | null;
}

/**
 * Saves new facts as a new version and moves every unfired cue along. Of a series the edit is about all dates, one date,
 * or one and those that follow, which then are a series of their own. Saving what stands already changes nothing.
 * @throws Failure 422 with problems; 404 for a date the series does not have; 409 when somebody saved in between
 */
export async function saveEvent(
  context: Context,
  id: number,
  edit: { readonly facts: EventFacts; readonly basedOn: number; readonly scope?: Scope },
  actor: Actor,
): Promise<Saved> {
  const { facts, basedOn, scope = { kind: 'all' } } = edit;
  refuseProblems(checkEvent(facts));
  return context.store.transact(async (tx) => {
    const event = await lockEvent(tx, id, basedOn);
    const before = event.version.facts;
    if (scope.kind === 'all' || !before.series) {
      await newVersion(context, tx, event, { ...carryDates(before, facts), said: edited }, actor);
      return { followingId: null };
    }
    const occurrence = findOccurrence(before, scope.key);
    if (!occurrence) throw notFound('date in this series');
    if (scope.kind === 'one') {
      const changed = changeOccurrence(before, scope.key, { facts, calledOff: occurrence.calledOff });
      refuseProblems(checkEvent(changed));
      await newVersion(context, tx, event, { facts: changed, said: edited }, actor);
      return { followingId: null };
    }
    return { followingId: await followOn(context, tx, event, occurrence, facts, actor) };
  });
}

async function lockEvent(tx: StoreSubjects, id: number, basedOn: number): Promise<StoredEvent> {
  const event = await tx.events.findForUpdate(id);
  if (!event) throw notFound('event');
  if (event.version.number !== basedOn)
    throw new Failure(
      409,
      'changed-meanwhile',
      `Somebody saved version ${event.version.number} while you were editing. Reload to see it; what you typed is still here.`,
    );
  return event;
}

/** What the audit log calls it. */
const edited = 'event: changed';

/**
 * "This and following": the series ends before the date, and a new one begins there with the facts given, the same cues
 * and the same guests. They hold nothing of the new one yet, so a notice brings it to them; what they answered stays
 * when neither time nor place changed.
 * @returns the new event
 */
async function followOn(
  context: Context,
  tx: StoreSubjects,
  event: StoredEvent,
  occurrence: Occurrence,
  facts: EventFacts,
  actor: Actor,
): Promise<number> {
  const parts = splitSeries(event.version.facts, occurrence);
  if (!parts) {
    await newVersion(context, tx, event, { ...carryDates(event.version.facts, facts), said: edited }, actor);
    return event.id;
  }
  const { facts: after, moveKey } = carryDates(parts.after, {
    ...facts,
    series: facts.series ?? parts.after.series,
  });
  refuseProblems(checkEvent(after));
  const same = { number: 1, sequence: 0, calledOff: false };
  const keepsReplies = !matters(differencesBetween({ ...same, facts: parts.after }, { ...same, facts: after }));
  const newId = await insertEvent(context, tx, {
    facts: after,
    reach: event.reach,
    status: event.status,
    by: actor.name,
    splitFrom: event.id,
    publishedAt: event.publishedAt,
  });
  await tx.senders.ofEvent(newId, event.senderId);
  // What is held goes no other way.
  await tx.events.setHeldBy(newId, event.heldBy);
  await tx.events.setGrace(newId, event.graceMinutes);
  await tx.events.setContact(newId, event.contact);
  await tx.invitees.copyGuests(event.id, newId, keepsReplies, nowOf(context));
  await tx.dates.copyDates(event.id, newId, occurrence.key, !keepsReplies);
  await tx.registrations.copy(event.id, newId, occurrence.key, !keepsReplies);
  await tx.dates.moveDates(newId, moveKey);
  await tx.registrations.moveDates(newId, moveKey);
  await tx.waitlist.wake(newId, nowOf(context));
  await takeCues(context, tx, event.id, [newId], (cue) => !isOfPublication(cue.moment));
  await newVersion(context, tx, event, { facts: parts.before, said: edited }, actor);
  await tx.house.audit(nowOf(context), actor, 'event: goes its own way', `${facts.title} from ${occurrence.at}`);
  await tx.live.touch('board', 'events');
  return newId;
}

/** Who may see the event. It is no version of it: nobody's calendar entry changes. */
export async function setReach(context: Context, id: number, reach: EventReach, actor: Actor): Promise<void> {
  const event = await getEvent(context, id);
  if (event.reach === reach) return;
  await context.store.events.setReach(id, reach);
  await context.store.house.audit(nowOf(context), actor, 'event: reach', `${event.version.facts.title}: ${reach}`);
  await context.store.live.touch('board', 'events', `event:${id}`);
}

/** Publishing sets the cues that are ready. */
export const publishEvent = (context: Context, id: number, actor: Actor, isSure = false): Promise<void> =>
  context.store.transact((tx) => publishWithin(context, tx, id, actor, isSure));

/** The same as a part of something that is done whole or not at all. */
export async function publishWithin(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  id: number,
  actor: Actor,
  isSure: boolean,
): Promise<void> {
  const event = await tx.events.findForUpdate(id);
  if (!event) throw notFound('event');
  if (event.status !== 'draft') return;
  refuseDoubtful(await doubtsOfPublishing(context, tx, event), isSure);
  const publishedAt = nowOf(context);
  await tx.events.publish(id, publishedAt);
  await planCues(tx, { ...event, status: 'published', publishedAt }, await tx.cues.ofEvent(id), context.clock.now());
  await tx.house.audit(nowOf(context), actor, 'event: published', event.version.facts.title);
  await tx.live.touch('board', 'events', `event:${id}`);
}

/**
 * Calls the event off: a last version, every unfired cue stopped, and a CANCEL to everybody who was invited.
 * @throws Failure 409 for a count to confirm, or when it was called off before
 */
export async function callOffEvent(
  context: Context,
  id: number,
  wording: WordingDocument,
  confirmedCount: number | null,
  actor: Actor,
  key: string | null = null,
): Promise<void> {
  await once(context, key, async (tx) => {
    const event = await tx.events.findForUpdate(id);
    if (!event) throw notFound('event');
    const change = { facts: event.version.facts, calledOff: true, said: 'event: called off' };
    const called = await newVersion(context, tx, event, change, actor);
    if (!called) throw new Failure(409, 'called-off', 'This event was called off before.');
    return createNotices(tx, called, wording, confirmedCount, context.clock.now());
  });
}
