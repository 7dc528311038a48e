import { eventFields, findOccurrence, forTeam, type WordingDocument } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { houseManner } from './manner';
import { withKeptBlocks } from './settle';

/**
 * What a message says where no reader is chosen: on the call board, in standby mails, in the audit log.
 * @param about null for a message about no event; `date` is the key of one date of a series, or empty
 */
export async function teamText(
  store: Pick<StoreSubjects, 'house' | 'keptWordings'>,
  document: WordingDocument,
  about: { readonly event: StoredEvent; readonly date: string; readonly atMs: number } | null,
): Promise<{ subject: string; text: string }> {
  const settings = await store.house.settings();
  const facts =
    about &&
    ((about.date && findOccurrence(about.event.version.facts, about.date)?.facts) || about.event.version.facts);
  return forTeam(await withKeptBlocks(store, document), {
    'organisation.name': settings.organisation,
    ...(facts && about && eventFields(facts, '', houseManner(settings), about.atMs)),
  });
}

/** The same in one line: its subject, or how a text begins. */
export async function teamTitle(...asked: Parameters<typeof teamText>): Promise<string> {
  const { subject, text } = await teamText(...asked);
  return (subject || text.split('\n')[0] || '').slice(0, longestTitle);
}
const longestTitle = 120;
