import { needsJoinLink, type EventFacts, type Who, type WordingDocument } from '@convite/core';
import type { StoreSubjects } from '../../store/store';
import { withKeptBlocks } from '../sending/settle';

/** Nobody is a guest of it. */
const noEvent = 0;

/**
 * Who gets a message that may depend on the join link: only those to whom Convite shows it. Where the event has no join link yet,
 * that is nobody.
 * @param message undefined for what writes nothing
 */
export async function withJoinLink(
  store: Pick<StoreSubjects, 'keptWordings'>,
  who: Who,
  message: WordingDocument | undefined,
  event: { readonly id: number; readonly facts: Pick<EventFacts, 'venue' | 'joinLink'> },
): Promise<Who> {
  if (!message || !needsJoinLink(await withKeptBlocks(store, message), event.facts)) return who;
  return { ...who, joins: event.facts.joinLink === '' ? noEvent : event.id };
}
