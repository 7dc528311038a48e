import { randomUUID } from 'node:crypto';
import {
  anyReader,
  blockWords,
  livesElsewhere,
  eventFields,
  isPersonalPattern,
  nobodyYet,
  paletteOf,
  personalFacts,
  personFields,
  prepareDocument,
  readWebCalendarPattern,
  writeWebCalendarLink,
  type AboutEvent,
  type Reader,
  findOccurrence,
  inLanguage,
  sayUntil,
  sayWhen,
  type EventFacts,
  type FieldName,
  type FieldValues,
  type Language,
  type Manner,
  type Places,
  type PreparedDocument,
  type UriTemplate,
  type Rendered,
  type WordingDocument,
} from '@convite/core';
import type { EmailMessage, TextMessage } from '../../mail/message';
import type { House } from '../../store/said';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { addressesOf, type FoundEvent } from '../events/event-addresses';
import { dressMail } from './dress-mail';
import { houseManner, mannerOf } from './manner';

/** The event a message is about, as messages need it. Of a series, `facts` are those of the date in question. */
export interface MessageEvent extends FoundEvent {
  readonly facts: EventFacts;
  readonly uid: string;
  /** Of a series, the facts of the whole; left out where `facts` are. */
  readonly whole?: EventFacts;
  /** When it is read: "tomorrow" is counted from there. */
  readonly atMs?: number;
  /** Until when a place is kept for whoever reads it; null where none is. */
  readonly keptUntilMs?: number | null;
}

/** The web calendars of Settings whose patterns can be used, in their order. */
export const webCalendarsOf = (settings: House): { name: string; template: UriTemplate }[] =>
  settings.webCalendars.flatMap(({ name, pattern }) => {
    const template = readWebCalendarPattern(pattern);
    return template.ok ? [{ name, template: template.value }] : [];
  });

/** Web-calendar links of an event, one for each pattern in Settings: made for a person, or for everybody, who are not told how to join. */
export function webCalendarLinks(
  { links }: Pick<Context, 'links'>,
  settings: House,
  event: MessageEvent,
  person: Recipient | null,
): { name: string; url: string; isPersonal: boolean }[] {
  const facts = person ? personalFacts(event.facts, person.own) : { ...event.facts, joinLink: '' };
  const linkPerson = person
    ? { name: person.name, email: person.email, replyUrl: links.reply(event.id, person.id) }
    : nobodyYet;
  return webCalendarsOf(settings).map(({ name, template }) => ({
    name,
    url: writeWebCalendarLink(template, facts, event.uid, addressesOf(links, event, person).page, linkPerson),
    isPersonal: isPersonalPattern(template) || event.facts.isPersonal || event.reach === 'invited',
  }));
}

export type PreparedWording = ReturnType<typeof prepareWording>;

