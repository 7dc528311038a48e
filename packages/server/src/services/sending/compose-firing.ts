import {
  composeIssue,
  findOccurrence,
  formerOccurrence,
  instantsOf,
  nextOccurrence,
  occurrenceOfSlot,
  sayDay,
  sayTime,
  sayZone,
  wholeEvent,
  whoOf,
  type Block,
  type CalendarSource,
  type EpochMs,
  type EventFacts,
  type IssueDay,
  type Occurrence,
  type ShownGuest,
  type Who,
} from '@convite/core';
import type { EmailMessage, TextMessage } from '../../mail/message';
import type { Content, ContentOf } from '../../store/content';
import type { StoredEvent } from '../../store/events';
import type { StoredFiring } from '../../store/firings';
import { house, type House, type PartForAll } from '../../store/said';
import type { Recipient } from '../../store/subscribers';
import {
  calendarSource,
  calendarWriter,
  declineWriter,
  shownGuests,
  standingDates,
  type CalendarWriter,
} from './compose-calendar';
import type { Context } from '../context';
import { whoGets } from '../countdown/who-gets';
import { prepareWording, writeEmail, writeText } from './write-message';

/** A firing made ready to be written for one person after another. */
export interface PreparedFiring {
  readonly firing: StoredFiring;
  /** The event as it is said; null for a digest. */
  readonly event: StoredEvent | null;
  /** Of a cue, what decides whether it is still worth sending. */
  readonly cue: { readonly countsDown: boolean; readonly startMs: EpochMs | null } | null;
  /** Event and version whose whole entry the messages carry; null when they carry none, or that of a single date. */
  readonly carried: { readonly eventId: number; readonly version: number } | null;
  /** Whom it is for, where that is asked again of each; null where it is for whoever it was written down for. */
  readonly who: Who | null;
  /** All that its messages are made from, beside the person. */
  readonly forAll: PartForAll;
  readonly compose: Composer;
}

/** Writes one person's message of a firing; null when there is nothing to say to them. */
export type Composer = (
  person: Recipient,
  deliveryId: number,
  topics: readonly string[],
) => EmailMessage | TextMessage | null;

/**
 * Prepares what a firing sends: everything its people share is read and written once. The wording is what was frozen with
 * the firing; the facts are those of the version asked for, since what waits is composed anew from the newest.
 * @param version of the event; null for a digest
 * @param asFrozen a digest as it was frozen, for whoever may have got it already; else its events as they stand now
 * @throws Error for a firing that was never expanded (bad use)
 */
export async function prepareFiring(
  context: Context,
  firing: StoredFiring,
  version: number | null,
  asFrozen: boolean,
): Promise<PreparedFiring> {
  const { content, eventId } = firing;
  if (!content) throw new Error(`firing ${firing.id} has no content`);
  const settings = house.parse(await context.store.house.settings());
  const nothing = { firing, event: null, cue: null, carried: null, who: null };
  if (content.kind === 'digest') {
    const now = asFrozen ? content : { ...content, events: await stillComing(context, content) };
    const who = content.audience && whoOf(content.audience, wholeEvent(null));
    const forAll = { house: settings, content: now, version: null, reach: null, guests: [] };
    return { ...nothing, who, forAll, compose: composerFrom(context, firing, null, forAll) };
  }
  const event = eventId === null ? null : await context.store.events.find(eventId);
  const said = event && (await saidEvent(context, event, version ?? content.version));
  if (!said) throw new Error(`firing ${firing.id} has no event`);
  const forAll: PartForAll = {
    house: settings,
    content: asSaidNow(content, said),
    version: said.version.number,
    reach: said.reach,
    guests: await shownGuests(context, said),
  };
  return {
    ...nothing,
    event: said,
    cue: content.kind === 'cue' ? { countsDown: content.countsDown, startMs: content.startMs } : null,
    who: content.kind === 'cue' ? await whoOfCue(context, event, content, firing) : null,
    carried: carriesEntry(forAll.content) ? { eventId: event.id, version: said.version.number } : null,
    forAll,
    compose: composerFrom(context, firing, said, forAll),
  };
}

/** The event in one of its versions; null when there is none such. */
export async function saidEvent(
  { store }: Pick<Context, 'store'>,
  event: StoredEvent,
  version: number,
): Promise<StoredEvent | null> {
  const said = await store.events.version(event.id, version);
  return said && { ...event, version: said };
}

/** The one way from what a message is made from to the message, for sending it and for showing it again. */
export function composerFrom(
  context: Context,
  { channel, slot, dueMs }: StoredFiring,
  event: StoredEvent | null,
  { house, content, reach, guests }: PartForAll,
): Composer {
  if (content.kind === 'digest') return digestComposer(context, house, content);
  if (!event || !reach) throw new Error('it is about an event');
  return eventComposer(
    context,
    house,
    { ...event, reach },
    {
      channel,
      content,
      occurrence: 'occurrence' in content ? content.occurrence : occurrenceOfSlot(slot),
      guests,
      atMs: dueMs,
    },
  );
}

/** Whom a cue that goes out is for, so that each is asked again; null for one frozen before that was kept. */
const whoOfCue = async (
  { store }: Context,
  event: StoredEvent,
  { audience, moment }: ContentOf<'cue'>,
  firing: StoredFiring,
): Promise<Who | null> => (audience && moment ? whoGets(store, event, { audience, moment }, firing) : null);

