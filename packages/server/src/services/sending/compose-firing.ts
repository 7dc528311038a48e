import {
  allBlocks,
  findOccurrence,
  occurrenceOfSlot,
  quietOf,
  wholeEvent,
  whoOf,
  withOwnTime,
  type EpochMs,
  type Quiet,
  type Who,
} from '@convite/core';
import type { Content, ContentOf } from '../../store/content';
import type { StoredEvent } from '../../store/events';
import { channelOf } from '../../store/firing-rows';
import type { StoredFiring } from '../../store/firings';
import { house, type PartForAll } from '../../store/said';
import type { Context } from '../context';
import { oneStartOf, startToBeBefore } from '../countdown/start-of-firing';
import { whoGets } from '../countdown/who-gets';
import { shownGuests } from './compose-calendar';
import { digestComposer } from './compose-digest';
import { manualComposer } from './compose-manual';
import { eventComposer, type AboutEvent } from './compose-event';
import type { Composer } from './composer';
import { asAllowed, whoGetsIssue } from './as-allowed';
import { withOwnLinks } from './own-links';
import { asSender } from '../senders/as-sender';
import { settle } from './settle';

/** A firing made ready to be written for one person after another. */
export interface PreparedFiring {
  readonly firing: StoredFiring;
  /** The event as it is said; null for a digest. */
  readonly event: StoredEvent | null;
  /** Of a cue, what decides whether it is still worth sending. */
  readonly cue: { readonly countsDown: boolean; readonly startMs: EpochMs | null } | null;
  /** Event and version whose whole entry the messages carry; null when they carry none, or that of a single date. */
  readonly carried: { readonly eventId: number; readonly version: number } | null;
  /** Whom it is for, where that is asked again of each; null where it is for whoever it was written down for. */
  readonly who: Who | null;
  /** Whom it finds in quiet hours, of people in some zones. */
  readonly quietAt: (nowMs: EpochMs, zones: readonly string[]) => Quiet | null;
  /** It says what each is down for, which is read of each as it goes. */
  readonly saysPlaces: boolean;
  /** It stands in the thread of each person's invitation, which is looked for as it goes. */
  readonly inThread: boolean;
  /** All that its messages are made from, beside the person. */
  readonly forAll: PartForAll;
  readonly compose: Composer;
}

/**
 * Prepares what a firing sends: everything its people share is read and written once. The wording is what was frozen with
 * the firing; the facts are those of the version asked for, since what waits is composed anew from the newest.
 * @param version of the event; null for a digest
 * @param asFrozen a digest as it was frozen, for whoever may have got it already; else its events as they stand now
 * @throws Error for a firing that was never expanded (bad use)
 */
export async function prepareFiring(
  context: Context,
  firing: StoredFiring,
  version: number | null,
  asFrozen: boolean,
): Promise<PreparedFiring> {
  const { eventId } = firing;
  if (!firing.content) throw new Error(`firing ${firing.id} has no content`);
  const document = await settle(context, firing.content.document, { eventId, atMs: firing.dueMs });
  const content: Content = { ...firing.content, document };
  const all = await context.store.house.settings();
  const settings = house.parse(all);
  const { kind } = firing;
  const channel = channelOf(firing);
  const quietOn =
    (event: number | null, startsMs: EpochMs | null, homeZone: string): PreparedFiring['quietAt'] =>
    (nowMs, zones) =>
      quietOf(all.quiet, { kind, channel, event, startsMs, dueIn: () => nowMs, homeZone }, zones);
  const nothing = {
    firing,
    event: null,
    cue: null,
    carried: null,
    who: null,
    quietAt: quietOn(null, null, all.zone),
    saysPlaces: false,
    inThread: false,
  };
  if (content.kind === 'digest') {
    const now = asFrozen ? content : { ...content, events: await stillComing(context, content) };
    const who = content.audience && (await whoGetsIssue(context.store, content.audience, firing));
    const senderId =
      firing.digestId === null ? null : ((await context.store.digests.find(firing.digestId))?.senderId ?? null);
    const written = house.parse(await asSender(context, settings, senderId));
    const forAll = { house: written, content: now, version: null, reach: null, guests: [] };
    return { ...nothing, who, forAll, compose: composerFrom(context, firing, null, forAll) };
  }
  if (content.kind === 'manual') {
    const message = { kind: 'manual', channel, firing: firing.id, atMs: firing.dueMs } as const;
    const who = await asAllowed(context.store, whoOf(content.audience, wholeEvent(null)), message);
    const written = house.parse(await asSender(context, settings, content.senderId ?? null));
    const forAll = { house: written, content, version: null, reach: null, guests: [] };
    return { ...nothing, who, forAll, compose: composerFrom(context, firing, null, forAll) };
  }
  if (content.kind === 'to-writer') {
    const forAll = {
      house: house.parse(await asSender(context, settings, null)),
      content,
      version: null,
      reach: null,
      guests: [],
    };
    return { ...nothing, forAll, compose: composerFrom(context, firing, null, forAll) };
  }
  if (content.kind === 'act') throw new Error(`firing ${firing.id} writes to nobody`);
  const event = eventId === null ? null : await context.store.events.find(eventId);
  const said = event && (await saidEvent(context, event, version ?? content.version));
  if (!said) throw new Error(`firing ${firing.id} has no event`);
  const forAll: PartForAll = {
    house: house.parse(await asSender(context, settings, said.senderId)),
    content: asSaidNow(content, said),
    version: said.version.number,
    reach: said.reach,
    guests: await shownGuests(context, said),
  };
  return {
    ...nothing,
    event: said,
    quietAt: quietOn(event.id, mustBeBefore(said, content, firing), said.version.facts.zone),
    cue: content.kind === 'cue' ? { countsDown: content.countsDown, startMs: content.startMs } : null,
    who: await whoIsAsked(context, event, content, firing),
    saysPlaces: allBlocks(document).some(({ kind }) => kind === 'places'),
    inThread: content.kind === 'cue' && content.inThread && channel === 'email',
    carried: carriesEntry(forAll.content) ? { eventId: event.id, version: said.version.number } : null,
    forAll,
    compose: composerFrom(context, firing, said, forAll),
  };
}

