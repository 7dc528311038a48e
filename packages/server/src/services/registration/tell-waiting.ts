import { findOccurrence, isSameOn, type Channel, type WordingDocument } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { answerPerson } from '../sending/answer-person';
import { houseWording } from '../wording/house-wording';

/** Of those who wait at a date, who are to hear of a change of it; no notice reaches them, for they hold no entry. */
interface ToTell {
  readonly date: string;
  readonly channel: Channel;
  readonly people: readonly number[];
  readonly wording: WordingDocument;
}

/** Said with one sending. */
const toldAtOnce = 1000;

/**
 * Who waits for a place and is to be told of the newest version: of a date that is off everybody, of another whoever knows it
 * otherwise than it stands now.
 * @param wording what invitees read, for an event that is called off
 */
export async function whoWaits(
  store: StoreSubjects,
  { id, version }: StoredEvent,
  wording: WordingDocument,
): Promise<ToTell[]> {
  const found: ToTell[] = [];
  const isKnown = knownVersions(store, id);
  for (const date of await store.waitlist.datesOf(id)) {
    const isOff = isOffAt(version, date);
    const all = await store.waitlist.withoutEntry(id, date);
    const known = new Map<number, boolean>();
    for (const of of new Set(all.map(({ knowsVersion }) => knowsVersion)))
      known.set(of, !isOff && (await isKnown(of, date, version)));
    for (const channel of ['email', 'text'] as const) {
      const people = all
        .filter((one) => one.channel === channel && !known.get(one.knowsVersion))
        .map(({ subscriberId }) => subscriberId);
      if (people.length === 0) continue;
      const key = isOff ? (version.calledOff || channel === 'text' ? 'callOff' : 'dateOff') : 'waitChange';
      const isTheirs = version.calledOff && channel === 'email';
      const said = isTheirs ? wording : await houseWording(store, wordingOf(key, channel));
      found.push({ date, channel, people, wording: said });
    }
  }
  return found;
}

const wordingOf = (key: 'callOff' | 'dateOff' | 'waitChange', channel: Channel) =>
  channel === 'email' || key === 'dateOff' ? key : (`${key}Text` as const);

/** It does not take place, or not any more. */
const isOffAt = ({ calledOff, facts }: StoredEvent['version'], date: string): boolean =>
  calledOff || (findOccurrence(facts, date)?.calledOff ?? true);

/** Whether a date stands now as it did in an earlier version, each of which is read once. */
function knownVersions({ events }: StoreSubjects, eventId: number) {
  const read = new Map<number, StoredEvent['version'] | null>();
  return async (number: number, date: string, now: StoredEvent['version']): Promise<boolean> => {
    if (number === now.number) return true;
    if (!read.has(number)) read.set(number, await events.version(eventId, number));
    const before = read.get(number);
    return Boolean(before && isSameOn(before.facts, now.facts, date));
  };
}

/** They are told in words; of what is off nobody waits any more, and of all else they know the newest version. */
export async function tellWaiting(
  store: StoreSubjects,
  event: StoredEvent,
  toTell: readonly ToTell[],
  nowMs: number,
): Promise<void> {
  for (const { date, channel, people, wording } of toTell)
    for (let from = 0; from < people.length; from += toldAtOnce) {
      const [personId = 0, ...alsoIds] = people.slice(from, from + toldAtOnce);
      const about = { personId, alsoIds, channel, method: 'QUESTION', occurrence: date, wording } as const;
      await answerPerson({ store, clock: { now: () => nowMs } }, event, about);
    }
  for (const date of await store.waitlist.datesOf(event.id))
    if (isOffAt(event.version, date)) await store.waitlist.endAt(event.id, date, new Date(nowMs));
  await store.waitlist.noteTold(event.id, event.version.number);
}