/** A wording made ready to be filled for one person after another: what they share is computed once. */
export function prepareWording(
  context: Pick<Context, 'links'>,
  settings: House,
  event: MessageEvent | null,
  document: WordingDocument,
) {
  const { links } = context;
  const { day } = paletteOf(settings.page.colour);
  // Each language that the message speaks, made ready as somebody first reads it.
  const inLanguages = new Map<Language, PreparedDocument>();
  const preparedFor = (person: Recipient): PreparedDocument => {
    const language = mannerOf(settings, person).language ?? 'en';
    let prepared = inLanguages.get(language);
    if (!prepared) inLanguages.set(language, (prepared = prepareDocument(inLanguage(document, language), day)));
    return prepared;
  };
  const shared: FieldValues = {
    'organisation.name': settings.organisation,
    ...(event && event.reach !== 'invited' && calendarFields(null)),
  };
  /** Where the event is found, by everybody or by one person. */
  function calendarFields(person: Recipient | null): FieldValues {
    if (!event) return {};
    const { page, ics } = addressesOf(links, event, person);
    const known = person && !person.isGuest ? { ...event, facts: { ...event.facts, joinLink: '' } } : event;
    const calendar = webCalendarLinks(context, settings, known, person)[0]?.url ?? ics;
    return { 'link.event': page, 'link.ics': ics, 'link.calendar': calendar };
  }
  // People share a few dozen zones and languages; what a zone reads in one is the same for all in it.
  const byZone = new Map<string, FieldValues>();
  const fieldsIn = ({ zone, language, isGuest }: Recipient): FieldValues => {
    const key = `${isGuest} ${language} ${zone}`;
    let fields = byZone.get(key);
    // Where to join is told to nobody who was neither invited nor registered.
    const facts = event && (isGuest ? event.facts : { ...event.facts, joinLink: '' });
    if (!fields) {
      const manner = mannerOf(settings, { language });
      const keptMs = event?.keptUntilMs ?? null;
      fields = {
        ...(facts && eventFields(facts, zone, manner, event?.atMs)),
        ...(facts && keptMs !== null && { 'event.placeKeptUntil': sayUntil(keptMs, facts.zone, manner) }),
      };
      byZone.set(key, fields);
    }
    return fields;
  };
  /** What blocks about the event say: of who it is found alike by all, made once. */
  const isOwnCalendar = Boolean(
    event && (event.reach === 'invited' || event.facts.isPersonal || event.facts.joinLink !== ''),
  );
  const calendarsFor = (person: Recipient | null): AboutEvent['calendars'] => {
    if (!event) return [];
    const known = person?.isGuest ? event : { ...event, facts: { ...event.facts, joinLink: '' } };
    return webCalendarLinks(context, settings, known, person);
  };
  let calendarsOfAll: AboutEvent['calendars'] | null = null;
  const aboutFor = (person: Recipient, { about, onlys }: PreparedDocument): AboutEvent => {
    const manner = mannerOf(settings, person);
    const saysCalendars = about.has('calendar');
    return {
      words: blockWords[manner.language ?? 'en'],
      calendars: saysCalendars ? (isOwnCalendar ? calendarsFor(person) : (calendarsOfAll ??= calendarsFor(null))) : [],
      pictureUrl: links.picture,
      reader: onlys.length ? readerOf(event, person) : anyReader,
      places: event && about.has('places') ? placesOf(event, person, manner) : null,
      whenOf: (facts) => sayWhen(facts, person.zone, manner),
    };
  };
  /** What is made for this person: their own time, their own links. */
  const ownFields = (person: Recipient, { fields }: PreparedDocument): FieldValues => {
    if (!event) return {};
    const linked = linkedIn(fields);
    const needsMyCalendar = fields.has('link.myCalendar') || event.facts.isPersonal;
    const known = person.isGuest ? event : { ...event, facts: { ...event.facts, joinLink: '' } };
    const myCalendar = needsMyCalendar
      ? (webCalendarLinks(context, settings, known, person)[0]?.url ?? links.personIcs(event.id, person.id))
      : '';
    const isOwnPlace = event.reach === 'invited' || event.facts.joinLink !== '';
    return {
      ...(isOwnPlace && calendarFields(person)),
      'link.myCalendar': myCalendar,
      ...linked('link.myIcs', () => links.personIcs(event.id, person.id)),
      ...linked('link.reply', () => links.reply(event.id, person.id)),
      ...(person.own && {
        ...eventFields(personalFacts(event.facts, person.own), person.zone, mannerOf(settings, person), event.atMs),
        'event.notes': person.own.notes,
        'link.calendar': myCalendar,
        'link.ics': links.personIcs(event.id, person.id),
      }),
    };
  };
  const valuesFor = (person: Recipient, prepared: PreparedDocument): FieldValues => {
    const linked = linkedIn(prepared.fields);
    return {
      ...shared,
      ...fieldsIn(person),
      ...personFields(person.name),
      ...ownFields(person, prepared),
      ...linked('link.feed', () => links.personFeed(person.id, person.feedNonce)),
      ...linked('link.optOut', () => links.optOut(person.id)),
    };
  };
  return {
    fill(person: Recipient): Rendered {
      const prepared = preparedFor(person);
      return prepared.fill(valuesFor(person, prepared), aboutFor(person, prepared));
    },
    /** What each field that it asks for says to them. */
    samplesFor(person: Recipient): FieldValues {
      const prepared = preparedFor(person);
      const values = valuesFor(person, prepared);
      return Object.fromEntries([...prepared.fields].map((field) => [field, values[field] ?? '']));
    },
    emptyFor(person: Recipient): FieldName[] {
      const prepared = preparedFor(person);
      return prepared.emptyWith(valuesFor(person, prepared), aboutFor(person, prepared));
    },
  };
}

/** Each link is signed, which costs more than all the rest of a field: those that nobody reads are not made. */
const linkedIn =
  (fields: ReadonlySet<FieldName>) =>
  (name: FieldName, make: () => string): FieldValues =>
    fields.has(name) ? { [name]: make() } : {};