/** The start that it must be before, as the event stands now; null where it may come whenever. */
function mustBeBefore(event: StoredEvent, content: AboutEvent, firing: StoredFiring): EpochMs | null {
  if (content.kind === 'invitation') return oneStartOf(event.version.facts);
  return content.kind === 'cue' && content.moment ? startToBeBefore(event, content.moment, firing) : null;
}

/** The event in one of its versions; null when there is none such. */
export async function saidEvent(
  { store }: Pick<Context, 'store'>,
  event: StoredEvent,
  version: number,
): Promise<StoredEvent | null> {
  const said = await store.events.version(event.id, version);
  return said && { ...event, version: said };
}

/** The one way from what a message is made from to the message, for sending it and for showing it again. */
export const composerFrom = (
  context: Context,
  firing: StoredFiring,
  event: StoredEvent | null,
  forAll: PartForAll,
): Composer =>
  withOwnLinks(context, firing.id, forAll.house, forAll.content, (content) =>
    bareComposer(context, firing, event, { ...forAll, content }),
  );

/** The same, with each link as it was written. */
export function bareComposer(
  context: Context,
  firing: StoredFiring,
  event: StoredEvent | null,
  { house, content, reach, guests }: PartForAll,
): Composer {
  const { slot, dueMs } = firing;
  const channel = channelOf(firing);
  if (content.kind === 'digest') return digestComposer(context, house, content);
  if (content.kind === 'act') throw new Error('it writes to nobody');
  /** Some blocks are only for who asked for a topic. */
  const withTopics =
    (compose: Composer): Composer =>
    (person, deliveryId, topics) =>
      compose({ ...person, topics }, deliveryId, topics);
  if (content.kind === 'manual' || content.kind === 'to-writer')
    return withTopics(manualComposer(context, house, channel, content));
  if (!event || !reach) throw new Error('it is about an event');
  return withTopics(
    eventComposer(
      context,
      house,
      { ...event, reach },
      {
        channel,
        content,
        occurrence: 'occurrence' in content ? content.occurrence : occurrenceOfSlot(slot),
        guests,
        atMs: dueMs,
      },
    ),
  );
}

/** For whom it is, where that is asked again of each right before theirs goes; an answer is for whom it names, and a notice for who holds the entry. */
const whoIsAsked = async (
  context: Context,
  event: StoredEvent,
  content: AboutEvent,
  firing: StoredFiring,
): Promise<Who | null> => {
  if (content.kind === 'cue') return whoOfCue(context, event, content, firing);
  if (content.kind !== 'invitation') return null;
  const who = whoOf(content.audience, wholeEvent(event.id));
  return event.version.facts.isPersonal ? withOwnTime(event.id, who) : who;
};

/** Whom a cue that goes out is for, so that each is asked again; null for one frozen before that was kept. */
const whoOfCue = async (
  { store }: Context,
  event: StoredEvent,
  { audience, moment, document }: ContentOf<'cue'>,
  firing: StoredFiring,
): Promise<Who | null> =>
  audience && moment ? whoGets(store, event, { audience, moment, wording: document }, firing) : null;

/**
 * A message about a later version than it was written down for: stamped no earlier than that version (RFC 5546 §2.1.5).
 * A notice of one date that is off then says more than that: the whole entry is always right.
 */
function asSaidNow<C extends AboutEvent>(content: C, { version, at }: StoredEvent): C {
  if (content.kind === 'cue' || version.number === content.version) return content;
  const stampMs = Math.max(content.stampMs, at.getTime());
  return content.kind === 'notice' && !content.isByDate
    ? { ...content, stampMs, occurrence: '', method: version.calledOff ? 'CANCEL' : 'REQUEST' }
    : { ...content, stampMs };
}

/** Does such a message carry the whole entry of the event? A reminder carries none, a date's CANCEL only that date's. */
function carriesEntry(content: Content): boolean {
  switch (content.kind) {
    case 'invitation':
      return true;
    case 'notice':
      return !content.isByDate;
    case 'answer':
      return content.method === 'REQUEST' && content.occurrence === '';
    case 'cue':
    case 'digest':
    case 'manual':
    case 'to-writer':
    case 'act':
      return false;
  }
}

/** The events of an issue that still take place, as they stand now. */
async function stillComing({ store }: Context, content: ContentOf<'digest'>): Promise<ContentOf<'digest'>['events']> {
  const events = await store.events.findMany(content.events.map(({ id }) => id));
  return content.events.flatMap(({ id, publicKey, occurrence }) => {
    const event = events.get(id);
    const date = event && findOccurrence(event.version.facts, occurrence);
    const isComing = event?.status === 'published' && event.reach === 'public' && date && !date.calledOff;
    return isComing ? [{ id, publicKey, occurrence, facts: date.facts }] : [];
  });
}
