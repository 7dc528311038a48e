import type { Settings, ShownMessage } from '@convite/contract';
import { findInMessage, type EventFacts, type FieldName, type WordingDocument } from '@convite/core';
import type { EmailMessage, TextMessage } from '../../mail/message';
import { octetsOf } from '../../mail/mime';
import type { StoredEvent } from '../../store/events';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { eventComposer, eventWording, type EventMessage } from './compose-event';

/**
 * A composed message as whoever it is for reads it, with what they would stumble over. Every preview comes through here.
 * @param facts of the event that it is about; null for none
 */
export async function shownMessage(
  message: EmailMessage | TextMessage,
  about: {
    readonly settings: Pick<Settings, 'avoidWords' | 'textPrice'>;
    readonly wording: WordingDocument;
    readonly facts: EventFacts | null;
    readonly empty: readonly FieldName[];
  },
): Promise<ShownMessage> {
  const { settings, wording, facts, empty } = about;
  const { avoidWords: avoid, textPrice } = settings;
  const isEmail = message.kind === 'email';
  const shown = isEmail
    ? { from: message.from.name, subject: message.subject, preheader: message.preheader, html: message.html }
    : { from: message.from, subject: '', preheader: '', html: '' };
  const octets = isEmail ? await octetsOf(message) : Buffer.byteLength(message.text);
  return {
    ...shown,
    channel: message.kind,
    text: message.text,
    octets,
    textPrice,
    findings: findInMessage({ isEmail, wording, subject: shown.subject, octets, empty }, { avoid, facts }).map(
      ({ facts: found, ...finding }) => ({ ...finding, ...(found && { facts: { ...found } }) }),
    ),
  };
}

/** The same of a message about an event, composed for one person as it would go. @param facts as the person reads them */
export const shownOfEvent = (
  context: Context,
  settings: Settings,
  event: StoredEvent,
  message: EventMessage,
  { person, facts }: { readonly person: Recipient; readonly facts: EventFacts },
): Promise<ShownMessage> =>
  shownMessage(eventComposer(context, settings, event, message)(person, 0), {
    settings,
    wording: message.content.document,
    facts,
    empty: eventWording(context, settings, event, message)(person).emptyFor(person),
  });