/** What they put themselves down for, of what still stands; null for nothing. */
function placesOf({ id, facts, whole = facts }: MessageEvent, person: Recipient, manner: Manner): Places | null {
  const held = person.places ?? [];
  if (held.length === 0) return null;
  return {
    count: Math.max(...held.map(({ places }) => places)),
    dates: held.flatMap(({ occurrence }) => {
      const date = occurrence ? findOccurrence(whole, occurrence) : null;
      return date ? [sayWhen(date.facts, '', manner)] : [];
    }),
    reference: referenceOf(id, person.id),
  };
}

/** Names a registration at the door, in letters and figures that are told apart. @example referenceOf(12, 3456) //=> 'C-2O0' */
const referenceOf = (eventId: number, personId: number): string =>
  `${eventId.toString(36)}-${personId.toString(36)}`.toUpperCase();

/** Of whom blocks ask that are only for some. */
function readerOf(event: MessageEvent | null, { isComing, reply, zone, own, topics = [] }: Recipient): Reader {
  if (!event) return { ...anyReader, topics };
  const facts = personalFacts(event.facts, own);
  return {
    reply: isComing ? 'accepted' : reply,
    isOnline: facts.joinLink !== '',
    hasPlace: facts.venue !== '',
    livesElsewhere: livesElsewhere(facts, zone),
    topics,
  };
}

/** Puts an email together for one person; previews and real sends both come through here. */
export function writeEmail(
  context: Pick<Context, 'links' | 'frames' | 'clock'>,
  settings: House,
  message: {
    readonly person: Recipient;
    readonly deliveryId: number;
    readonly said: Rendered;
    readonly calendar: EmailMessage['calendar'];
  },
): EmailMessage {
  const { links, clock } = context;
  const { person, deliveryId, said, calendar } = message;
  const optOutUrl = links.optOut(person.id);
  const manner = mannerOf(settings, person);
  const words = blockWords[manner.language ?? 'en'];
  const ways = [
    { label: words.choose, url: links.preferences(person.id, person.feedNonce) },
    { label: words.optOut, url: optOutUrl },
  ];
  const { subject, preheader, html, text } = dressMail(context, settings, said, { manner, ways });
  return {
    kind: 'email',
    messageId: links.messageId(deliveryId),
    envelopeFrom: links.bounceAddress(deliveryId),
    from: { name: settings.sender.name, address: settings.sender.email },
    replyTo: settings.sender.replyTo,
    to: { name: person.name, address: person.email },
    ...(person.invitedBy && { inReplyTo: links.messageId(person.invitedBy) }),
    subject,
    preheader,
    date: new Date(clock.now()),
    text,
    html,
    calendar,
    optOut: { url: optOutUrl, mailto: links.optOutMailto(person.id) },
    listId: `<convite.${links.mailDomain}>`,
  };
}

/** A text of the house that links nothing, and one button to press. */
export const pressDocument = (
  subject: string,
  text: string,
  { label, url }: { readonly label: string; readonly url: string },
): WordingDocument => ({
  subject,
  blocks: [
    { kind: 'quoted', text },
    { kind: 'button', label, address: { kind: 'text', text: url } },
  ],
});

/** A message of the house to one address, which is about no list: it has nothing to opt out of. */
export function writeHouseEmail(
  context: Pick<Context, 'links' | 'frames' | 'clock'>,
  settings: House,
  message: {
    readonly to: EmailMessage['to'];
    readonly document: WordingDocument;
    readonly replyTo?: string;
  },
): EmailMessage {
  const { to, document, replyTo = settings.sender.replyTo } = message;
  const { links, clock } = context;
  const said = prepareDocument(document, paletteOf(settings.page.colour).day).fill({});
  const { subject, preheader, html, text } = dressMail(context, settings, said, {
    manner: houseManner(settings),
    ways: [],
  });
  return {
    kind: 'email',
    messageId: `<h${randomUUID()}@${links.mailDomain}>`,
    // Of no delivery: what comes back of it is nobody's bounce.
    envelopeFrom: links.bounceAddress(0),
    from: { name: settings.sender.name, address: settings.sender.email },
    replyTo,
    to,
    subject,
    preheader,
    date: new Date(clock.now()),
    text,
    html,
    calendar: null,
    optOut: null,
    listId: '',
  };
}

export function writeText(
  { clock }: Pick<Context, 'clock'>,
  settings: House,
  person: Recipient,
  deliveryId: number,
  body: string,
): TextMessage {
  return {
    kind: 'text',
    reference: `d${deliveryId}`,
    from: settings.textSender,
    to: person.mobile,
    date: new Date(clock.now()),
    text: body,
  };
}
