import {
  eventUidOf,
  findOccurrence,
  instantOf,
  judgeReply,
  keyOfRecurrence,
  personalFacts,
  readPersonMessages,
  type EventFacts,
  type PersonMessage,
} from '@convite/core';
import type { StoredEvent } from '../store/events';
import type { StoredInvitee } from '../store/invitees';
import { answerPerson } from './answer-person';
import { nowOf, type Context } from './context';
import { houseWordings } from './house-wordings';

/** A message that came in, taken apart. */
export interface ReceivedMail {
  /** Envelope recipients, lower case. */
  readonly to: readonly string[];
  readonly fromAddress: string;
  /** Every text/calendar part. */
  readonly calendars: readonly string[];
  /** A delivery status notice: permanent or not, and its words (RFC 3464). */
  readonly bounce: { readonly isPermanent: boolean; readonly text: string } | null;
  /** RFC 3834: written by a machine. */
  readonly isAutomatic: boolean;
}

export type Received = 'reply' | 'bounce' | 'opt-out' | 'ignored';

/** Does what a received message asks. Throws only when the store fails, so that the sender tries again. */
export async function receiveMail(context: Context, mail: ReceivedMail): Promise<Received> {
  for (const address of mail.to) {
    const delivery = context.links.readBounceAddress(address);
    if (delivery !== null) return receiveBounce(context, delivery, mail.bounce);
    const person = address.startsWith(context.links.optOutPrefix)
      ? context.links.readOptOut(address.slice(context.links.optOutPrefix.length).split('@')[0] ?? '')
      : null;
    if (person !== null) return receiveOptOut(context, person);
  }
  let received: Received = 'ignored';
  // A calendar's own answer may carry Auto-Submitted and still counts; a holiday notice carries no REPLY.
  for (const raw of mail.calendars) {
    const read = readPersonMessages(raw, mail.fromAddress);
    if (!read) continue;
    received = 'reply';
    if (read.ok) for (const message of read.value) await receiveMessage(context, message, mail.fromAddress, raw);
    else
      await setAside(context, { from: mail.fromAddress, raw, reason: read.problems[0]?.code ?? 'calendar-bad-value' });
  }
  return received;
}

/** Keeps what counts for nobody where the marketer sees it. */
async function setAside(
  context: Context,
  aside: { from: string; raw: string; reason: string; message?: PersonMessage },
): Promise<void> {
  const { message } = aside;
  await context.store.invitees.logReply({
    eventId: null,
    at: nowOf(context),
    from: aside.from,
    attendee: message?.attendee ?? '',
    state: message?.state ?? '',
    verdict: 'set-aside',
    reason: aside.reason,
    raw: aside.raw,
  });
  await context.store.live.touch('board');
}

async function receiveMessage(context: Context, message: PersonMessage, from: string, raw: string): Promise<void> {
  const { store } = context;
  const event = await store.events.findByUid(eventUidOf(message.uid));
  if (!event) return setAside(context, { from, raw, reason: 'unknown-uid', message });
  const occurrence = message.recurrence ? keyOfRecurrence(message.recurrence, event.version.facts) : '';
  const { verdict, reason } = await judge(context, event, occurrence, message, from);
  await store.invitees.logReply({
    eventId: event.id,
    occurrence,
    at: nowOf(context),
    from,
    attendee: message.attendee,
    state: message.method === 'REPLY' ? message.state : message.method.toLowerCase(),
    verdict,
    reason,
    raw,
  });
  await store.live.touch('board', 'events', `event:${event.id}`);
}

interface Verdict {
  readonly verdict: 'apply' | 'late' | 'set-aside';
  readonly reason: string;
}

async function judge(
  context: Context,
  event: StoredEvent,
  occurrence: string,
  message: PersonMessage,
  from: string,
): Promise<Verdict> {
  if (occurrence && !findOccurrence(event.version.facts, occurrence))
    return { verdict: 'set-aside', reason: 'unknown-date' };
  const invitee = await context.store.invitees.findByEmail(event.id, message.attendee, occurrence);
  const verdict = judgeReply(message, {
    invitedAddress: invitee?.email ?? null,
    fromAddress: from,
    eventSequence: event.version.sequence + (event.version.facts.isPersonal ? (invitee?.revision ?? 0) : 0),
    lastSequence: invitee?.lastSequence ?? null,
    lastStampMs: invitee?.lastStampMs ?? null,
  });
  // To ask for the newest entry is right whichever version one holds.
  const isLateRefresh = message.method === 'REFRESH' && verdict.kind === 'late';
  if (!invitee && (await isDelegate(context, event, occurrence, message)))
    return { verdict: 'set-aside', reason: 'in-place-of' };
  if (verdict.kind !== 'apply' && !isLateRefresh) return { verdict: verdict.kind, reason: verdict.reason };
  if (message.refusal && message.state === 'needs-action') return { verdict: 'set-aside', reason: 'calendar-refused' };
  if (!invitee) return { verdict: 'set-aside', reason: 'not-invited' };
  switch (message.method) {
    case 'REPLY':
      return applyReply(context, event, occurrence, invitee, message);
    case 'COUNTER':
      return keepProposal(context, event, occurrence, invitee, message);
    case 'REFRESH':
      await answerPerson(context, event, {
        personId: invitee.subscriberId,
        method: 'REQUEST',
        occurrence: '',
        wording: houseWordings.refresh,
      });
      return { verdict: 'apply', reason: '' };
  }
}

