import {
  calendarDress,
  plainDocument,
  findOccurrence,
  formerOccurrence,
  isSameForAll,
  mostShownGuests,
  personalFacts,
  personalUid,
  plainEntryText,
  prepareCalendar,
  readWording,
  textToHtml,
  writeDeclineCounter,
  type CalendarSource,
  type EntryText,
  type EventFacts,
  type Method,
  type Occurrence,
  type ShownGuest,
} from '@convite/core';
import type { EmailMessage } from '../../mail/message';
import type { StoredEvent } from '../../store/events';
import type { House } from '../../store/said';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { addressesOf } from '../events/event-addresses';
import { prepareWording } from './write-message';

/** Writes the calendar part of one person's message. */
export type CalendarWriter = (person: Recipient) => NonNullable<EmailMessage['calendar']>;

/** What every calendar text of an event is made from, whoever it is for. */
export function calendarSource(
  context: Pick<Context, 'links'>,
  settings: House,
  event: StoredEvent,
  stampMs: number,
  guests: readonly ShownGuest[] = [],
): CalendarSource<Recipient> {
  const { links } = context;
  const { facts } = event.version;
  return {
    uid: event.uid,
    version: event.version,
    organizer: {
      name: settings.organisation,
      email: links.repliesAddress,
      emailOf: ({ id }) => (id ? links.guestAddress(id) : links.repliesAddress),
    },
    url: addressesOf(links, event, null).page,
    stampMs,
    guests,
    ...entryTexts(context, settings, event, facts),
  };
}

/** The text of the entry: the description, or a text of its own with merge fields. */
function entryTexts(
  context: Pick<Context, 'links'>,
  settings: House,
  event: StoredEvent,
  { entry }: EventFacts,
): Pick<CalendarSource<Recipient>, 'textOf' | 'isTextPersonal'> {
  const styled = (plain: string): EntryText => ({
    plain,
    styled: entry.isStyled ? textToHtml(plain, calendarDress) : '',
  });
  if (!entry.text) return { isTextPersonal: false, textOf: (facts) => styled(plainEntryText(facts).plain) };
  const wording = readWording(entry.text, 'entry.text');
  return {
    isTextPersonal: !isSameForAll(wording),
    textOf: (facts, person) => {
      const prepared = prepareWording(context, settings, { ...event, facts }, plainDocument('', entry.text));
      return styled(prepared.fill(person ?? anybody).text);
    },
  };
}

const anybody: Recipient = {
  id: 0,
  name: '',
  email: '',
  mobile: '',
  zone: '',
  language: '',
  feedNonce: 0,
  own: null,
  dates: null,
  isGuest: true,
  reply: 'needs-action',
};

/** Guests that everybody sees, where the event says so and they are few enough. */
export async function shownGuests({ store }: Pick<Context, 'store'>, event: StoredEvent): Promise<ShownGuest[]> {
  if (!event.version.facts.entry.showsGuests) return [];
  const guests = await store.guests.shown(event.id, mostShownGuests + 1);
  return guests.length > mostShownGuests ? [] : guests;
}

/**
 * Prepares the calendar part of a message: shared by all, but for people with a time of their own, whose entry carries a
 * UID and a SEQUENCE of its own, and for people who come to single dates, whose entry has those alone.
 * @param occurrenceKey the one date that it is about, such as one that is called off; empty for the whole
 */
export function calendarWriter(
  source: CalendarSource<Recipient>,
  method: Method,
  occurrenceKey: string,
): CalendarWriter {
  const { facts } = source.version;
  const occurrence = occurrenceKey
    ? (findOccurrence(facts, occurrenceKey) ?? formerOccurrence(facts, occurrenceKey))
    : null;
  const write = prepareCalendar(source, method, occurrence ? [occurrence] : []);
  return (person) => {
    if (facts.isPersonal) return { method, text: prepareCalendar(sourceFor(source, person), method)(person) };
    const dates = method === 'CANCEL' || occurrence ? null : standingDates(facts, person);
    // Who has no date left holds at most what was called off.
    if (dates?.length === 0) return { method: 'CANCEL', text: prepareCalendar(source, 'CANCEL')(person) };
    return { method, text: dates ? prepareCalendar(source, method, dates)(person) : write(person) };
  };
}

/** The dates that somebody comes to who comes by date, as far as they take place; null for who has a part in the whole. */
export function standingDates(facts: EventFacts, { dates }: Recipient): Occurrence[] | null {
  if (!facts.series || dates === null) return null;
  return dates.flatMap((key) => findOccurrence(facts, key) ?? []).filter(({ calledOff }) => !calledOff);
}

/** The entry as it is for one person. */
export function sourceFor(source: CalendarSource<Recipient>, person: Recipient): CalendarSource<Recipient> {
  const { version, uid } = source;
  if (!version.facts.isPersonal) return source;
  return {
    ...source,
    uid: personalUid(uid, person.id),
    version: {
      ...version,
      sequence: version.sequence + (person.own?.revision ?? 0),
      facts: personalFacts(version.facts, person.own),
    },
  };
}

/** A no to the time that a person proposed. */
export function declineWriter(
  source: CalendarSource<Recipient>,
  occurrenceKey: string,
  comment: string,
): CalendarWriter {
  return (person) => {
    const { uid, version, organizer, stampMs } = sourceFor(source, person);
    const occurrence = findOccurrence(version.facts, occurrenceKey);
    const text = writeDeclineCounter(
      { uid, sequence: version.sequence, organizer, stampMs, comment },
      occurrence,
      person,
    );
    return { method: 'DECLINECOUNTER', text };
  };
}
