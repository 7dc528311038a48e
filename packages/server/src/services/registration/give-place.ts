import type { Presence } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Context } from '../context';
import { keptFor, putWaiting } from './waitlist';

/** Who asks for a place: at one date, or at all of them when the key is empty. */
export interface AskingForPlace {
  readonly subscriberId: number;
  readonly occurrence: string;
  /** How they come, where they said so. */
  readonly presence?: Presence | undefined;
  /** Is told by the way they asked what becomes of it, and by no mail. */
  readonly isTold?: boolean;
}

/**
 * Does something that takes a place, on a page, on one's own page or by a calendar's answer, only if there is one. The event is
 * locked meanwhile, so that the last place goes once, whichever way it is asked for. Where there is none and the event has a
 * waitlist, they wait.
 * @returns what was done, `full`, or `waiting`
 */
export function givePlace<T>(
  context: Pick<Context, 'store' | 'clock'>,
  event: StoredEvent,
  asking: AskingForPlace,
  take: (tx: StoreSubjects) => Promise<T>,
): Promise<T | 'full' | 'waiting'> {
  // Where there is room for everybody, nobody waits for anybody.
  if ((event.version.facts.registration?.places ?? null) === null) return context.store.transact(take);
  return context.store.transact(async (tx) => {
    const now = await tx.events.findForUpdate(event.id);
    if (!now || (await hasPlace(context, tx, now, asking))) return take(tx);
    const { registration, series } = now.version.facts;
    // One waits for a date, and not for all of them at once; and not beside a place that one has, online.
    if (!registration?.waitlist || (series && !asking.occurrence) || (await isDown(tx, now.id, asking))) return 'full';
    const place = { eventId: event.id, subscriberId: asking.subscriberId, occurrence: asking.occurrence };
    await putWaiting({ store: tx, clock: context.clock }, now, place, { isTold: asking.isTold });
    return 'waiting';
  });
}

/**
 * Places that are spoken for at some dates of an event, as somebody finds them: those taken, and those of everybody who waits,
 * unless one is kept for them.
 * @param subscriberId null for nobody who is known
 */
export async function takenAt(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  eventId: number,
  keys: readonly string[],
  subscriberId: number | null,
): Promise<Map<string, number>> {
  const taken = await tx.registrations.taken(eventId, keys);
  const found = new Map(keys.map((key) => [key, taken.get(key) ?? 0]));
  if (subscriberId === null) return found;
  for (const occurrence of keys) {
    const place = { eventId, subscriberId, occurrence };
    if ((await keptFor(context, tx, place)) === null) continue;
    const besides = (await tx.registrations.taken(eventId, [occurrence], nowOf(context))).get(occurrence) ?? 0;
    // Their own is among those kept.
    found.set(occurrence, besides - 1);
  }
  return found;
}

const isDown = async (tx: StoreSubjects, eventId: number, asking: AskingForPlace): Promise<boolean> =>
  (await tx.registrations.placesOf(eventId, asking.subscriberId)).some(
    ({ occurrence }) => occurrence === asking.occurrence,
  );

async function hasPlace(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  event: StoredEvent,
  { subscriberId, occurrence, presence }: AskingForPlace,
): Promise<boolean> {
  const { registration, series } = event.version.facts;
  const places = registration?.places ?? null;
  if (places === null || presence === 'online') return true;
  const { reply, dates } = await tx.dates.answersOf(event.id, subscriberId);
  const answeredAt = (key: string) => (key ? (dates.get(key) ?? reply) : reply);
  const held = await tx.registrations.placesOf(event.id, subscriberId);
  const isOnlineAt = (key: string): boolean =>
    held.some((place) => place.occurrence === key && place.presence === 'online');
  // A yes to the whole series takes a place on every date; the fullest are those that somebody has of their own.
  const asked = occurrence || !series ? [occurrence] : ['', ...(await tx.registrations.held(event.id, ''))];
  const wanted = asked.filter((key) => answeredAt(key) !== 'accepted' || (presence === 'in-person' && isOnlineAt(key)));
  const taken = await takenAt(context, tx, event.id, wanted, subscriberId);
  return wanted.every((key) => (taken.get(key) ?? 0) < places);
}
