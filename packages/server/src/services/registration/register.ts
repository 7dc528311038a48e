import {
  findOccurrence,
  holdMs,
  occurrencesBetween,
  registrationState,
  sayWhen,
  type Occurrence,
  type RegistrationState,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { Hold } from '../../store/holds';
import type { StoreSubjects } from '../../store/store';
import { answerPerson } from '../sending/answer-person';
import { nowOf, type Context } from '../context';
import { Failure } from '../failure';
import { houseWording } from '../wording/house-wording';
import { takenAt } from './give-place';
import { replyByPage } from '../replies/reply-by-page';
import { pressDocument, writeHouseEmail } from '../sending/write-message';
import { houseManner } from '../sending/manner';

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
  // Where there is room for everybody, nobody is counted.
  const keys = facts.registration.places === null ? [] : dates.map(({ key }) => key);
  const [taken, held] = await Promise.all([
    store.registrations.taken(event.id, keys),
    store.holds.held(event.id, keys, new Date(nowMs)),
  ]);
  return dates.map((date) => judge(date, (taken.get(date.key) ?? 0) + (held.get(date.key) ?? 0), nowMs));
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
  /** A mail asks whoever has the address to confirm; until then the place is held. */
  | { readonly kind: 'asked'; readonly date: Occurrence }
  | { readonly kind: 'refused'; readonly state: Exclude<RegistrationState, 'open'> };

type Tx = StoreSubjects;

/** What a date says to somebody of that address now; places held for others count. Locks the event. */
async function look(
  context: Pick<Context, 'clock'>,
  tx: Tx,
  eventId: number,
  { email, occurrence }: Registering,
): Promise<{ event: StoredEvent; date: Occurrence; state: RegistrationState } | null | 'closed'> {
  const event = await tx.events.findForUpdate(eventId);
  if (event?.status !== 'published') return 'closed';
  const date = findOccurrence(event.version.facts, occurrence);
  if (!date) return null;
  if (date.calledOff) return 'closed';
  const taken = (await takenAt(context, tx, eventId, [occurrence], email)).get(occurrence) ?? 0;
  return { event, date, state: judge(date, taken, context.clock.now()).state };
}

/**
 * Somebody registers on an event's page. Whoever types an address may not be its owner: a mail asks there to confirm, and
 * the place is held meanwhile; where the house has switched that off for the event, they are down at once. Nobody learns
 * from the answer whether the address was known or down before.
 * @param isDoubtful filled in as machines do: confirmed by mail whatever the event says
 * @returns null for a date that the event does not have
 * @throws Failure 502 when the mail cannot be sent now; nothing is held then
 */
export async function register(
  context: Context,
  eventId: number,
  asking: Registering,
  isDoubtful = false,
): Promise<Registered | null> {
  const { store } = context;
  const done = await store.transact(async (tx): Promise<Registered | null | Asked> => {
    const seen = await look(context, tx, eventId, asking);
    if (seen === null) return null;
    if (seen === 'closed') return { kind: 'refused', state: 'closed' };
    const { event, date, state } = seen;
    if (state !== 'open') return { kind: 'refused', state };
    if (!isDoubtful && !event.version.facts.registration?.confirms) return putDown(context, tx, event, date, asking);
    const heldUntil = new Date(context.clock.now() + holdMs);
    const holdId = await tx.holds.hold({ eventId, ...asking, heldUntil });
    await tx.live.touch(`event:${eventId}`);
    return { kind: 'asked', date, holdId };
  });
  if (done?.kind !== 'asked' || !('holdId' in done)) return done;
  await askToConfirm(context, eventId, asking.email, done);
  return { kind: 'asked', date: done.date };
}

interface Asked {
  readonly kind: 'asked';
  readonly date: Occurrence;
  readonly holdId: number;
}

/** One mail with one button; nothing in it was typed by whoever asked. */
async function askToConfirm(context: Context, eventId: number, email: string, { date, holdId }: Asked): Promise<void> {
  const { store, links } = context;
  if (!(await mayBeWrittenTo(context, email, eventId))) return;
  const settings = await store.house.settings();
  const title = date.facts.title;
  const body = `Somebody, we hope you, registered this address for ${title}.

When: ${sayWhen(date.facts, '', houseManner(settings))}

Confirm it within half an hour; then you are down for it, and the entry for your calendar comes. Was it not you? Then do
nothing, and you will hear no more of it.`;
  const refusal = await context.mail.send(
    writeHouseEmail(context, settings, {
      to: { name: '', address: email },
      document: pressDocument(`Confirm your place: ${title}`, body, {
        label: 'Yes, put me down',
        url: links.confirmHold(holdId),
      }),
    }),
  );
  if (!refusal) return;
  await store.holds.release(holdId);
  throw new Failure(502, 'mail-server', 'Our mail cannot be sent just now. Please try again in a few minutes.');
}

/** At most once an hour for an event and five times a day, and nobody who opted out or whose address bounces. */
async function mayBeWrittenTo({ store, clock }: Context, email: string, eventId: number): Promise<boolean> {
  const id = await store.subscribers.idByEmail(email);
  if (id !== null && !(await store.subscribers.mayBeMailed(id))) return false;
  return store.asked.mayWrite(email, eventId, new Date(clock.now()));
}

/** What a confirmation is about, for the page that asks; null for one that is not there any more. */
export async function findHold(
  { store, clock }: Pick<Context, 'store' | 'clock'>,
  holdId: number,
): Promise<{ hold: Hold; event: StoredEvent; others: readonly Hold[] } | null> {
  const hold = await store.holds.find(holdId);
  const event = hold && (await store.events.find(hold.eventId));
  if (!hold || !event) return null;
  const open = await store.holds.openOf(event.id, hold.email, new Date(clock.now()));
  return { hold, event, others: open.filter(({ id }) => id !== hold.id) };
}

/**
 * The owner of the address says yes, to this date and to all others that are held for them at the event: one mail an hour
 * asks about them. A place whose hold ran out is given as any other, if there is one.
 */
export async function confirmRegistration(
  context: Context,
  { hold, others }: { readonly hold: Hold; readonly others: readonly Hold[] },
): Promise<Registered | null> {
  const done = await confirmOne(context, hold);
  for (const other of others) await confirmOne(context, other);
  return done;
}

function confirmOne(context: Context, hold: Hold): Promise<Registered | null> {
  return context.store.transact(async (tx) => {
    const seen = await look(context, tx, hold.eventId, hold);
    if (seen === null) return null;
    if (seen === 'closed') return { kind: 'refused', state: 'closed' };
    const { event, date, state } = seen;
    const isKept = hold.heldUntil.getTime() > context.clock.now() && state !== 'closed';
    const now = await tx.holds.find(hold.id);
    if (now?.isConfirmed) return { kind: 'down', date };
    if (!isKept && state !== 'open') return { kind: 'refused', state };
    await tx.holds.confirm(hold.id, nowOf(context));
    return putDown(context, tx, event, date, hold);
  });
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
    return state === 'open' ? putDown(context, tx, event, date, asking) : { kind: 'refused', state };
  });
}

