import type { ShownMessage } from '@convite/contract';
import { occurrenceOfSlot, wholeEvent, whoOf } from '@convite/core';
import { channelOf } from '../../store/firing-rows';
import type { StoredFiring } from '../../store/firings';
import type { Context } from '../context';
import { getEvent } from '../events/get-event';
import { asSender } from '../senders/as-sender';
import { exampleReader, previewPerson } from '../sending/invite';
import { shownGuests } from '../sending/compose-calendar';
import { shownOfEvent, shownOfNone } from '../sending/shown-message';

/** What somebody sends by hand, as the first of its people would get it; null for what is about nothing that can be shown. */
export async function previewFiring(context: Context, firing: StoredFiring): Promise<ShownMessage | null> {
  const { store, clock } = context;
  const { content } = firing;
  const channel = channelOf(firing);
  if (content?.kind === 'manual') {
    const first = await store.audiences.firstOf(whoOf(content.audience, wholeEvent(null)), channel);
    const person = (first === null ? null : await store.subscribers.find(first)) ?? exampleReader;
    const settings = await asSender(context, await store.house.settings(), content.senderId ?? null);
    return shownOfNone(context, settings, channel, content.document, person);
  }
  if ((content?.kind !== 'invitation' && content?.kind !== 'cue') || firing.eventId === null) return null;
  const event = await getEvent(context, firing.eventId);
  const person = await previewPerson(context, event.id, null);
  const occurrence = occurrenceOfSlot(firing.slot);
  const about = { channel, content, occurrence, guests: await shownGuests(context, event), atMs: clock.now() };
  return shownOfEvent(context, await store.house.settings(), event, about, { person, facts: event.version.facts });
}
