import type { AudienceCount, GuestPage, GuestQuery } from '@convite/contract';
import {
  mostShownGuests,
  notInvitedTo,
  replyStates,
  wholeEvent,
  whoOf,
  type Audience,
  type Channel,
  type Who,
  type WordingDocument,
  isHybrid,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { Recipient } from '../../store/subscribers';
import { checkWording } from '../countdown/check-wording';
import { doubtsOfPublishing, doubtsOfSending, refuseDoubtful } from './doubts';
import { audienceOfChosen, type Chosen } from './chosen';
import { once } from './once';
import { allowedInvitees } from './as-allowed';
import { nowOf, type Actor, type Context } from '../context';
import { sendByHand } from '../release/send-by-hand';
import { publishWithin } from '../events/events';
import { getEvent } from '../events/get-event';
import { Failure, refuseProblems, refuseUnconfirmed } from '../failure';

/** The people of some lists and segments and those picked by hand; without any, guests who hold no entry yet, such as those named in an imported calendar. */
export const audienceOf = (chosen: Chosen): Audience => {
  const audience = audienceOfChosen(chosen);
  const { lists, segments = [], people = [] } = audience;
  return lists.length || segments.length || people.length ? audience : { ...audience, invitees: replyStates };
};

/** How many an invitation would reach, and why not the others. */
export const planInvitations = async (
  context: Context,
  eventId: number,
  chosen: Chosen,
  channel: Channel,
): Promise<AudienceCount> =>
  context.store.audiences.countAudience(await whoIsInvited(context, eventId, chosen, channel), channel, null);

/** Whom an invitation reaches that goes now. */
export const whoIsInvited = (
  { store, clock }: Context,
  eventId: number,
  chosen: Chosen,
  channel: Channel,
): Promise<Who> =>
  allowedInvitees(store, eventId, notInvitedTo(eventId, whoOf(audienceOf(chosen), wholeEvent(eventId))), {
    channel,
    firing: null,
    atMs: clock.now(),
  });

/** Sends invitations now: this is done by hand, so it needs no standby. A draft is published with them where that is asked for. */
export async function sendInvitations(
  context: Context,
  eventId: number,
  request: Chosen & {
    readonly channel: Channel;
    readonly wording: WordingDocument;
    readonly confirmedCount: number | null;
    readonly isSure?: boolean;
    readonly publishes?: boolean;
  },
  actor: Actor,
  key: string | null = null,
): Promise<number> {
  const { lists, segments = [], channel, wording, confirmedCount, isSure = false, publishes = false } = request;
  const event = await getEvent(context, eventId);
  const isPublishing = publishes && event.status === 'draft';
  if (event.status !== 'published' && !isPublishing)
    throw new Failure(409, 'not-published', 'Publish the event before inviting people to it.');
  refuseProblems(checkWording(wording, channel));
  const { gets } = await planInvitations(context, eventId, request, channel);
  // Asked again with its key it may have been done, and there is nobody left to invite.
  const { askAbove } = await context.store.house.settings();
  if (key === null || gets > 0) refuseUnconfirmed(gets, confirmedCount, askAbove);
  const doubts = isPublishing
    ? await doubtsOfPublishing(context, context.store, event)
    : doubtsOfSending(context, event);
  refuseDoubtful(doubts, isSure);
  if (event.version.facts.entry.showsGuests) await refuseTooManyShown(context, eventId, gets);
  const nowMs = context.clock.now();
  return once(context, key, async (tx) => {
    if (gets === 0) refuseUnconfirmed(gets, confirmedCount, askAbove);
    if (isPublishing) await publishWithin(context, tx, eventId, actor, isSure);
    await tx.toInvite.remove(eventId, { lists, segments });
    const content = {
      kind: 'invitation',
      document: wording,
      version: event.version.number,
      stampMs: nowMs,
      audience: audienceOf(request),
    } as const;
    const waits = await sendByHand(context, tx, { kind: 'invitation', eventId, channel, content }, gets, actor);
    await tx.house.audit(
      nowOf(context),
      actor,
      waits ? 'invitation: waits for release' : 'invitation: sent',
      `${event.version.facts.title}, ${gets} people by ${channel}`,
    );
    await tx.live.touch('board', `event:${eventId}`);
    return gets;
  });
}

async function refuseTooManyShown({ store }: Context, eventId: number, more: number): Promise<void> {
  const total = (await store.invitees.countGuests(eventId)) + more;
  if (total > mostShownGuests)
    throw new Failure(
      409,
      'too-many-shown',
      `Guests of this event see each other, which works up to ${mostShownGuests} people; this would make ${total}. Change that in Invitation first.`,
    );
}

export async function listGuests(
  context: Context,
  eventId: number,
  query: Omit<GuestQuery, 'filter' | 'sort' | 'after'> & Partial<Pick<GuestQuery, 'filter' | 'sort' | 'after'>>,
): Promise<GuestPage> {
  const { store } = context;
  const event = await getEvent(context, eventId);
  const page = await store.guests.page(eventId, { ...query, version: event.version.number });
  const { replies, byDate } = await store.eventTallies.find(eventId);
  const counts = byDate[query.occurrence] ?? replies;
  return { ...page, counts, taken: await placesTaken(context, event, query.occurrence), version: event.version.number };
}

/** Where some come online, who take no place; null where every yes takes one. */
async function placesTaken(
  context: Pick<Context, 'store' | 'clock'>,
  { id, version: { facts } }: StoredEvent,
  key: string,
): Promise<number | null> {
  if (!isHybrid(facts) || (facts.registration?.places ?? null) === null || (facts.series && !key)) return null;
  return (await context.store.registrations.taken(id, [key], nowOf(context))).get(key) ?? 0;
}

/** Somebody to show things to before anybody was chosen. */
export const exampleReader: Recipient = {
  id: 0,
  name: 'Maria Exemplo',
  email: 'maria.exemplo@people.example',
  mobile: '',
  zone: '',
  language: '',
  feedNonce: 0,
  own: null,
  dates: null,
  isGuest: true,
  reply: 'needs-action',
};

/** A person to preview for: the one asked for, or somebody invited or going to be, or an invented one; with what is their own here. */
export async function previewPerson(
  { store }: Pick<Context, 'store'>,
  eventId: number,
  personId: number | null,
  occurrence = '',
): Promise<Recipient> {
  const id = personId ?? (await store.invitees.anyId(eventId)) ?? (await store.toInvite.anyId(eventId));
  const person = id === null ? null : await store.subscribers.find(id);
  if (!person) return exampleReader;
  const reply = await store.invitees.replyOf(eventId, person.id, occurrence);
  return {
    ...person,
    reply: reply ?? 'needs-action',
    own: await store.personal.find(eventId, person.id),
    dates: await store.registrations.datesOf(eventId, person.id),
    isGuest: reply !== null,
    places: await store.registrations.placesOf(eventId, person.id),
    topics: (await store.subscribers.topicsOf([person.id])).get(person.id) ?? [],
  };
}