/**
 * Puts somebody down for a date: a guest who said yes to it, and to it alone. The confirmation goes at once, with the
 * entry of that date. Whoever is down already is not written to again. To be called with the event locked, so that the
 * last place goes once.
 */
async function putDown(
  context: Context,
  tx: Tx,
  event: StoredEvent,
  date: Occurrence,
  { name, email, occurrence }: Registering,
): Promise<Extract<Registered, { kind: 'down' }>> {
  const knownId = await tx.subscribers.idByEmail(email);
  if (knownId !== null && (await isDown(tx, event.id, knownId, occurrence))) return { kind: 'down', date };
  // What is known of somebody is not overwritten by whoever types their address; who gets no place is not stored.
  const person = { name, email, mobile: '', zone: '', textConsent: null, emailConsent: false };
  const personId = knownId ?? (await tx.newcomers.ensure(person, byForm, nowOf(context)));
  const isByDate = event.version.facts.series !== null;
  const guest = { eventId: event.id, subscriberId: personId, version: event.version.number, isByDate };
  await tx.registrations.ensureGuest(guest, nowOf(context));
  const inside = { store: tx, clock: context.clock };
  await replyByPage(
    inside,
    { eventId: event.id, subscriberId: personId },
    { occurrence, state: 'accepted', comment: '' },
  );
  const happened = { kind: 'registration', eventId: event.id, occurrence, detail: 'confirmed' } as const;
  await tx.webhooks.tell([personId], happened, nowOf(context));
  const what = [event.version.facts.title, occurrence].filter(Boolean).join(', ');
  await tx.house.audit(nowOf(context), `person ${personId}`, 'registration: down', what);
  const wording = await houseWording(tx, 'registered');
  await answerPerson(inside, event, { personId, method: 'REQUEST', occurrence, wording, isComing: true });
  return { kind: 'down', date };
}

/** Registering is consent to hear of this event: nothing else is written to them by it. */
const byForm = { source: 'form', how: 'registered on an event’s page', by: '' } as const;

async function isDown(tx: Tx, eventId: number, personId: number, occurrence: string): Promise<boolean> {
  const { reply, dates } = await tx.dates.answersOf(eventId, personId);
  return (occurrence ? (dates.get(occurrence) ?? reply) : reply) === 'accepted';
}
