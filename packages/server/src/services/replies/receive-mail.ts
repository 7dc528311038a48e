import {
  addDuration,
  eventUidOf,
  findOccurrence,
  instantOf,
  isOvertaken,
  judgeReply,
  keyOfRecurrence,
  personalFacts,
  type EventFacts,
  type PersonMessage,
} from '@convite/core';
import type { ReceivedMail } from '../../mail/received-mail';
import type { StoredEvent } from '../../store/events';
import type { AppliedReply, StoredInvitee } from '../../store/invitees';
import type { StoreSubjects } from '../../store/store';
import { answerPerson } from '../sending/answer-person';
import { askAboutDates } from './ask-about-dates';
import { nowOf, type Context } from '../context';
import { givePlace } from '../registration/give-place';
import { houseWording } from '../wording/house-wording';
import { noteRefusal } from '../sending/note-refusal';
import { receiveLetter } from './receive-letter';
import { writeAnswer } from './write-answer';

export type Received = 'reply' | 'bounce' | 'complaint' | 'opt-out' | 'letter' | 'ignored';

/** Addresses of ours that anybody may write to, beside those made for one person or one delivery. */
const openAddresses: readonly string[] = ['replies', 'postmaster', 'abuse'];

/** Is there such an address here? Made by us for somebody, or one of the few that stand for the house. */
export function isOurAddress({ links }: Pick<Context, 'links'>, address: string): boolean {
  const [local = '', domain] = address.toLowerCase().split('@');
  if (domain !== links.mailDomain.toLowerCase()) return false;
  return (
    openAddresses.includes(local) ||
    links.readGuestAddress(address) !== null ||
    links.isEndedGuestAddress(address) ||
    links.readBounceAddress(address) !== null ||
    links.readSenderAddress(address) !== null ||
    optOutOf(links, address) !== null
  );
}

const optOutOf = (links: Context['links'], address: string): number | null =>
  address.startsWith(links.optOutPrefix)
    ? links.readOptOut(address.slice(links.optOutPrefix.length).split('@')[0] ?? '')
    : null;

/** The address of the person whose own address here that is; empty when it is nobody's. */
export async function knownAs({ links, store }: Pick<Context, 'links' | 'store'>, address: string): Promise<string> {
  const id = links.readGuestAddress(address);
  const person = id === null ? null : await store.subscribers.find(id);
  return person?.email ?? '';
}

/** Who speaks in a message: known by the address it went to, else only claimed in From. */
interface Speaker {
  readonly address: string;
  readonly personId: number | null;
  isProved(): Promise<boolean>;
}

/** Does what a received message asks. Throws only when the store fails, so that the sender tries again. */
export async function receiveMail(context: Context, mail: ReceivedMail): Promise<Received> {
  const { links } = context;
  if (mail.complaint !== null) return receiveComplaint(context, mail.complaint);
  for (const address of mail.to) {
    const delivery = links.readBounceAddress(address);
    if (delivery !== null) return receiveBounce(context, delivery, mail);
    const person = optOutOf(links, address);
    if (person !== null) return receiveOptOut(context, person);
  }
  const [to = ''] = mail.to;
  const personId = links.readGuestAddress(to);
  const known = await knownAs(context, to);
  const speaker: Speaker = known
    ? { address: known, personId, isProved: () => Promise.resolve(true) }
    : { address: mail.fromAddress, personId: null, isProved: () => mail.isProved() };
  let received: Received = 'ignored';
  // A calendar's own answer may carry Auto-Submitted and still counts; a holiday notice carries no REPLY.
  for (const { raw, uid, read } of mail.calendars) {
    if (!read) continue;
    received = 'reply';
    if (read.ok) await receiveMessages(context, read.value, speaker, raw);
    else {
      const reason = read.problems[0]?.code ?? 'calendar-bad-value';
      await setAside(context, { from: speaker.address, raw, uid, reason });
    }
  }
  if (received === 'ignored' && !mail.isAutomatic && !mail.bounce)
    return receiveLetter(context, mail, speaker.personId);
  return received;
}

/** What one calendar text says. Its octets are kept once, with the first; one event of a message is answered by mail. */
async function receiveMessages(
  context: Context,
  messages: readonly PersonMessage[],
  speaker: Speaker,
  raw: string,
): Promise<void> {
  const uid = messages[0] && eventUidOf(messages[0].uid);
  let kept = raw;
  for (const message of messages) {
    const isFirstEvent = eventUidOf(message.uid) === uid;
    if (isFirstEvent || message.method === 'REPLY') await receiveMessage(context, message, speaker, kept);
    kept = '';
  }
}

