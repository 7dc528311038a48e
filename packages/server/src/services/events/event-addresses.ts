import type { EventReach } from '@convite/contract';
import type { Links } from '../sending/links';

/** Enough of an event to say where it is found. */
export interface FoundEvent {
  readonly id: number;
  readonly publicKey: string;
  readonly reach: EventReach;
}

/**
 * Where an event's page and calendar file are, for a reader. An event for invited people alone has no page for all: each
 * has their own; for nobody in particular there is none, and the texts are empty.
 */
export function addressesOf(
  links: Links,
  event: FoundEvent,
  person: { readonly id: number } | null,
): { readonly page: string; readonly ics: string } {
  if (event.reach !== 'invited') return { page: links.page(event.publicKey), ics: links.ics(event.publicKey) };
  return person
    ? { page: links.reply(event.id, person.id), ics: links.personIcs(event.id, person.id) }
    : { page: '', ics: '' };
}
