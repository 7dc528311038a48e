import { escapeHtml, linkNumber, markLinks, shortenLinks, unmarkLinks } from '@convite/core';
import type { Content } from '../../store/content';
import type { House } from '../../store/said';
import type { Context } from '../context';
import type { Composer } from './composer';

/** A text as it goes: its long links short. */
export const withShortLinks = ({ links }: Pick<Context, 'links'>, text: string, deliveryId: number): string =>
  shortenLinks(text, (index) => links.short(deliveryId, index));

/**
 * The same messages with links of our own: in emails those that were typed lead past a counter, where the house counts; in texts
 * the long ones are short.
 * @param compose of a wording whose typed links are marked
 */
export function withOwnLinks(
  context: Pick<Context, 'links'>,
  firingId: number,
  { countsLinks }: Pick<House, 'countsLinks'>,
  content: Content,
  compose: (content: Content) => Composer,
): Composer {
  const { document, addresses } = markLinks(content.document);
  const isCounted = countsLinks !== 'not' && addresses.length > 0;
  const composed = compose(isCounted ? { ...content, document } : content);
  return (person, deliveryId, topics) => {
    const message = composed(person, deliveryId, topics);
    if (message?.kind === 'text') return { ...message, text: withShortLinks(context, message.text, deliveryId) };
    if (!message || !isCounted) return message;
    const addressOf = (index: number): string => {
      const address = addresses[index] ?? '';
      // Of who minds nothing is counted, not even that somebody pressed.
      if (person.mindsNoting) return address;
      return countsLinks === 'by-person'
        ? context.links.counted('person', deliveryId, linkNumber(address))
        : context.links.counted('message', firingId, linkNumber(address));
    };
    const html = unmarkLinks(message.html, (index) => escapeHtml(addressOf(index)));
    return { ...message, html, text: unmarkLinks(message.text, addressOf) };
  };
}