/** Keeps what counts for nobody where the marketer sees it: with its event, where it names one of ours. */
async function setAside(
  context: Context,
  aside: { from: string; raw: string; uid: string; reason: string; message?: PersonMessage },
): Promise<void> {
  const { message } = aside;
  const event = aside.uid ? await context.store.events.findByUid(eventUidOf(aside.uid)) : null;
  await context.store.replies.log({
    eventId: event?.id ?? null,
    at: nowOf(context),
    from: aside.from,
    attendee: message?.attendee ?? '',
    state: message?.state ?? '',
    verdict: 'set-aside',
    reason: aside.reason,
    raw: aside.raw,
  });
  await context.store.live.touch('board', ...(event ? [`event:${event.id}`] : []));
}

async function receiveMessage(context: Context, message: PersonMessage, speaker: Speaker, raw: string): Promise<void> {
  const { store } = context;
  const from = speaker.address;
  const event = await store.events.findByUid(eventUidOf(message.uid));
  if (!event) return setAside(context, { from, raw, uid: '', reason: 'unknown-uid', message });
  const occurrence = message.recurrence ? keyOfRecurrence(message.recurrence, event.version.facts) : '';
  // A stamp from the future would lock the person's later answers out: it is an answer of this moment.
  const now = { ...message, stampMs: Math.min(message.stampMs, context.clock.now()) };
  const { verdict, reason } = await judge(context, event, occurrence, now, speaker);
  await store.replies.log({
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
  speaker: Speaker,
): Promise<Verdict> {
  const { store } = context;
  if (occurrence && !findOccurrence(event.version.facts, occurrence))
    return { verdict: 'set-aside', reason: 'unknown-date' };
  const invitee = await store.invitees.findByEmail(event.id, message.attendee, occurrence);
  const revision = event.version.facts.isPersonal ? (invitee?.revision ?? 0) : 0;
  const versions = invitee
    ? await store.events.versionsUpTo(event.id, invitee.holdsVersion ?? event.version.number)
    : [];
  const verdict = judgeReply(message, {
    invitedAddress: invitee?.email ?? null,
    fromAddress: speaker.address,
    eventSequence: event.version.sequence + revision,
    isOvertaken: event.version.facts.isPersonal
      ? message.sequence < (versions.at(-1)?.sequence ?? 0) + revision
      : isOvertaken(message.sequence, versions, occurrence),
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
  // From is only what somebody wrote there; asked last, since proving it asks the world.
  if (!(await speaker.isProved())) return { verdict: 'set-aside', reason: 'unproven' };
  switch (message.method) {
    case 'REPLY': {
      const applied = await applyReply(context, event, occurrence, invitee, message);
      if (applied.verdict === 'apply' && !occurrence && message.state === 'declined')
        await askAboutDates(context, event, invitee.subscriberId);
      return applied;
    }
    case 'COUNTER':
      return keepProposal(context, event, occurrence, invitee, message);
    case 'REFRESH':
      return answerRefresh(context, event, invitee);
  }
}

/** The newest entry again, to whoever may be written to, and not more often than the house allows. */
async function answerRefresh(
  context: Context,
  event: StoredEvent,
  { subscriberId, email }: StoredInvitee,
): Promise<Verdict> {
  if (!(await context.store.subscribers.mayBeMailed(subscriberId)))
    return { verdict: 'set-aside', reason: 'not-written-to' };
  if (!(await context.store.asked.mayWrite(email, event.id, nowOf(context))))
    return { verdict: 'set-aside', reason: 'asked-too-often' };
  // Of what was called off, the newest entry is its cancellation (RFC 5546 §3.2.6).
  const { calledOff } = event.version;
  await answerPerson(context, event, {
    personId: subscriberId,
    method: calledOff ? 'CANCEL' : 'REQUEST',
    occurrence: '',
    wording: await houseWording(context.store, calledOff ? 'callOff' : 'refresh'),
  });
  return { verdict: 'apply', reason: '' };
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

/** Counts an answer; a yes only where there is a place, unless a person says that it counts. */
export async function applyReply(
  context: Context,
  event: StoredEvent,
  occurrence: string,
  invitee: StoredInvitee,
  reply: AppliedReply,
  isJudged = false,
): Promise<Verdict> {
  const write = (tx: StoreSubjects): Promise<Verdict> => writeReply(context, tx, event, occurrence, invitee, reply);
  if (isJudged || reply.state !== 'accepted') return context.store.transact(write);
  const { subscriberId } = invitee;
  const verdict = await givePlace(context, event, { subscriberId, occurrence }, write);
  // They are told by mail that they wait for a place.
  if (verdict === 'waiting') return { verdict: 'apply', reason: 'waits' };
  return verdict === 'full' ? { verdict: 'set-aside', reason: 'no-place' } : verdict;
}

async function writeReply(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  event: StoredEvent,
  occurrence: string,
  { subscriberId, isByDate }: StoredInvitee,
  reply: AppliedReply,
): Promise<Verdict> {
  // Calendars that lose the date an entry is for answer for all of it: for all that the person has.
  if (isByDate && !occurrence) {
    const keys = (await tx.registrations.datesOf(event.id, subscriberId)) ?? [];
    for (const key of keys) await writeAnswer(context, tx, event, { subscriberId, occurrence: key }, reply);
    return keys.length ? { verdict: 'apply', reason: '' } : { verdict: 'set-aside', reason: 'unknown-date' };
  }
  // Who comes to a single date instead is kept in words; the invitation as a whole was not passed on.
  const comment = [reply.comment, reply.delegatedTo && `Passed on to ${reply.delegatedTo}`].filter(Boolean).join(' · ');
  const said = occurrence ? { ...reply, comment } : reply;
  const isApplied = await writeAnswer(context, tx, event, { subscriberId, occurrence }, said);
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
  const { length } = proposed;
  const endMs = proposed.end
    ? instantOf(proposed.end, zone)
    : length
      ? addDuration(startMs, length, zone)
      : startMs + date.endMs - date.startMs;
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

async function receiveBounce(context: Context, deliveryId: number, mail: ReceivedMail): Promise<Received> {
  const { store } = context;
  const { bounce } = mail;
  // Mail beside the queue is of no delivery.
  if (deliveryId === 0) return 'ignored';
  if (!bounce?.isFailed) return 'ignored';
  const delivery = await store.deliveries.find(deliveryId);
  if (!delivery || !(await store.deliveries.setAftermath(deliveryId, 'bounced', bounce.text, nowOf(context))))
    return 'ignored';
  const what = `person ${delivery.subscriberId}: ${bounce.text}`;
  await store.house.audit(nowOf(context), 'mail server', 'bounce: came back', what);
  // Whoever got the message knows where its reports go: that it is our relay's must be proved.
  const isFromRelay = bounce.about === 'policy' && isOurDomain(context, mail.fromAddress) && (await mail.isProved());
  await noteRefusal(context, delivery.subscriberId, { about: bounce.about, text: bounce.text, isFromRelay });
  const events = await store.firings.eventsOf([delivery.firingId]);
  await store.live.touch('board', 'subscribers', ...events.map((id) => `event:${id}`));
  return 'bounce';
}

/** An address below MAIL_DOMAIN, as our relay's own postmaster has. */
function isOurDomain({ links }: Pick<Context, 'links'>, address: string): boolean {
  const domain = address.split('@').at(-1) ?? '';
  const own = links.mailDomain.toLowerCase();
  return domain === own || domain.endsWith(`.${own}`);
}

/**
 * Somebody called a message of ours unwanted, and their mail provider says so (RFC 5965): they are written to no more. Known by
 * the Message-ID, which is signed, so that nobody complains for others.
 */
async function receiveComplaint(context: Context, messageId: string): Promise<Received> {
  const { store, links } = context;
  const id = links.readMessageId(messageId);
  const delivery = id === null ? null : await store.deliveries.find(id);
  if (!delivery) return 'ignored';
  const personId = await store.subscribers.whoIs(delivery.subscriberId);
  const said = { source: 'mail', how: 'called a message unwanted', by: `person ${personId}` } as const;
  const isNew = await store.transact(async (tx) => {
    const [first] = await tx.consents.optOutMany([personId], said, nowOf(context));
    if (first !== undefined) await tx.cameOf.noteOfFiring(delivery.firingId, 'complaints', nowOf(context));
    return first !== undefined;
  });
  if (!isNew) return 'ignored';
  await store.house.audit(nowOf(context), `person ${personId}`, 'opt-out: called it unwanted', '');
  await store.live.touch('subscribers', 'senders');
  return 'complaint';
}

async function receiveOptOut(context: Context, named: number): Promise<Received> {
  // A test or a preview names person 0, who is nobody.
  if (named === 0) return 'ignored';
  const personId = await context.store.subscribers.whoIs(named);
  const said = { source: 'mail', how: 'wrote to the address to opt out', by: `person ${personId}` } as const;
  await context.store.transact((tx) => tx.consents.optOut(personId, said, nowOf(context)));
  await context.store.house.audit(nowOf(context), `person ${personId}`, 'opt-out: by mail', '');
  await context.store.live.touch('subscribers');
  return 'opt-out';
}
