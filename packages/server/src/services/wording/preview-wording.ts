import type { KeptPreview, KeptPreviewRequest, LookPreviewRequest, Settings } from '@convite/contract';
import { letter, nextOccurrence, type Channel, type WordingDocument } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import { nowOf, type Context } from '../context';
import { getEvent } from '../events/get-event';
import { houseWordings } from '../sending/house-wordings';
import { contentIfSent } from '../sending/if-sent';
import { exampleReader, previewPerson } from '../sending/invite';
import { shownOfEvent, shownOfNone } from '../sending/shown-message';

/** A kept wording as somebody would read it, of an event that is named or else the next; of none where the house has none. */
export async function previewWording(
  context: Context,
  { channel, wording, eventId, personId }: KeptPreviewRequest,
  settings?: Settings,
): Promise<KeptPreview> {
  const { store, clock } = context;
  const house = settings ?? (await store.house.settings());
  const id = eventId ?? (await store.events.nextId(new Date(clock.now())));
  const event = id === null ? null : await getEvent(context, id);
  return event
    ? ofEvent(context, house, event, channel, wording, personId)
    : ofNone(context, house, channel, wording, personId);
}

/** A mail of the house as it would look. */
export async function previewLook(
  context: Context,
  { look, colour }: LookPreviewRequest,
): Promise<{ readonly html: string }> {
  const stored = await context.store.house.settings();
  const eventId = await context.store.events.nextId(nowOf(context));
  const { message } = await previewWording(
    context,
    { channel: 'email', wording: eventId === null ? lookedAt : houseWordings.invitation, eventId, personId: null },
    { ...stored, look, page: { ...stored.page, colour } },
  );
  return { html: message.html };
}

/** What a house without events looks at. */
const lookedAt = letter(
  'What is coming up',
  { kind: 'opening', tone: 'plain' },
  'This is how a message of the house looks, with its words, a list and something to press:\n\n- first this\n- then that',
  { kind: 'button', label: 'Press this', address: { kind: 'text', text: 'https://www.example.org/' } },
);

async function ofEvent(
  context: Context,
  settings: Settings,
  event: StoredEvent,
  channel: Channel,
  wording: WordingDocument,
  personId: number | null,
): Promise<KeptPreview> {
  const person = await previewPerson(context, event.id, personId);
  const atMs = context.clock.now();
  const { facts, number } = event.version;
  const content = contentIfSent('cue', { document: wording, version: number }, atMs);
  const about = { channel, content, occurrence: '', guests: [], atMs };
  return {
    person: { id: person.id, name: person.name },
    event: { id: event.id, title: facts.title },
    message: await shownOfEvent(context, settings, event, about, {
      person,
      facts: nextOccurrence(facts, atMs)?.facts ?? facts,
    }),
  };
}

async function ofNone(
  context: Context,
  settings: Settings,
  channel: Channel,
  wording: WordingDocument,
  personId: number | null,
): Promise<KeptPreview> {
  const person = (personId === null ? null : await context.store.subscribers.find(personId)) ?? exampleReader;
  return {
    person: { id: person.id, name: person.name },
    event: null,
    message: await shownOfNone(context, settings, channel, wording, person),
  };
}
