import {
  findOccurrence,
  formerOccurrence,
  nextOccurrence,
  type CalendarSource,
  type EventFacts,
  type Occurrence,
  type ShownGuest,
} from '@convite/core';
import type { EmailMessage, TextMessage } from '../../mail/message';
import type { Content } from '../../store/content';
import type { StoredEvent } from '../../store/events';
import type { StoredFiring } from '../../store/firings';
import type { House } from '../../store/said';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { calendarSource, calendarWriter, declineWriter, standingDates, type CalendarWriter } from './compose-calendar';
import { prepareWording, writeEmail, writeText, type PreparedWording } from './write-message';

/** What is said about an event. */
export type AboutEvent = Exclude<Content, { kind: 'digest' | 'manual' | 'to-writer' | 'act' }>;

/** What a message about an event is made from, beside the event. */
export interface EventMessage {
  readonly channel: StoredFiring['channel'];
  readonly content: AboutEvent;
  /** The date of a series that it is about; empty for the whole. */
  readonly occurrence: string;
  readonly guests: readonly ShownGuest[];
  /** When it goes: of a series, what names no date speaks of the next one. */
  readonly atMs: number;
}

/** What a message about an event says to one person after another, of the date that is theirs. */
export function eventWording(
  context: Context,
  settings: House,
  event: StoredEvent,
  { content, occurrence, atMs }: Pick<EventMessage, 'content' | 'occurrence' | 'atMs'>,
): (person: Recipient) => PreparedWording {
  const { version } = event;
  const wordings = new Map<string, PreparedWording>();
  const wordingOf = (date: Occurrence | null): PreparedWording => {
    const key = date?.key ?? '';
    let wording = wordings.get(key);
    if (!wording) {
      const facts = { ...(date?.facts ?? version.facts), series: version.facts.series };
      const keptUntilMs = content.kind === 'answer' ? content.keptUntilMs : null;
      const about = { ...event, facts, whole: version.facts, atMs, keptUntilMs };
      wordings.set(key, (wording = prepareWording(context, settings, about, content.document)));
    }
    return wording;
  };
  const shared = wordingOf(dateOf(version.facts, occurrence, atMs));
  /** People who come by date read of the next of theirs. */
  return (person) => {
    const own = occurrence ? [] : (standingDates(version.facts, person) ?? []);
    const date = own.find(({ endMs }) => endMs > atMs) ?? own.at(-1);
    return date ? wordingOf(date) : shared;
  };
}

/** Messages about one event: cues, invitations, notices and answers. */
export function eventComposer(
  context: Context,
  settings: House,
  event: StoredEvent,
  message: EventMessage,
): (person: Recipient, deliveryId: number) => EmailMessage | TextMessage {
  const { channel, content, guests } = message;
  const wordingFor = eventWording(context, settings, event, message);
  if (channel === 'text')
    return (person, deliveryId) =>
      writeText(context, settings, person, deliveryId, wordingFor(person).fill(person).text);
  const calendar = calendarOf(calendarSource(context, settings, event, stampOf(content), guests), content);
  const isComing = content.kind === 'answer' && content.isComing;
  return (given, deliveryId) => {
    const person = isComing ? { ...given, isComing } : given;
    return writeEmail(context, settings, {
      person,
      deliveryId,
      said: wordingFor(person).fill(person),
      calendar: calendar && calendar(person),
    });
  };
}

/** The date that a message speaks of: the one it is about, or else the next. */
const dateOf = (facts: EventFacts, key: string, atMs: number): Occurrence | null =>
  key ? (findOccurrence(facts, key) ?? formerOccurrence(facts, key)) : nextOccurrence(facts, atMs);

const stampOf = (content: EventMessage['content']): number => (content.kind === 'cue' ? 0 : content.stampMs);

function calendarOf(source: CalendarSource<Recipient>, content: EventMessage['content']): CalendarWriter | null {
  switch (content.kind) {
    case 'cue':
      return null;
    case 'invitation':
      return calendarWriter(source, 'REQUEST', '');
    case 'notice':
      return calendarWriter(source, content.method, content.occurrence);
    case 'answer':
      if (content.method === 'QUESTION') return null;
      return content.method === 'DECLINECOUNTER'
        ? declineWriter(source, content.occurrence, '')
        : calendarWriter(source, content.method, content.occurrence);
  }
}
