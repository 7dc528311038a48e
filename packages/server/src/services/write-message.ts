import type { Settings } from '@convite/contract';
import {
  eventFields,
  fillWording,
  personFields,
  readWebCalendarPattern,
  readWording,
  writeWebCalendarLink,
  type EventFacts,
  type FieldValues,
  type Method,
  type Wording,
} from '@convite/core';
import type { EmailMessage, TextMessage } from '../mail/message';
import { escapeHtml, textToHtml } from '../mail/html';
import type { Recipient } from '../store/subscribers';
import type { Context } from './context';

/** The event a message is about, as messages need it. */
export interface MessageEvent {
  readonly facts: EventFacts;
  readonly publicKey: string;
  readonly uid: string;
}

/** Web-calendar links of an event, one for each pattern in Settings, in their order. */
export function webCalendarLinks(
  settings: Settings,
  event: MessageEvent,
  pageUrl: string,
): { name: string; url: string }[] {
  return settings.webCalendars.flatMap(({ name, pattern }) => {
    const template = readWebCalendarPattern(pattern);
    return template.ok ? [{ name, url: writeWebCalendarLink(template.value, event.facts, event.uid, pageUrl) }] : [];
  });
}

/** A wording made ready to be filled for one person after another: what they share is computed once. */
export function prepareWording(
  context: Pick<Context, 'links'>,
  settings: Settings,
  event: MessageEvent | null,
  subject: string,
  body: string,
) {
  const [subjectWording, bodyWording] = [readWording(subject, 'subject'), readWording(body, 'body')];
  const shared: FieldValues = {
    'organisation.name': settings.organisation,
    ...(event && {
      'link.event': context.links.page(event.publicKey),
      'link.ics': context.links.ics(event.publicKey),
      'link.calendar':
        webCalendarLinks(settings, event, context.links.page(event.publicKey))[0]?.url ??
        context.links.ics(event.publicKey),
    }),
  };
  // People share a few dozen zones; what a zone reads is the same for all in it.
  const byZone = new Map<string, FieldValues>();
  const fieldsIn = (zone: string): FieldValues => {
    let fields = byZone.get(zone);
    if (!fields) byZone.set(zone, (fields = event ? eventFields(event.facts, zone) : {}));
    return fields;
  };
  const valuesFor = (person: Recipient): FieldValues => ({
    ...shared,
    ...fieldsIn(person.zone),
    ...personFields(person.name),
    'link.optOut': context.links.optOut(person.id),
  });
  return {
    subjectWording,
    bodyWording,
    valuesFor,
    fill: (person: Recipient): { subject: string; body: string } => {
      const values = valuesFor(person);
      return { subject: oneLine(fillWording(subjectWording, values)), body: tidy(fillWording(bodyWording, values)) };
    },
  };
}
export type PreparedWording = ReturnType<typeof prepareWording> & { bodyWording: Wording };

/** A subject is one line whatever a title holds: no CR or LF from data ever reaches a header. */
const oneLine = (text: string): string => text.replace(/\s+/g, ' ').trim();
/** An empty field leaves no hole of blank lines. */
const tidy = (text: string): string => text.replace(/\n{3,}/g, '\n\n').trim();

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
    readonly calendar: { readonly method: Method; readonly text: string } | null;
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