/** Somebody that an invitee passed the invitation on to (RFC 5546 §4.2.6): not invited by us, but no stranger. */
async function isDelegate(
  { store }: Context,
  event: StoredEvent,
  occurrence: string,
  { attendee, delegatedFrom }: PersonMessage,
): Promise<boolean> {
  const delegator = delegatedFrom && (await store.invitees.findByEmail(event.id, delegatedFrom, occurrence));
  return Boolean(delegator && delegator.delegatedTo === attendee);
}

async function applyReply(
  { store, clock }: Context,
  event: StoredEvent,
  occurrence: string,
  { subscriberId, isByDate }: StoredInvitee,
  reply: PersonMessage,
): Promise<Verdict> {
  const now = new Date(clock.now());
  // Calendars that lose the date an entry is for answer for all of it: for all that the person has.
  if (isByDate && !occurrence) {
    const keys = (await store.registrations.datesOf(event.id, subscriberId)) ?? [];
    for (const key of keys) await store.dates.applyReply(event.id, subscriberId, key, reply, now);
    return keys.length ? { verdict: 'apply', reason: '' } : { verdict: 'set-aside', reason: 'unknown-date' };
  }
  // Who comes to a single date instead is kept in words; the invitation as a whole was not passed on.
  const comment = [reply.comment, reply.delegatedTo && `Passed on to ${reply.delegatedTo}`].filter(Boolean).join(' · ');
  const isApplied = occurrence
    ? await store.dates.applyReply(event.id, subscriberId, occurrence, { ...reply, comment }, now)
    : await store.invitees.applyReply(event.id, subscriberId, reply, now);
  return isApplied ? { verdict: 'apply', reason: '' } : { verdict: 'late', reason: 'older-than-last' };
}

/** Another time that somebody proposes (RFC 5546 §3.2.7). Their answer stays open until the marketer says yes or no. */
async function keepProposal(
  { store, clock }: Context,
  event: StoredEvent,
  occurrence: string,
  { subscriberId }: StoredInvitee,
  { proposed, comment }: PersonMessage,
): Promise<Verdict> {
  const own = event.version.facts.isPersonal ? await store.personal.find(event.id, subscriberId) : null;
  const date = findOccurrence(personalFacts(event.version.facts, own), occurrence);
  if (!proposed || !date) return { verdict: 'set-aside', reason: 'calendar-missing' };
  const { zone } = event.version.facts;
  const startMs = instantOf(proposed.start, zone);
  const lengthMs = proposed.minutes === null ? date.endMs - date.startMs : proposed.minutes * 60_000;
  const endMs = proposed.end ? instantOf(proposed.end, zone) : startMs + lengthMs;
  if (endMs <= startMs) return { verdict: 'set-aside', reason: 'end-before-start' };
  await store.proposals.add({
    eventId: event.id,
    subscriberId,
    occurrence,
    startMs,
    endMs,
    comment: [comment, sayOtherPlace(proposed.place, date.facts)].filter(Boolean).join(' · '),
    now: new Date(clock.now()),
  });
  return { verdict: 'apply', reason: '' };
}

/** A counter-proposal may name another place (RFC 5546 §4.2.4); the marketer reads of it, and moves the event by hand. */
const sayOtherPlace = (place: string, { venue, joinLink }: EventFacts): string =>
  place && place !== venue && place !== joinLink ? `Other place: ${place}` : '';

async function receiveBounce(
  { store, clock }: Context,
  deliveryId: number,
  bounce: ReceivedMail['bounce'],
): Promise<Received> {
  if (!bounce) return 'ignored';
  const delivery = await store.deliveries.find(deliveryId);
  if (!delivery || !bounce.isPermanent) return 'ignored';
  await store.transact(async (tx) => {
    await tx.deliveries.setAftermath(deliveryId, 'bounced', bounce.text);
    await tx.subscribers.markBounced(delivery.subscriberId, bounce.text, new Date(clock.now()));
  });
  const firing = await store.firings.find(delivery.firingId);
  await store.live.touch('board', 'subscribers', ...(firing?.eventId ? [`event:${firing.eventId}`] : []));
  return 'bounce';
}

async function receiveOptOut(context: Context, personId: number): Promise<Received> {
  await context.store.subscribers.optOut(personId, nowOf(context));
  await context.store.live.touch('subscribers');
  return 'opt-out';
}
