import type { Channel } from '@convite/core';
import type { EmailMessage, TextMessage } from '../../mail/message';
import type { ContentOf } from '../../store/content';
import type { House } from '../../store/said';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { prepareWording, writeEmail, writeText } from './write-message';

/** A message that somebody wrote to some people, or that answers one, about no event. */
export function manualComposer(
  context: Context,
  settings: House,
  channel: Channel,
  { document }: ContentOf<'manual' | 'to-writer'>,
): (person: Recipient, deliveryId: number) => EmailMessage | TextMessage {
  const wording = prepareWording(context, settings, null, document);
  return channel === 'text'
    ? (person, deliveryId) => writeText(context, settings, person, deliveryId, wording.fill(person).text)
    : (person, deliveryId) =>
        writeEmail(context, settings, { person, deliveryId, said: wording.fill(person), calendar: null });
}
