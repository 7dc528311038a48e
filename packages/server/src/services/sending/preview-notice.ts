import type { NoticePreview, NoticePreviewRequest } from '@convite/contract';
import { nextOccurrence } from '@convite/core';
import { getEvent } from '../events/get-event';
import type { Context } from '../context';
import { previewPerson } from './invite';
import { formOf } from './notices';
import { shownOfEvent } from './shown-message';

/** The notice of the newest version, or of calling the event off, as somebody who was invited would read it. */
export async function previewNotice(
  context: Context,
  eventId: number,
  { wording, isCallOff, personId }: NoticePreviewRequest,
): Promise<NoticePreview> {
  const event = await getEvent(context, eventId);
  const settings = await context.store.house.settings();
  const person = await previewPerson(context, eventId, personId);
  const nowMs = context.clock.now();
  const form = isCallOff ? { method: 'CANCEL' as const, occurrence: '' } : await formOf(context.store, event);
  const { number, facts } = event.version;
  const about = {
    channel: 'email' as const,
    content: { kind: 'notice' as const, ...form, isByDate: false, document: wording, version: number, stampMs: nowMs },
    occurrence: '',
    guests: [],
    atMs: nowMs,
  };
  return {
    person: { id: person.id, name: person.name },
    message: await shownOfEvent(context, settings, event, about, {
      person,
      facts: nextOccurrence(facts, nowMs)?.facts ?? facts,
    }),
  };
}
