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
  return Promise.all(dates.map((date) => judge(store, event, date, nowMs)));
}

async function judge(
  store: Pick<StoreSubjects, 'invitees'>,
  event: StoredEvent,
  date: Occurrence,
  nowMs: number,
): Promise<RegistrationDate> {
  const taken = await countTaken(store, event, date.key);
  const places = event.version.facts.registration?.places ?? null;
  return {
    date,
    state: registrationState({ ...date, facts: event.version.facts }, taken, nowMs),
    left: places === null ? null : Math.max(0, places - taken),
  };
}

/** How many said yes to that date, however they did. */
async function countTaken({ invitees }: Pick<StoreSubjects, 'invitees'>, event: StoredEvent, key: string) {
  if (key) return (await invitees.countsOf(event.id, key)).accepted;
  return (await invitees.counts([event.id])).get(event.id)?.accepted ?? 0;
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
    const personId = await personOf(tx, name, email, nowOf(context));
    if (await isDown(tx, eventId, personId, occurrence)) return { kind: 'down', date };
    const { state } = await judge(tx, event, date, context.clock.now());
    if (state !== 'open') return { kind: 'refused', state };
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

/** The subscriber of that address; what is known of them is not overwritten by whoever types it. */
const personOf = async (tx: StoreSubjects, name: string, email: string, now: Date): Promise<number> =>
  (await tx.subscribers.idByEmail(email)) ??
  tx.subscribers.ensure({ name, email, mobile: '', zone: '', textConsent: null }, now);

async function isDown(tx: StoreSubjects, eventId: number, personId: number, occurrence: string): Promise<boolean> {
  const { reply, dates } = await tx.dates.answersOf(eventId, personId);
  return (occurrence ? (dates.get(occurrence) ?? reply) : reply) === 'accepted';
}
