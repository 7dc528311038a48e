import { randomUUID } from 'node:crypto';
import {
  anyReader,
  blockWords,
  livesElsewhere,
  eventFields,
  isPersonalPattern,
  nobodyYet,
  personalFacts,
  escapeHtml,
  personFields,
  prepareDocument,
  readWebCalendarPattern,
  writeWebCalendarLink,
  type AboutEvent,
  type Reader,
  type EventFacts,
  type FieldName,
  type FieldValues,
  type UriTemplate,
  type Rendered,
  type WordingDocument,
} from '@convite/core';
import type { EmailMessage, TextMessage } from '../../mail/message';
import type { House } from '../../store/said';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { addressesOf, type FoundEvent } from '../events/event-addresses';
import { mannerOf } from './manner';

/** The event a message is about, as messages need it. Of a series, `facts` are those of the date in question. */
export interface MessageEvent extends FoundEvent {
  readonly facts: EventFacts;
  readonly uid: string;
}

/** The web calendars of Settings whose patterns can be used, in their order. */
export const webCalendarsOf = (settings: House): { name: string; template: UriTemplate }[] =>
  settings.webCalendars.flatMap(({ name, pattern }) => {
    const template = readWebCalendarPattern(pattern);
    return template.ok ? [{ name, template: template.value }] : [];
  });

/** Web-calendar links of an event, one for each pattern in Settings: fixed, or made for a person. */
export function webCalendarLinks(
  { links }: Pick<Context, 'links'>,
  settings: House,
  event: MessageEvent,
  person: Recipient | null,
): { name: string; url: string; isPersonal: boolean }[] {
  const facts = person ? personalFacts(event.facts, person.own) : event.facts;
  const linkPerson = person
    ? { name: person.name, email: person.email, replyUrl: links.reply(event.id, person.id) }
    : nobodyYet;
  return webCalendarsOf(settings).map(({ name, template }) => ({
    name,
    url: writeWebCalendarLink(template, facts, event.uid, addressesOf(links, event, person).page, linkPerson),
    isPersonal: isPersonalPattern(template) || event.facts.isPersonal || event.reach === 'invited',
  }));
}

/** A wording made ready to be filled for one person after another: what they share is computed once. */
export function prepareWording(
  context: Pick<Context, 'links'>,
  settings: House,
  event: MessageEvent | null,
  document: WordingDocument,
) {
  const { links } = context;
  const prepared = prepareDocument(document);
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
    if (!fields) byZone.set(key, (fields = facts ? eventFields(facts, zone, mannerOf(settings, { language })) : {}));
    return fields;
  };
  /** What blocks about the event say: of who it is found alike by all, made once. */
  const isOwnCalendar = Boolean(event && (event.reach === 'invited' || event.facts.isPersonal));
  const calendarsFor = (person: Recipient | null): AboutEvent['calendars'] =>
    event && prepared.about.has('calendar') ? webCalendarLinks(context, settings, event, person) : [];
  const calendarsOfAll = isOwnCalendar ? [] : calendarsFor(null);
  const aboutFor = (person: Recipient): AboutEvent => ({
    words: blockWords[mannerOf(settings, person).language ?? 'en'],
    calendars: isOwnCalendar ? calendarsFor(person) : calendarsOfAll,
    pictureUrl: links.picture,
    reader: prepared.onlys.length ? readerOf(event, person) : anyReader,
  });
  /** Each link is signed, which costs more than all the rest of a field: those that nobody reads are not made. */
  const linked = (name: FieldName, make: () => string): FieldValues =>
    prepared.fields.has(name) ? { [name]: make() } : {};
  const needsMyCalendar = prepared.fields.has('link.myCalendar') || Boolean(event?.facts.isPersonal);
  /** What is made for this person: their own time, their own links. */
  const ownFields = (person: Recipient): FieldValues => {
    if (!event) return {};
    const known = person.isGuest ? event : { ...event, facts: { ...event.facts, joinLink: '' } };
    const myCalendar = needsMyCalendar
      ? (webCalendarLinks(context, settings, known, person)[0]?.url ?? links.personIcs(event.id, person.id))
      : '';
    const isOwnPlace = event.reach === 'invited' || (!person.isGuest && event.facts.joinLink !== '');
    return {
      ...(isOwnPlace && calendarFields(person)),
      'link.myCalendar': myCalendar,
      ...linked('link.myIcs', () => links.personIcs(event.id, person.id)),
      ...linked('link.reply', () => links.reply(event.id, person.id)),
      ...(person.own && {
        ...eventFields(personalFacts(event.facts, person.own), person.zone, mannerOf(settings, person)),
        'event.notes': person.own.notes,
        'link.calendar': myCalendar,
        'link.ics': links.personIcs(event.id, person.id),
      }),
    };
  };
  const valuesFor = (person: Recipient): FieldValues => ({
    ...shared,
    ...fieldsIn(person),
    ...personFields(person.name),
    ...ownFields(person),
    ...linked('link.feed', () => links.personFeed(person.id, person.feedNonce)),
    ...linked('link.optOut', () => links.optOut(person.id)),
  });
  return {
    fill: (person: Recipient): Rendered => prepared.fill(valuesFor(person), aboutFor(person)),
    emptyFor: (person: Recipient): FieldName[] => prepared.emptyWith(valuesFor(person), aboutFor(person)),
  };
}

