import type { AudienceCount, GuestPage, InvitationPreview, WordingText } from '@convite/contract';
import type { Audience, Channel } from '@convite/core';
import type { Recipient } from '../store/subscribers';
import { nowOf, type Actor, type Context } from './context';
import { checkWording } from './check-wording';
import { eventComposer } from './compose-firing';
import { getEvent } from './events';
import { Failure, refuseProblems, refuseUnconfirmed } from './failure';
import { houseWordings } from './house-wordings';
import { webCalendarLinks } from './write-message';
import { noReplies } from '../store/invitees';

const audienceOf = (lists: readonly number[]): Audience => ({
  invitees: [],
  lists: [...lists],
  exceptLists: [],
  topics: null,
});

/** How many an invitation of these lists would reach, and why not the others. */
export const planInvitations = (
  { store }: Context,
  eventId: number,
  lists: readonly number[],
  channel: Channel,
): Promise<AudienceCount> => store.deliveries.countAudience(audienceOf(lists), channel, eventId, eventId);

/** Sends invitations now: this is done by hand, so it needs no standby. */
export async function sendInvitations(
  context: Context,
  eventId: number,
  request: { lists: readonly number[]; channel: Channel; wording: WordingText; confirmedCount: number | null },
  actor: Actor,
): Promise<number> {
  const { lists, channel, wording, confirmedCount } = request;
  const event = await getEvent(context, eventId);
  if (event.status !== 'published')
    throw new Failure(409, 'not-published', 'Publish the event before inviting people to it.');
  refuseProblems(checkWording(wording, channel));
  const { gets } = await planInvitations(context, eventId, lists, channel);
  refuseUnconfirmed(gets, confirmedCount);
  const nowMs = context.clock.now();
  await context.store.firings.create({
    kind: 'invitation',
    eventId,
    channel,
    dueMs: nowMs,
    state: 'set',
    content: {
      kind: 'invitation',
      ...wording,
      version: event.version.number,
      stampMs: nowMs,
      audience: audienceOf(lists),
    },
  });
  await context.store.house.audit(
    nowOf(context),
    actor.name,
    'invitations: sent',
    `${event.version.facts.title}, ${gets} people by ${channel}`,
  );
  await context.store.live.touch('board', `event:${eventId}`);
  return gets;
}

export async function listGuests(
  context: Context,
  eventId: number,
  search: string,
  after: number,
  limit: number,
): Promise<GuestPage> {
  const event = await getEvent(context, eventId);
  const page = await context.store.invitees.page(eventId, search, after, limit);
  const counts = (await context.store.invitees.counts([eventId])).get(eventId) ?? noReplies();
  return { ...page, counts, version: event.version.number };
}

const nobody: Recipient = { id: 0, name: 'Maria Exemplo', email: 'maria.exemplo@people.example', mobile: '', zone: '' };

/** A person to preview for: the one asked for, or somebody invited, or an invented one. */
export async function previewPerson(
  { store }: Pick<Context, 'store'>,
  eventId: number,
  personId: number | null,
): Promise<Recipient> {
  const id = personId ?? (await store.invitees.anyId(eventId));
  return (id === null ? null : await store.subscribers.find(id)) ?? nobody;
}

/** The invitation as one person gets it: the very composer that sends writes it. */
export async function previewInvitation(
  context: Context,
  eventId: number,
  personId: number | null,
  wording: WordingText | null,
): Promise<InvitationPreview> {
  const event = await getEvent(context, eventId);
  const settings = await context.store.house.settings();
  const person = await previewPerson(context, eventId, personId);
  const content = {
    kind: 'invitation',
    ...(wording ?? houseWordings.invitation),
    version: event.version.number,
    stampMs: context.clock.now(),
    audience: audienceOf([]),
  } as const;
  const message = eventComposer(context, settings, event, 'email', content)(person, 0, []);
  if (message?.kind !== 'email') throw new Error('an invitation by email is an email');
  const page = context.links.page(event.publicKey);
  return {
    person: { id: person.id, name: person.name, email: person.email, zone: person.zone },
    subject: message.subject,
    html: message.html,
    text: message.text,
    calendar: message.calendar?.text ?? '',
    sizeOctets: Buffer.byteLength(message.calendar?.text ?? ''),
    icsUrl: context.links.ics(event.publicKey),
    links: webCalendarLinks(settings, { facts: event.version.facts, publicKey: event.publicKey, uid: event.uid }, page),
  };
}
