import type { Settings, ShownMessage } from '@convite/contract';
import {
  findInMessage,
  inLanguage,
  noAudience,
  timeWords,
  type Channel,
  type EventFacts,
  type Language,
  type WordingDocument,
} from '@convite/core';
import type { EmailMessage, TextMessage } from '../../mail/message';
import { octetsOf } from '../../mail/mime';
import type { StoredEvent } from '../../store/events';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { eventComposer, eventWording, type EventMessage } from './compose-event';
import { manualComposer } from './compose-manual';
import { languageOf } from './manner';
import { withShortLinks } from './own-links';
import { pictureCarrier } from './carry-pictures';
import { asSender } from '../senders/as-sender';
import { settle } from './settle';
import { prepareWording, type PreparedWording } from './write-message';

/**
 * A composed message as whoever it is for reads it, with what they would stumble over. Every preview comes through here.
 * @param facts of the event that it is about; null for none
 */
export async function shownMessage(
  context: Pick<Context, 'links' | 'store'>,
  message: EmailMessage | TextMessage,
  about: {
    readonly settings: Pick<Settings, 'avoidWords' | 'textPrice' | 'language' | 'dayOrder' | 'clock' | 'look'>;
    readonly wording: WordingDocument;
    readonly facts: EventFacts | null;
    /** The same made ready for its readers. */
    readonly prepared: Pick<PreparedWording, 'emptyFor' | 'samplesFor'>;
    readonly person: Recipient;
  },
): Promise<ShownMessage> {
  const { settings, wording, facts, prepared, person } = about;
  const language = languageOf(settings, person);
  const { avoidWords: avoid, textPrice } = settings;
  const isEmail = message.kind === 'email';
  const shown = isEmail
    ? { from: message.from.name, subject: message.subject, preheader: message.preheader, html: message.html }
    : { from: message.from, subject: '', preheader: '', html: '' };
  const text = isEmail ? message.text : withShortLinks(context, message.text, 0);
  const octets = isEmail
    ? await octetsOf(await pictureCarrier(context)(message, settings.look))
    : Buffer.byteLength(text);
  return {
    ...shown,
    channel: message.kind,
    text,
    octets,
    textPrice,
    findings: findInMessage(
      {
        ...{ isEmail, subject: shown.subject, octets, empty: prepared.emptyFor(person) },
        wording: inLanguage(wording, language),
        missing: isMissing(wording, settings.language, language) ? timeWords[language].englishName : '',
      },
      { avoid, facts },
    ).map(({ facts: found, ...finding }) => ({ ...finding, ...(found && { facts: { ...found } }) })),
    samples: { ...prepared.samplesFor(person) },
  };
}

/** It speaks other languages than the house's, and not this one. */
const isMissing = (wording: WordingDocument, first: Language, language: Language): boolean =>
  wording.languages !== undefined && language !== first && !wording.languages[language];

/** The same of a message about an event, composed for one person as it would go. @param facts as the person reads them */
export async function shownOfEvent(
  context: Context,
  house: Settings,
  event: StoredEvent,
  said: EventMessage,
  { person, facts }: { readonly person: Recipient; readonly facts: EventFacts },
): Promise<ShownMessage> {
  const settings = await asSender(context, house, event.senderId);
  const document = await settle(context, said.content.document, { eventId: event.id, atMs: said.atMs });
  const message = { ...said, content: { ...said.content, document } };
  return shownMessage(context, eventComposer(context, settings, event, message)(person, 0), {
    settings,
    wording: document,
    facts,
    prepared: eventWording(context, settings, event, message)(person),
    person,
  });
}

/** The same of a message about nothing in particular. */
export async function shownOfNone(
  context: Context,
  settings: Settings,
  channel: Channel,
  wording: WordingDocument,
  person: Recipient,
): Promise<ShownMessage> {
  const document = await settle(context, wording, { eventId: null, atMs: context.clock.now() });
  const content = { kind: 'manual', document, audience: noAudience } as const;
  return shownMessage(context, manualComposer(context, settings, channel, content)(person, 0), {
    settings,
    wording: document,
    facts: null,
    prepared: prepareWording(context, settings, null, document),
    person,
  });
}