/**
 * A message about a later version than it was written down for: stamped no earlier than that version (RFC 5546 §2.1.5).
 * A notice of one date that is off then says more than that: the whole entry is always right.
 */
function asSaidNow<C extends Exclude<Content, { kind: 'digest' }>>(content: C, { version, at }: StoredEvent): C {
  if (content.kind === 'cue' || version.number === content.version) return content;
  const stampMs = Math.max(content.stampMs, at.getTime());
  return content.kind === 'notice' && !content.isByDate
    ? { ...content, stampMs, occurrence: '', method: version.calledOff ? 'CANCEL' : 'REQUEST' }
    : { ...content, stampMs };
}

/** Does such a message carry the whole entry of the event? A reminder carries none, a date's CANCEL only that date's. */
function carriesEntry(content: Content): boolean {
  switch (content.kind) {
    case 'invitation':
      return true;
    case 'notice':
      return !content.isByDate;
    case 'answer':
      return content.method === 'REQUEST' && content.occurrence === '';
    case 'cue':
    case 'digest':
      return false;
  }
}

/** The events of an issue that still take place, as they stand now. */
async function stillComing({ store }: Context, content: ContentOf<'digest'>): Promise<ContentOf<'digest'>['events']> {
  const events = await store.events.findMany(content.events.map(({ id }) => id));
  return content.events.flatMap(({ id, publicKey, occurrence }) => {
    const event = events.get(id);
    const date = event && findOccurrence(event.version.facts, occurrence);
    const isComing = event?.status === 'published' && event.reach === 'public' && date && !date.calledOff;
    return isComing ? [{ id, publicKey, occurrence, facts: date.facts }] : [];
  });
}

/** What a message about an event is made from, beside the event. */
export interface EventMessage {
  readonly channel: StoredFiring['channel'];
  readonly content: Exclude<Content, { kind: 'digest' }>;
  /** The date of a series that it is about; empty for the whole. */
  readonly occurrence: string;
  readonly guests: readonly ShownGuest[];
  /** When it goes: of a series, what names no date speaks of the next one. */
  readonly atMs: number;
}

/** Messages about one event: cues, invitations, notices and answers. */
export function eventComposer(
  context: Context,
  settings: House,
  event: StoredEvent,
  { channel, content, occurrence, guests, atMs }: EventMessage,
): Composer {
  const { version } = event;
  const wordings = new Map<string, ReturnType<typeof prepareWording>>();
  const wordingOf = (date: Occurrence | null): ReturnType<typeof prepareWording> => {
    const key = date?.key ?? '';
    let wording = wordings.get(key);
    if (!wording) {
      const facts = { ...(date?.facts ?? version.facts), series: version.facts.series };
      const about = { ...event, facts };
      wordings.set(key, (wording = prepareWording(context, settings, about, content.document)));
    }
    return wording;
  };
  const shared = wordingOf(dateOf(version.facts, occurrence, atMs));
  /** People who come by date read of the next of theirs. */
  const wordingFor = (person: Recipient): typeof shared => {
    const own = occurrence ? [] : (standingDates(version.facts, person) ?? []);
    const date = own.find(({ endMs }) => endMs > atMs) ?? own.at(-1);
    return date ? wordingOf(date) : shared;
  };
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
        : calendarWriter(source, 'REQUEST', content.occurrence);
  }
}

/** The issue of a digest, each person with the topics they asked for. */
export function digestComposer(context: Context, settings: House, content: ContentOf<'digest'>): Composer {
  const { zone, events, document } = content;
  const keys = new Map(events.map((event) => [event.id, event.publicKey]));
  const pageOf = (eventId: number): string => context.links.page(keys.get(eventId) ?? '');
  const byTopics = new Map<string, ReturnType<typeof prepareWording> | null>();
  const issueFor = (topics: readonly string[]): ReturnType<typeof prepareWording> | null => {
    const key = [...topics].sort().join('\n');
    let issue = byTopics.get(key);
    if (issue === undefined) {
      const days = composeIssue(events, content, zone, topics);
      const blocks = days && [...document.blocks, ...days.flatMap((day) => blocksOf(day, zone, pageOf))];
      issue = blocks && prepareWording(context, settings, null, { ...document, blocks });
      byTopics.set(key, issue);
    }
    return issue;
  };
  return (person, deliveryId, topics) => {
    const issue = issueFor(topics);
    return issue && writeEmail(context, settings, { person, deliveryId, said: issue.fill(person), calendar: null });
  };
}

/** A day of an issue: its heading, and what is on. */
function blocksOf({ day, events }: IssueDay, zone: string, pageOf: (eventId: number) => string): Block[] {
  const entries = events.map(({ id, facts }): Block => {
    const isAllDay = facts.span.kind === 'all-day';
    const time = isAllDay ? 'all day' : `${sayTime(instantsOf(facts).startMs, zone)} ${sayZone(zone)}`;
    const place = facts.venue || (facts.joinLink ? 'online' : '');
    return {
      kind: 'entry',
      title: facts.title,
      url: pageOf(id),
      about: [time, place].filter(Boolean).join(' · '),
      lead: `${time}  ${facts.title}${place && `, ${place}`}`,
    };
  });
  return [{ kind: 'heading', line: [{ kind: 'text', text: sayDay(day) }] }, ...entries];
}
