import type { KeptPreview, KeptPreviewRequest } from '@convite/contract';
import { nextOccurrence, noAudience, type Channel, type WordingDocument } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { Context } from '../context';
import { getEvent } from '../events/get-event';
import { manualComposer } from '../sending/compose-manual';
import { contentIfSent } from '../sending/if-sent';
import { exampleReader, previewPerson } from '../sending/invite';
import { shownMessage, shownOfEvent } from '../sending/shown-message';
import { prepareWording } from '../sending/write-message';

/** A kept wording as somebody would read it, of an event that is named or else the next; of none where the house has none. */
export async function previewWording(
  context: Context,
  { channel, wording, eventId, personId }: KeptPreviewRequest,
): Promise<KeptPreview> {
  const { store, clock } = context;
  const id = eventId ?? (await store.events.nextId(new Date(clock.now())));
  const event = id === null ? null : await getEvent(context, id);
  return event ? ofEvent(context, event, channel, wording, personId) : ofNone(context, channel, wording, personId);
}

async function ofEvent(
  context: Context,
  event: StoredEvent,
  channel: Channel,
  wording: WordingDocument,
  personId: number | null,
): Promise<KeptPreview> {
  const settings = await context.store.house.settings();
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
  channel: Channel,
  wording: WordingDocument,
  personId: number | null,
): Promise<KeptPreview> {
  const settings = await context.store.house.settings();
  const person = (personId === null ? null : await context.store.subscribers.find(personId)) ?? exampleReader;
  const content = { kind: 'manual', document: wording, audience: noAudience } as const;
  return {
    person: { id: person.id, name: person.name },
    event: null,
    message: await shownMessage(manualComposer(context, settings, channel, content)(person, 0), {
      settings,
      wording,
      facts: null,
      empty: prepareWording(context, settings, null, wording).emptyFor(person),
    }),
  };
}