/** Of whom blocks ask that are only for some. */
function readerOf(event: MessageEvent | null, { isComing, reply, zone, own }: Recipient): Reader {
  if (!event) return anyReader;
  const facts = personalFacts(event.facts, own);
  return {
    reply: isComing ? 'accepted' : reply,
    isOnline: facts.joinLink !== '',
    hasPlace: facts.venue !== '',
    livesElsewhere: livesElsewhere(facts, zone),
  };
}

/** Puts an email together for one person; previews and real sends both come through here. */
export function writeEmail(
  { links, frame, clock }: Pick<Context, 'links' | 'frame' | 'clock'>,
  settings: House,
  message: {
    readonly person: Recipient;
    readonly deliveryId: number;
    readonly said: Rendered;
    readonly calendar: EmailMessage['calendar'];
  },
): EmailMessage {
  const { person, deliveryId, said, calendar } = message;
  const { subject, text } = said;
  const preheader = said.preheader || text.slice(0, 120).replace(/\s+/g, ' ');
  const optOutUrl = links.optOut(person.id);
  const preferences = links.preferences(person.id, person.feedNonce);
  const html = frame({
    title: escapeHtml(subject),
    preheader: escapeHtml(preheader),
    organisation: escapeHtml(settings.organisation),
    body: said.html,
    postal: escapeHtml(settings.postalAddress).replaceAll('\n', '<br />'),
    optOut: `<br /><a href="${escapeHtml(preferences)}" style="color:#4A2545">Choose what you get</a> · <a href="${escapeHtml(optOutUrl)}" style="color:#4A2545">Opt out of these messages</a>`,
  });
  return {
    kind: 'email',
    messageId: links.messageId(deliveryId),
    envelopeFrom: links.bounceAddress(deliveryId),
    from: { name: settings.sender.name, address: settings.sender.email },
    replyTo: settings.sender.replyTo,
    to: { name: person.name, address: person.email },
    subject,
    preheader,
    date: new Date(clock.now()),
    text: `${text}\n\n-- \n${settings.postalAddress}\nChoose what you get: ${preferences}\nOpt out: ${optOutUrl}\n`,
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
  { links, frame, clock }: Pick<Context, 'links' | 'frame' | 'clock'>,
  settings: House,
  message: {
    readonly to: EmailMessage['to'];
    readonly document: WordingDocument;
    readonly replyTo?: string;
  },
): EmailMessage {
  const { to, document, replyTo = settings.sender.replyTo } = message;
  const { subject, html, text } = prepareDocument(document).fill({});
  return {
    kind: 'email',
    messageId: `<h${randomUUID()}@${links.mailDomain}>`,
    envelopeFrom: settings.sender.email,
    from: { name: settings.sender.name, address: settings.sender.email },
    replyTo,
    to,
    subject,
    preheader: '',
    date: new Date(clock.now()),
    text: `${text}\n\n-- \n${settings.postalAddress}\n`,
    html: frame({
      title: escapeHtml(subject),
      preheader: '',
      organisation: escapeHtml(settings.organisation),
      body: html,
      postal: escapeHtml(settings.postalAddress).replaceAll('\n', '<br />'),
      optOut: '',
    }),
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
