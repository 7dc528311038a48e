import { findOccurrence, isSameOn, type Channel, type WordingDocument } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import type { Untold, UntoldPerson } from '../../store/waitlist';
import { answerPerson } from '../sending/answer-person';
import { houseWording } from '../wording/house-wording';

/** Said with one sending. */
const toldAtOnce = 1000;

/**
 * Who waits for a place and is to be told of the newest version, for no notice reaches them: of a date that is off everybody, of
 * another whoever knows it otherwise than it stands now.
 */
export async function whoWaits(
  { waitlist, events }: Pick<StoreSubjects, 'waitlist' | 'events'>,
  { id, version }: StoredEvent,
): Promise<Untold[]> {
  const found: Untold[] = [];
  const isKnown = knownVersions(events, id);
  for (const some of await waitlist.untold(id))
    if (isOffAt(version, some.occurrence) || !(await isKnown(some.knowsVersion, some.occurrence, version)))
      found.push(some);
  return found;
}

/** How many they are, by how they hear. */
export function countWaiting(who: readonly Untold[]): Record<Channel, number> {
  const count = { email: 0, text: 0 };
  for (const some of who) count[some.channel] += some.count;
  return count;
}

const wordingOf = (key: 'callOff' | 'dateOff' | 'waitChange', channel: Channel) =>
  channel === 'email' || key === 'dateOff' ? key : (`${key}Text` as const);

/** It does not take place, or not any more. */
const isOffAt = ({ calledOff, facts }: StoredEvent['version'], date: string): boolean =>
  calledOff || (findOccurrence(facts, date)?.calledOff ?? true);

/** Whether a date stands now as it did in an earlier version, each of which is read once. */
function knownVersions(events: StoreSubjects['events'], eventId: number) {
  const read = new Map<number, StoredEvent['version'] | null>();
  return async (number: number, date: string, now: StoredEvent['version']): Promise<boolean> => {
    if (number === now.number) return true;
    if (!read.has(number)) read.set(number, await events.version(eventId, number));
    const before = read.get(number);
    return Boolean(before && isSameOn(before.facts, now.facts, date));
  };
}

/**
 * They are told in words; of what is off nobody waits any more, and of all else they know the newest version.
 * @param written what invitees read: where the event is called off, so do they
 */
export async function tellWaiting(
  store: StoreSubjects,
  event: StoredEvent,
  toTell: readonly Untold[],
  written: WordingDocument,
  nowMs: number,
): Promise<void> {
  for (const some of toTell) {
    const { occurrence, channel } = some;
    const wording = await saidTo(store, event, some, written);
    for (let last: UntoldPerson | null = null; ;) {
      const people: UntoldPerson[] = await store.waitlist.untoldOf(event.id, some, last, toldAtOnce);
      const [personId, ...alsoIds] = people.map(({ subscriberId }) => subscriberId);
      if (personId === undefined) break;
      const about = { personId, alsoIds, channel, method: 'QUESTION', occurrence, wording } as const;
      await answerPerson({ store, clock: { now: () => nowMs } }, event, about);
      last = people.at(-1) ?? null;
    }
  }
  for (const date of await store.waitlist.datesOf(event.id))
    if (isOffAt(event.version, date)) await store.waitlist.endAt(event.id, date, new Date(nowMs));
  await store.waitlist.noteTold(event.id, event.version.number);
}

async function saidTo(
  store: StoreSubjects,
  { version }: StoredEvent,
  { occurrence, channel }: Untold,
  written: WordingDocument,
): Promise<WordingDocument> {
  if (version.calledOff && channel === 'email') return written;
  if (!isOffAt(version, occurrence)) return houseWording(store, wordingOf('waitChange', channel));
  return houseWording(store, wordingOf(version.calledOff || channel === 'text' ? 'callOff' : 'dateOff', channel));
}
