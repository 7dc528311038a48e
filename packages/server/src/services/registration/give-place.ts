import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Context } from '../context';

/** Who asks for a place: at one date, or at all of them when the key is empty. */
export interface AskingForPlace {
  readonly subscriberId: number;
  readonly email: string;
  readonly occurrence: string;
}

/**
 * Does something that takes a place, on a page, on one's own page or by a calendar's answer, only if there is one. The event is
 * locked meanwhile, so that the last place goes once, whichever way it is asked for.
 * @returns what was done, or `full`
 */
export function givePlace<T>(
  context: Pick<Context, 'store' | 'clock'>,
  event: StoredEvent,
  asking: AskingForPlace,
  take: (tx: StoreSubjects) => Promise<T>,
): Promise<T | 'full'> {
  // Where there is room for everybody, nobody waits for anybody.
  if ((event.version.facts.registration?.places ?? null) === null) return context.store.transact(take);
  return context.store.transact(async (tx) => {
    const now = await tx.events.findForUpdate(event.id);
    if (now && !(await hasPlace(context, tx, now, asking))) return 'full';
    return take(tx);
  });
}

/** Places taken and held at some dates of an event; those held for this address do not count against it. */
export async function takenAt(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  eventId: number,
  keys: readonly string[],
  email: string,
): Promise<Map<string, number>> {
  const taken = await tx.registrations.taken(eventId, keys);
  const held = await tx.holds.held(eventId, keys, nowOf(context), email);
  return new Map(keys.map((key) => [key, (taken.get(key) ?? 0) + (held.get(key) ?? 0)]));
}

async function hasPlace(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  event: StoredEvent,
  { subscriberId, email, occurrence }: AskingForPlace,
): Promise<boolean> {
  const { registration, series } = event.version.facts;
  const places = registration?.places ?? null;
  if (places === null) return true;
  const { reply, dates } = await tx.dates.answersOf(event.id, subscriberId);
  const answeredAt = (key: string) => (key ? (dates.get(key) ?? reply) : reply);
  // A yes to the whole series takes a place on every date; the fullest are those that somebody has of their own.
  const asked = occurrence || !series ? [occurrence] : ['', ...(await tx.registrations.held(event.id, ''))];
  const wanted = asked.filter((key) => answeredAt(key) !== 'accepted');
  const taken = await takenAt(context, tx, event.id, wanted, email);
  return wanted.every((key) => (taken.get(key) ?? 0) < places);
}
