import type { InvitationPreview, Settings, WordingText } from '@convite/contract';
import {
  plainDocument,
  checkConformance,
  findOccurrence,
  nextOccurrence,
  sayRepeats,
  sayWhen,
  sayWhenIn,
  testLink,
  type LinkTest,
} from '@convite/core';
import type { EmailMessage } from '../../mail/message';
import { octetsOf } from '../../mail/mime';
import type { StoredEvent } from '../../store/events';
import type { Recipient } from '../../store/subscribers';
import { calendarSource, shownGuests, sourceFor } from './compose-calendar';
import { eventComposer } from './compose-event';
import { nowOf, type Actor, type Context } from '../context';
import { addressesOf } from '../events/event-addresses';
import { getEvent } from '../events/get-event';
import { Failure } from '../failure';
import { houseWordings } from './house-wordings';
import { audienceOf, previewPerson } from './invite';
import { writeCopyBlocks } from '../events/copy-blocks';
import { webCalendarLinks } from './write-message';
import { mannerOf } from './manner';

/** The invitation as one person gets it: the very composer that sends writes it. */
export async function previewInvitation(
  context: Context,
  eventId: number,
  personId: number | null,
  wording: WordingText | null,
): Promise<InvitationPreview> {
  const event = await getEvent(context, eventId);
  const settings = await context.store.house.settings();
  const person = await previewPerson(context, eventId, personId);
  const message = await composeFor(context, settings, event, person, wording);
  const source = sourceFor(calendarSource(context, settings, event, context.clock.now()), person);
  const shown = factsShown(context, source.version.facts);
  const about = { ...event, facts: shown };
  const links = webCalendarLinks(context, settings, about, person);
  const calendar = message.calendar?.text ?? '';
  const manner = mannerOf(settings, person);
  const [when, whenThere] = [sayWhenIn(shown, person.zone, manner), sayWhen(shown, '', manner)];
  const icsUrl = event.version.facts.isPersonal
    ? context.links.personIcs(event.id, person.id)
    : addressesOf(context.links, event, person).ics;
  return {
    person: { id: person.id, name: person.name, email: person.email, zone: person.zone },
    subject: message.subject,
    html: message.html,
    text: message.text,
    calendar,
    sizeOctets: Buffer.byteLength(calendar),
    messageOctets: await octetsOf(message),
    when,
    whenThere: [whenThere === when ? '' : whenThere, sayRepeats(event.version.facts)].filter(Boolean).join(', '),
    entryText: source.textOf(shown, person).plain,
    icsUrl,
    links,
    blocks: writeCopyBlocks(
      shown,
      sayRepeats(event.version.facts),
      icsUrl,
      links,
      addressesOf(context.links, event, null).page,
    ),
    conformance: checkConformance(calendar),
  };
}

/** Of a series, the next date, since an entry is looked at one date at a time. */
const factsShown = ({ clock }: Context, facts: StoredEvent['version']['facts']) =>
  nextOccurrence(facts, clock.now())?.facts ?? facts;

async function composeFor(
  context: Context,
  settings: Settings,
  event: StoredEvent,
  person: Recipient,
  wording: WordingText | null,
): Promise<EmailMessage> {
  const nowMs = context.clock.now();
  const said = wording ?? houseWordings.invitation;
  const message = eventComposer(context, settings, event, {
    channel: 'email',
    content: {
      kind: 'invitation',
      document: plainDocument(said.subject, said.body),
      version: event.version.number,
      stampMs: nowMs,
      audience: audienceOf({ lists: [1] }),
    },
    occurrence: '',
    guests: await shownGuests(context, event),
    atMs: nowMs,
  })(person, 0, []);
  if (message?.kind !== 'email') throw new Error('an invitation by email is an email');
  return message;
}

/**
 * Sends the invitation as a chosen person would get it, but to the one who asks. It goes at once and says what the mail
 * server answered. @throws Failure 502 in the server's words
 */
export async function sendTest(
  context: Context,
  eventId: number,
  personId: number | null,
  wording: WordingText | null,
  actor: Actor & { readonly email: string },
): Promise<string> {
  const event = await getEvent(context, eventId);
  const settings = await context.store.house.settings();
  const person = await previewPerson(context, eventId, personId);
  const message = await composeFor(context, settings, event, { ...person, email: actor.email }, wording);
  const stamp = context.clock.now();
  const refusal = await context.mail.send({
    ...message,
    messageId: `<test.${stamp}.${eventId}@${context.links.mailDomain}>`,
    to: { name: actor.name, address: actor.email },
    subject: `[Test] ${message.subject}`,
  });
  if (refusal) throw new Failure(502, 'mail-server', `The mail server did not take it: ${refusal.answer}`);
  await context.store.house.audit(
    nowOf(context),
    actor,
    'invitation: test sent',
    `${event.version.facts.title} to ${actor.email}`,
  );
  return actor.email;
}

/** What a link says, held against the event as it is for a person or on a date. */
export async function testLinkOf(
  context: Context,
  eventId: number,
  request: { readonly link: string; readonly personId: number | null; readonly occurrence: string },
): Promise<LinkTest> {
  const event = await getEvent(context, eventId);
  const settings = await context.store.house.settings();
  const person = await previewPerson(context, eventId, request.personId);
  const { facts } = sourceFor(calendarSource(context, settings, event, 0), person).version;
  const date = request.occurrence
    ? findOccurrence(facts, request.occurrence)
    : nextOccurrence(facts, context.clock.now());
  return testLink(request.link, date?.facts ?? facts);
}
