import type { OfferedQuery, OfferedWording } from '@convite/contract';
import {
  allBlocks,
  eventBlocks,
  isOfEvent,
  plainDocument,
  plainTextOf,
  prepareDocument,
  type WordingDocument,
} from '@convite/core';
import type { Context } from '../context';
import { findCues } from '../countdown/find-cues';
import { notFound } from '../failure';
import { findWording, listWordings } from './kept-wordings';
import { findShipped } from './shipped';

const mostOffered = 40;

/** What somebody may begin from: wordings that are kept, by words of their names, and cues of any event that are called so. */
export async function offerWordings(
  context: Context,
  { search, channel, ofEvent }: OfferedQuery,
): Promise<OfferedWording[]> {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const rows = (await listWordings(context)).filter(
    (row) =>
      row.channel === channel &&
      row.purpose !== 'block' &&
      !row.isArchived &&
      words.every((word) => row.name.toLowerCase().includes(word)),
  );
  const documents = new Map((await context.store.keptWordings.all()).map(({ key, wording }) => [key, wording]));
  const kept = rows
    .filter(({ key }) => ofEvent || !speaksOfEvent(documents.get(key) ?? findShipped(key)?.wording))
    .map(({ key, name, isShipped }) => ({ key, name, about: isShipped ? '' : 'the house’s own' }));
  const cues = ofEvent && words.length ? await findCues(context, search) : [];
  return [
    ...kept,
    ...cues.map(({ id, name, eventTitle }) => ({ key: `cue-${id}`, name, about: `cue of ${eventTitle}` })),
  ].slice(0, mostOffered);
}

/** The words of what was offered, as they are begun with. @throws Failure 404 */
export async function beginFrom(
  context: Context,
  key: string,
  channel: OfferedQuery['channel'],
): Promise<WordingDocument> {
  const cueId = Number(/^cue-(\d+)$/.exec(key)?.[1] ?? 0);
  const cue = cueId ? await context.store.cues.find(cueId) : null;
  if (cueId && !cue) throw notFound('cue');
  const wording = cue ? cue.wording : { ...(await findWording(context, key)).wording, from: key };
  // A text message is typed: what stands in blocks is begun with as what it says.
  return channel === 'text'
    ? { ...plainDocument('', plainTextOf(wording)), ...(wording.from && { from: wording.from }) }
    : wording;
}

function speaksOfEvent(wording: WordingDocument | undefined): boolean {
  if (!wording) return false;
  const { fields, about, onlys } = prepareDocument({ ...wording, blocks: allBlocks(wording) });
  return onlys.length > 0 || eventBlocks.some((block) => about.has(block)) || [...fields].some(isOfEvent);
}
