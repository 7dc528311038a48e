import type { Channel } from '@convite/core';
import type { ContentOf } from '../../store/content';
import type { House } from '../../store/said';
import type { Context } from '../context';
import type { Composer } from './composer';
import { prepareWording, writeEmail, writeText } from './write-message';

/** A message that somebody wrote to some people, about no event. */
export function manualComposer(
  context: Context,
  settings: House,
  channel: Channel,
  { document }: ContentOf<'manual'>,
): Composer {
  const wording = prepareWording(context, settings, null, document);
  return channel === 'text'
    ? (person, deliveryId) => writeText(context, settings, person, deliveryId, wording.fill(person).text)
    : (person, deliveryId) =>
        writeEmail(context, settings, { person, deliveryId, said: wording.fill(person), calendar: null });
}
