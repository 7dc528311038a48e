import {
  findOccurrence,
  isHybrid,
  occurrencesBetween,
  registrationState,
  type Occurrence,
  type Presence,
  type RegistrationState,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { PlaceOf } from '../../store/registrations';
import type { StoreSubjects } from '../../store/store';
import { answerPerson } from '../sending/answer-person';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';
import { houseWording } from '../wording/house-wording';
import { takenAt } from './give-place';
import { putWaiting } from './waitlist';
import { replyByPage } from '../replies/reply-by-page';
import { askToConfirm, keepRequest, type Asked, type ConfirmationAsked } from './requests';

/** A date that one may put oneself down for, or why not. */
export interface RegistrationDate {
  readonly date: Occurrence;
  readonly state: RegistrationState;
  /** Places that are left; null without a limit. */
  readonly left: number | null;
  /** One may come in person or online. */
  readonly isHybrid: boolean;
}

const reachMs = 366 * 86_400_000;
const mostDates = 10;

/** The next dates of an event whose page takes registrations, those called off among them; none where it takes none. */
export async function registrationDates(
  { store, clock }: Pick<Context, 'store' | 'clock'>,
  event: StoredEvent,
): Promise<RegistrationDate[]> {
  const { facts } = event.version;
  if (event.status !== 'published' || !facts.registration || facts.isPersonal) return [];
  const nowMs = clock.now();
  const dates = occurrencesBetween(facts, nowMs, nowMs + reachMs, mostDates);
  // Where there is room for everybody, nobody is counted.
  const keys = facts.registration.places === null ? [] : dates.map(({ key }) => key);
  const taken = await store.registrations.taken(event.id, keys);
  return dates.map((date) => judge(date, taken.get(date.key) ?? 0, nowMs));
}

function judge(date: Occurrence, taken: number, nowMs: number): RegistrationDate {
  const places = date.facts.registration?.places ?? null;
  return {
    date,
    state: registrationState(date, taken, nowMs),
    left: places === null ? null : Math.max(0, places - taken),
    isHybrid: isHybrid(date.facts),
  };
}

export interface Registering {
  readonly name: string;
  readonly email: string;
  /** Key of the date; empty for a one-off. */
  readonly occurrence: string;
  /** How they come; null where they were not asked. */
  readonly presence?: Presence | null;
  /** Who it is, where that is known by more than an address. */
  readonly personId?: number;
}

export type Registered =
  | { readonly kind: 'down'; readonly date: Occurrence }
  /** They wait for a place. */
  | { readonly kind: 'waiting'; readonly date: Occurrence }
  /** A mail asks whoever has the address to confirm. */
  | ConfirmationAsked
  | { readonly kind: 'refused'; readonly state: 'full' | 'closed' };

/** What a date says to somebody of that address now. Locks the event. */
export async function look(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  eventId: number,
  { email, occurrence, presence }: Registering,
): Promise<{ event: StoredEvent; date: Occurrence; state: RegistrationState } | null | 'closed'> {
  const event = await tx.events.findForUpdate(eventId);
  if (event?.status !== 'published') return 'closed';
  const date = findOccurrence(event.version.facts, occurrence);
  if (!date) return null;
  if (date.calledOff) return 'closed';
  const isOnline = presence === 'online' && isHybrid(date.facts);
  const subscriberId = await tx.subscribers.idByEmail(email);
  const taken = isOnline ? 0 : ((await takenAt(context, tx, eventId, [occurrence], subscriberId)).get(occurrence) ?? 0);
  return { event, date, state: judge(date, taken, context.clock.now()).state };
}

/**
 * Somebody registers on an event's page. Whoever types an address may not be its owner: a mail asks there to confirm, and no
 * place is kept meanwhile; where the house has switched that off for the event, they are down at once. Nobody learns
 * from the answer whether the address was known or down before.
 * @param isDoubtful filled in as machines do: confirmed by mail whatever the event says
 * @returns null for a date that the event does not have
 * @throws Failure 502 when the mail cannot be sent now; nothing is asked then
 */
export async function register(
  context: Context,
  eventId: number,
  asking: Registering,
  isDoubtful = false,
): Promise<Registered | null> {
  const done = await context.store.transact(async (tx): Promise<Registered | null | Asked> => {
    const seen = await look(context, tx, eventId, asking);
    if (seen === null) return null;
    if (seen === 'closed') return { kind: 'refused', state: 'closed' };
    const { event, date, state } = seen;
    if (state === 'full' || state === 'closed') return { kind: 'refused', state };
    const waits = state === 'waitlist';
    const presence = isHybrid(date.facts) ? (asking.presence ?? null) : null;
    const isSure = !isDoubtful && !event.version.facts.registration?.confirms;
    if (isSure) return (waits ? letWait : putDown)(context, tx, event, date, { ...asking, presence });
    return keepRequest(context, tx, { event, date, waits, asking: { ...asking, presence } });
  });
  return done && 'requestId' in done ? askToConfirm(context, eventId, asking.email, done) : done;
}

/** Takes a place on a person's own page, where nothing is in doubt: the address was made for them alone. */
export async function takePlace(
  context: Context,
  eventId: number,
  asking: Registering,
): Promise<Exclude<Registered, { kind: 'asked' }> | null> {
  return context.store.transact(async (tx) => {
    const seen = await look(context, tx, eventId, asking);
    if (seen === null) return null;
    if (seen === 'closed') return { kind: 'refused', state: 'closed' };
    const { event, date, state } = seen;
    if (state === 'full' || state === 'closed') return { kind: 'refused', state };
    return (state === 'open' ? putDown : letWait)(context, tx, event, date, asking);
  });
}

/**
 * A member gives somebody who waits a place, whether or not one is free. They are told as if they had taken it themselves.
 * @throws Failure 409 where they wait for it no longer
 */
export async function giveByHand(
  context: Context,
  { eventId, subscriberId, occurrence }: PlaceOf,
  actor: Actor,
): Promise<void> {
  await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    const date = event && findOccurrence(event.version.facts, occurrence);
    const person = await tx.subscribers.find(subscriberId);
    if (!event || !date || !person) throw notFound('date');
    const waits = (await tx.waitlist.of(eventId, subscriberId)).some((one) => one.occurrence === occurrence);
    if (!waits) throw new Failure(409, 'waits-no-longer', 'They wait for it no longer.');
    const { name, email } = person;
    await putDown(context, tx, event, date, { name, email, occurrence, personId: subscriberId });
    const what = [event.version.facts.title, occurrence].filter(Boolean).join(', ');
    await tx.house.audit(nowOf(context), actor, 'registration: place given by hand', what);
  });
}

