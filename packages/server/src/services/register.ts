import {
  findOccurrence,
  occurrencesBetween,
  registrationState,
  type Occurrence,
  type RegistrationState,
} from '@convite/core';
import type { StoredEvent } from '../store/events';
import type { StoreSubjects } from '../store/store';
import { answerPerson } from './answer-person';
import { nowOf, type Context } from './context';
import { houseWordings } from './house-wordings';
import { replyByPage } from './reply-by-page';

/** A date that one may put oneself down for, or why not. */
export interface RegistrationDate {
  readonly date: Occurrence;
  readonly state: RegistrationState;
  /** Places that are left; null without a limit. */
  readonly left: number | null;
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
  const taken = await store.registrations.taken(
    event.id,
    dates.map(({ key }) => key),
  );
  return dates.map((date) => judge(date, taken.get(date.key) ?? 0, nowMs));
}

function judge(date: Occurrence, taken: number, nowMs: number): RegistrationDate {
  const places = date.facts.registration?.places ?? null;
  return {
    date,
    state: registrationState(date, taken, nowMs),
    left: places === null ? null : Math.max(0, places - taken),
  };
}

export interface Registering {
  readonly name: string;
  readonly email: string;
  /** Key of the date; empty for a one-off. */
  readonly occurrence: string;
}

export type Registered =
  | { readonly kind: 'down'; readonly date: Occurrence }
  | { readonly kind: 'refused'; readonly state: Exclude<RegistrationState, 'open'> };

/**
 * Puts somebody down for a date: a guest who said yes to it, and to it alone. The confirmation goes at once, with the
 * entry of that date. Nobody learns from the answer whether the address was known or down before, and an address that
 * is down already is not written to again. The event's row is locked, so that the last place goes once.
 * @returns null for a date that the event does not have
 */
export async function register(
  context: Context,
  eventId: number,
  { name, email, occurrence }: Registering,
): Promise<Registered | null> {
  return context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    if (event?.status !== 'published') return { kind: 'refused', state: 'closed' };
    const date = findOccurrence(event.version.facts, occurrence);
    if (!date) return null;
    if (date.calledOff) return { kind: 'refused', state: 'closed' };
    const knownId = await tx.subscribers.idByEmail(email);
    if (knownId !== null && (await isDown(tx, eventId, knownId, occurrence))) return { kind: 'down', date };
    const taken = await tx.registrations.taken(eventId, [occurrence]);
    const { state } = judge(date, taken.get(occurrence) ?? 0, context.clock.now());
    if (state !== 'open') return { kind: 'refused', state };
    // What is known of somebody is not overwritten by whoever types their address; who gets no place is not stored.
    const person = { name, email, mobile: '', zone: '', textConsent: null };
    const personId = knownId ?? (await tx.subscribers.ensure(person, nowOf(context)));
    const isByDate = event.version.facts.series !== null;
    const guest = { eventId, subscriberId: personId, version: event.version.number, isByDate };
    await tx.registrations.ensureGuest(guest, nowOf(context));
    const inside = { store: tx, clock: context.clock };
    await replyByPage(inside, { eventId, subscriberId: personId }, { occurrence, state: 'accepted', comment: '' });
    const wording = houseWordings.registered;
    await answerPerson(inside, event, { personId, method: 'REQUEST', occurrence, wording, isComing: true });
    return { kind: 'down', date };
  });
}

async function isDown(tx: StoreSubjects, eventId: number, personId: number, occurrence: string): Promise<boolean> {
  const { reply, dates } = await tx.dates.answersOf(eventId, personId);
  return (occurrence ? (dates.get(occurrence) ?? reply) : reply) === 'accepted';
}
