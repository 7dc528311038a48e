import type { Settings } from '@convite/contract';
import {
  eventFields,
  fillWording,
  isPersonalPattern,
  nobodyYet,
  personalFacts,
  personFields,
  readWebCalendarPattern,
  readWording,
  writeWebCalendarLink,
  type EventFacts,
  type FieldValues,
  type UriTemplate,
  type Wording,
} from '@convite/core';
import type { EmailMessage, TextMessage } from '../mail/message';
import { escapeHtml, textToHtml } from '../mail/html';
import type { Recipient } from '../store/subscribers';
import type { Context } from './context';

/** The event a message is about, as messages need it. Of a series, `facts` are those of the date in question. */
export interface MessageEvent {
  readonly id: number;
  readonly facts: EventFacts;
  readonly publicKey: string;
  readonly uid: string;
}

/** The web calendars of Settings whose patterns can be used, in their order. */
export const webCalendarsOf = (settings: Settings): { name: string; template: UriTemplate }[] =>
  settings.webCalendars.flatMap(({ name, pattern }) => {
    const template = readWebCalendarPattern(pattern);
    return template.ok ? [{ name, template: template.value }] : [];
  });

/** Web-calendar links of an event, one for each pattern in Settings: fixed, or made for a person. */
export function webCalendarLinks(
  { links }: Pick<Context, 'links'>,
  settings: Settings,
  event: MessageEvent,
  person: Recipient | null,
): { name: string; url: string; isPersonal: boolean }[] {
  const facts = person ? personalFacts(event.facts, person.own) : event.facts;
  const linkPerson = person
    ? { name: person.name, email: person.email, replyUrl: links.reply(event.id, person.id) }
    : nobodyYet;
  return webCalendarsOf(settings).map(({ name, template }) => ({
    name,
    url: writeWebCalendarLink(template, facts, event.uid, links.page(event.publicKey), linkPerson),
    isPersonal: isPersonalPattern(template) || event.facts.isPersonal,
  }));
}

/** Fields that cost something to make are made only where a wording asks for them. */
const asksFor = (wordings: readonly Wording[], field: string): boolean =>
  wordings.some(({ nodes }) => nodes.some((node) => 'field' in node && node.field === field));

/** A wording made ready to be filled for one person after another: what they share is computed once. */
export function prepareWording(
  context: Pick<Context, 'links'>,
  settings: Settings,
  event: MessageEvent | null,
  subject: string,
  body: string,
) {
  const { links } = context;
  const wordings = [readWording(subject, 'subject'), readWording(body, 'body')] as const;
  const shared: FieldValues = {
    'organisation.name': settings.organisation,
    ...(event && {
      'link.event': links.page(event.publicKey),
      'link.ics': links.ics(event.publicKey),
      'link.calendar': webCalendarLinks(context, settings, event, null)[0]?.url ?? links.ics(event.publicKey),
    }),
  };
  // People share a few dozen zones; what a zone reads is the same for all in it.
  const byZone = new Map<string, FieldValues>();
  const fieldsIn = (zone: string): FieldValues => {
    let fields = byZone.get(zone);
    if (!fields) byZone.set(zone, (fields = event ? eventFields(event.facts, zone) : {}));
    return fields;
  };
  const needsMyCalendar = asksFor(wordings, 'link.myCalendar') || Boolean(event?.facts.isPersonal);
  /** What is made for this person: their own time, their own links. */
  const ownFields = (person: Recipient): FieldValues => {
    if (!event) return {};
    const myCalendar = needsMyCalendar
      ? (webCalendarLinks(context, settings, event, person)[0]?.url ?? links.personIcs(event.id, person.id))
      : '';
    return {
      'link.myCalendar': myCalendar,
      'link.myIcs': links.personIcs(event.id, person.id),
      'link.reply': links.reply(event.id, person.id),
      ...(person.own && {
        ...eventFields(personalFacts(event.facts, person.own), person.zone),
        'event.notes': person.own.notes,
        'link.calendar': myCalendar,
        'link.ics': links.personIcs(event.id, person.id),
      }),
    };
  };
  const valuesFor = (person: Recipient): FieldValues => ({
    ...shared,
    ...fieldsIn(person.zone),
    ...personFields(person.name),
    ...ownFields(person),
    'link.feed': links.personFeed(person.id, person.feedNonce),
    'link.optOut': links.optOut(person.id),
  });
  return {
    subjectWording: wordings[0],
    bodyWording: wordings[1],
    valuesFor,
    fill: (person: Recipient): { subject: string; body: string } => {
      const values = valuesFor(person);
      return { subject: oneLine(fillWording(wordings[0], values)), body: tidy(fillWording(wordings[1], values)) };
    },
  };
}

/** A subject is one line whatever a title holds: no CR or LF from data ever reaches a header. */
const oneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();
/** An empty field leaves no hole of blank lines. */
export const tidy = (text: string): string => text.replace(/\n{3,}/g, '\n\n').trim();

/** Puts an email together for one person; previews and real sends both come through here. */
export function writeEmail(
  { links, frame, clock }: Pick<Context, 'links' | 'frame' | 'clock'>,
  settings: Settings,
  message: {
    readonly person: Recipient;
    readonly deliveryId: number;
    readonly subject: string;
    readonly body: string;
    /** HTML of the body when it is more than the text with paragraphs. */
    readonly bodyHtml?: string;
    readonly calendar: EmailMessage['calendar'];
  },
): EmailMessage {
  const { person, deliveryId, subject, body, calendar } = message;
  const optOutUrl = links.optOut(person.id);
  const html = frame({
    title: escapeHtml(subject),
    preheader: escapeHtml(body.slice(0, 120).replace(/\s+/g, ' ')),
    organisation: escapeHtml(settings.organisation),
    body: message.bodyHtml ?? textToHtml(body),
    postal: escapeHtml(settings.postalAddress).replaceAll('\n', '<br />'),
    optOut: escapeHtml(optOutUrl),
  });
  return {
    kind: 'email',
    messageId: links.messageId(deliveryId),
    envelopeFrom: links.bounceAddress(deliveryId),
    from: { name: settings.sender.name, address: settings.sender.email },
    replyTo: settings.sender.replyTo,
    to: { name: person.name, address: person.email },
    subject,
    date: new Date(clock.now()),
    text: `${body}\n\n-- \n${settings.postalAddress}\nOpt out: ${optOutUrl}\n`,
    html,
    calendar,
    optOut: { url: optOutUrl, mailto: links.optOutMailto(person.id) },
    listId: `<convite.${links.mailDomain}>`,
  };
}

export function writeText(
  { clock }: Pick<Context, 'clock'>,
  settings: Settings,
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
