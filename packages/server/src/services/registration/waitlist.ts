import {
  findOccurrence,
  keptUntilMs,
  registrationEndsMs,
  registrationState,
  type Channel,
  type Occurrence,
} from '@convite/core';
import type { WaitlistPage, WaitlistQuery } from '@convite/contract';
import type { StoredEvent } from '../../store/events';
import type { PlaceOf } from '../../store/registrations';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { answerPerson } from '../sending/answer-person';
import { houseWording } from '../wording/house-wording';

/** A place may be free without a row that says so, as the time to take another runs out: it is looked after so long. */
const lookAgainMs = 60_000;
/** At one date at once; the others right after. */
const mostAtOnce = 100;

type Inside = Pick<Context, 'clock'> & { readonly store: StoreSubjects };

/**
 * Puts somebody on the waitlist of a date, who is told so by mail. To be called with the event locked.
 * @param isTold they are told by the way they asked
 * @param since when they asked, where that was before they are put there
 */
export async function putWaiting(
  inside: Inside,
  event: StoredEvent,
  place: PlaceOf,
  { isTold = false, since }: { readonly isTold?: boolean | undefined; readonly since?: Date | undefined } = {},
): Promise<void> {
  const { store } = inside;
  const { subscriberId, occurrence } = place;
  if (!(await store.waitlist.add(place, event.version.number, nowOf(inside), since))) return;
  const happened = { kind: 'registration', eventId: event.id, occurrence, detail: 'waitlisted' } as const;
  await store.webhooks.tell([subscriberId], happened, nowOf(inside));
  await store.news.note({ kind: 'waits', ...place, comment: '' }, nowOf(inside));
  const what = [event.version.facts.title, occurrence].filter(Boolean).join(', ');
  await store.house.audit(nowOf(inside), `person ${subscriberId}`, 'registration: waits', what);
  await store.live.touch(`event:${event.id}`);
  if (!isTold) await tell(inside, event, place, 'waitlisted');
}

/** They wait no longer, as they said, or the member who is named did; what was kept for them goes to the next. */
export async function leaveWaitlist(
  context: Pick<Context, 'store' | 'clock'>,
  place: PlaceOf,
  by?: Actor,
): Promise<boolean> {
  return context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(place.eventId);
    const hasLeft = await tx.waitlist.leave(place, nowOf(context));
    if (!event || !hasLeft) return false;
    const what = [event.version.facts.title, place.occurrence].filter(Boolean).join(', ');
    const who = by ?? `person ${place.subscriberId}`;
    await tx.house.audit(nowOf(context), who, 'registration: waits no longer', what);
    await tx.live.touch(`event:${place.eventId}`);
    return true;
  });
}

/** Who waits at an event, as screens show them: by date, whoever has waited longest first. */
export async function listWaiting(
  { store }: Pick<Context, 'store'>,
  eventId: number,
  { occurrence, after, limit }: WaitlistQuery,
): Promise<WaitlistPage> {
  const { rows, next } = await store.waitlist.page(eventId, { occurrence, after, limit });
  return {
    rows: rows.map(({ id, subscriberId, name, email, mobile, sinceMs, keptUntilMs, ...row }) => ({
      id,
      person: { id: subscriberId, name, email, mobile },
      occurrence: row.occurrence,
      since: new Date(sinceMs).toISOString(),
      keptUntil: keptUntilMs === null ? null : new Date(keptUntilMs).toISOString(),
    })),
    next,
  };
}

/** Until when a place is kept for somebody who waited for it; null for who is not, or no longer, to have it. */
export async function keptFor(
  { clock }: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  { eventId, subscriberId, occurrence }: PlaceOf,
): Promise<number | null> {
  const found = (await tx.waitlist.of(eventId, subscriberId)).find((one) => one.occurrence === occurrence);
  return found?.keptUntilMs && found.keptUntilMs > clock.now() ? found.keptUntilMs : null;
}

/**
 * Looks at the next event at which somebody waits and a place may be free: whoever has waited longest is told, and it is
 * kept for them meanwhile; who let theirs go by waits no longer. @returns whether there was one to look at
 */
export async function askNextWaiting({ store, clock }: Pick<Context, 'store' | 'clock'>): Promise<boolean> {
  const now = nowOf({ clock });
  const eventId = await store.waitlist.dueEvent(now);
  if (eventId === null) return false;
  await store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    await tx.waitlist.endKept(eventId, now);
    const keys = await tx.waitlist.datesOf(eventId);
    const dates = event?.status === 'published' ? keys.flatMap((key) => openDate(event, key, now.getTime())) : [];
    let isMore = false;
    for (const date of event ? dates : []) isMore = (await askAt({ store: tx, clock }, event, date)) || isMore;
    const endMs = await tx.waitlist.nextEndMs(eventId);
    const nextMs = isMore ? now.getTime() : Math.min(now.getTime() + lookAgainMs, endMs ?? Infinity);
    await tx.waitlist.lookAgain(eventId, dates.length ? new Date(nextMs) : null);
    await tx.live.touch(`event:${eventId}`);
  });
  return true;
}

/** A date at which a place could still be taken. */
function openDate({ version: { facts } }: StoredEvent, key: string, nowMs: number): Occurrence[] {
  const date = findOccurrence(facts, key);
  return date && registrationState(date, 0, nowMs) !== 'closed' ? [date] : [];
}

/** @returns whether there may be more to ask at once */
async function askAt(inside: Inside, event: StoredEvent | null, date: Occurrence): Promise<boolean> {
  const endsMs = registrationEndsMs(date);
  if (!event || endsMs === null) return false;
  const { store, clock } = inside;
  const now = nowOf(inside);
  const places = date.facts.registration?.places ?? null;
  const taken = (await store.registrations.taken(event.id, [date.key], now)).get(date.key) ?? 0;
  const free = places === null ? mostAtOnce : Math.min(mostAtOnce, places - taken);
  if (free <= 0) return false;
  const next = await store.waitlist.next(event.id, date.key, free);
  for (const { subscriberId } of next) {
    const place = { eventId: event.id, subscriberId, occurrence: date.key };
    const untilMs = keptUntilMs(clock.now(), endsMs);
    if (await tell(inside, event, place, 'placeFree', untilMs)) await store.waitlist.keep(place, new Date(untilMs));
    // Who cannot be told cannot answer: the next is asked.
    else await store.waitlist.leave(place, now);
  }
  return next.length === free;
}

/** By mail, or by text where there is no address. @returns whether there is a way */
async function tell(
  { store, clock }: Inside,
  event: StoredEvent,
  { subscriberId, occurrence }: PlaceOf,
  key: 'waitlisted' | 'placeFree',
  keptUntilMs: number | null = null,
): Promise<boolean> {
  const canMail = await store.subscribers.mayBeMailed(subscriberId);
  const canText = !canMail && (await store.subscribers.mayBeTexted(subscriberId));
  const channel: Channel | null = canMail ? 'email' : canText ? 'text' : null;
  if (channel === null) return false;
  await answerPerson({ store, clock }, event, {
    personId: subscriberId,
    channel,
    method: 'QUESTION',
    occurrence,
    wording: await houseWording(store, channel === 'email' ? key : `${key}Text`),
    keptUntilMs,
  });
  return true;
}