/**
 * Puts somebody on the waitlist of a date, where one asked before it was full before all who came since. They are no guest of it yet, and hear of it all the same. Whoever has a place or
 * waits already is not written to again, and reads what everybody reads.
 */
export async function letWait(
  context: Context,
  tx: StoreSubjects,
  event: StoredEvent,
  date: Occurrence,
  asking: Registering,
  since?: Date,
): Promise<Extract<Registered, { kind: 'waiting' }>> {
  const { id: subscriberId, isNew } = await personOf(context, tx, asking);
  const place = { eventId: event.id, subscriberId, occurrence: asking.occurrence };
  if (isNew || !(await isDown(tx, event.id, subscriberId, asking.occurrence)))
    await putWaiting({ store: tx, clock: context.clock }, event, place, { since });
  return { kind: 'waiting', date };
}

/** What is known of somebody is not overwritten by whoever types their address; who gets no place is not stored. */
async function personOf(
  context: Context,
  tx: StoreSubjects,
  { name, email, personId }: Registering,
): Promise<{ readonly id: number; readonly isNew: boolean }> {
  if (personId !== undefined) return { id: personId, isNew: false };
  const knownId = await tx.subscribers.idByEmail(email);
  if (knownId !== null) return { id: knownId, isNew: false };
  const person = { name, email, mobile: '', zone: '', textConsent: null, emailConsent: false };
  return { id: await tx.newcomers.ensure(person, byForm, nowOf(context)), isNew: true };
}

/**
 * Puts somebody down for a date: a guest who said yes to it, and to it alone. The confirmation goes at once, with the
 * entry of that date. Whoever is down already is not written to again. To be called with the event locked, so that the
 * last place goes once.
 */
export async function putDown(
  context: Context,
  tx: StoreSubjects,
  event: StoredEvent,
  date: Occurrence,
  asking: Registering,
): Promise<Extract<Registered, { kind: 'down' }>> {
  const { occurrence, presence } = asking;
  const { id: personId, isNew } = await personOf(context, tx, asking);
  if (!isNew && (await isDown(tx, event.id, personId, occurrence))) return { kind: 'down', date };
  const isByDate = event.version.facts.series !== null;
  const guest = { eventId: event.id, subscriberId: personId, version: event.version.number, isByDate };
  await tx.registrations.ensureGuest(guest, nowOf(context));
  const inside = { store: tx, clock: context.clock };
  await replyByPage(
    inside,
    { eventId: event.id, subscriberId: personId },
    { occurrence, state: 'accepted', comment: '', presence: presence ?? undefined },
  );
  const happened = { kind: 'registration', eventId: event.id, occurrence, detail: 'confirmed' } as const;
  await tx.webhooks.tell([personId], happened, nowOf(context));
  const what = [event.version.facts.title, occurrence].filter(Boolean).join(', ');
  await tx.house.audit(nowOf(context), `person ${personId}`, 'registration: down', what);
  const channel = asking.email ? 'email' : 'text';
  const wording = await houseWording(tx, channel === 'email' ? 'registered' : 'acceptedText');
  await answerPerson(inside, event, { personId, channel, method: 'REQUEST', occurrence, wording, isComing: true });
  return { kind: 'down', date };
}

/** Registering is consent to hear of this event: nothing else is written to them by it. */
const byForm = { source: 'form', how: 'registered on an event’s page', by: '' } as const;

async function isDown(tx: StoreSubjects, eventId: number, personId: number, occurrence: string): Promise<boolean> {
  const { reply, dates } = await tx.dates.answersOf(eventId, personId);
  return (occurrence ? (dates.get(occurrence) ?? reply) : reply) === 'accepted';
}
