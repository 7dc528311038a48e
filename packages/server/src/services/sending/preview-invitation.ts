import type { InvitationPreview } from '@convite/contract';
import {
  checkConformance,
  findOccurrence,
  nextOccurrence,
  sayRepeats,
  sayWhen,
  sayWhenIn,
  testLink,
  type LinkTest,
  type WordingDocument,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';
import { calendarSource, shownGuests, sourceFor } from './compose-calendar';
import { eventComposer } from './compose-event';
import { contentIfSent } from './if-sent';
import { shownOfEvent } from './shown-message';
import type { Context } from '../context';
import { addressesOf } from '../events/event-addresses';
import { getEvent } from '../events/get-event';
import { houseWording } from '../wording/house-wording';
import { previewPerson } from './invite';
import { writeCopyBlocks } from '../events/copy-blocks';
import { webCalendarLinks } from './write-message';
import { mannerOf } from './manner';

/** The invitation as one person gets it: the very composer that sends writes it. */
export async function previewInvitation(
  context: Context,
  eventId: number,
  personId: number | null,
  wording: WordingDocument | null,
): Promise<InvitationPreview> {
  const event = await getEvent(context, eventId);
  const settings = await context.store.house.settings();
  const person = await previewPerson(context, eventId, personId);
  const said = wording ?? (await houseWording(context.store, 'invitation'));
  const atMs = context.clock.now();
  const content = contentIfSent('invitation', { document: said, version: event.version.number }, atMs);
  const guests = await shownGuests(context, event);
  const about = { channel: 'email' as const, content, occurrence: '', guests, atMs };
  const message = eventComposer(context, settings, event, about)(person, 0);
  const source = sourceFor(calendarSource(context, settings, event, context.clock.now()), person);
  const shown = factsShown(context, source.version.facts);
  const links = webCalendarLinks(context, settings, { ...event, facts: shown }, person);
  const calendar = message.kind === 'email' ? (message.calendar?.text ?? '') : '';
  const manner = mannerOf(settings, person);
  const [when, whenThere] = [sayWhenIn(shown, person.zone, manner), sayWhen(shown, '', manner)];
  const icsUrl = event.version.facts.isPersonal
    ? context.links.personIcs(event.id, person.id)
    : addressesOf(context.links, event, person).ics;
  return {
    person: { id: person.id, name: person.name, email: person.email, zone: person.zone },
    message: await shownOfEvent(context, settings, event, about, { person, facts: shown }),
    wording: said,
    calendar,
    sizeOctets: Buffer.byteLength(calendar),
    when,
    whenThere: [whenThere === when ? '' : whenThere, sayRepeats(event.version.facts)].filter(Boolean).join(', '),
    entryText: source.textOf(shown, person).plain,
    icsUrl,
    links,
    // Copied to whom they may concern: nothing in them is made for one person, or for guests.
    blocks: writeCopyBlocks(
      shown,
      sayRepeats(event.version.facts),
      addressesOf(context.links, event, null).ics,
      webCalendarLinks(context, settings, { ...event, facts: shown }, null),
      addressesOf(context.links, event, null).page,
    ),
    conformance: checkConformance(calendar),
  };
}

/** Of a series, the next date, since an entry is looked at one date at a time. */
const factsShown = ({ clock }: Context, facts: StoredEvent['version']['facts']) =>
  nextOccurrence(facts, clock.now())?.facts ?? facts;

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
