import {
  houseBlocksIn,
  mapBlocks,
  occurrencesBetween,
  withHouseBlocks,
  type ComingEvent,
  type WordingDocument,
} from '@convite/core';
import type { StoreSubjects } from '../../store/store';
import type { Context } from '../context';
import { cleanHtml } from './clean-html';

const dayMs = 86_400_000;
/** More than a reader looks through. */
const mostComing = 12;

/**
 * A wording with all that it only names put in its place, as it stands now: the house's blocks, and what else is coming up.
 * Asked for as a message goes, so that a block that was changed is changed in everything not yet sent.
 * @param about of which event it is, whose dates are not coming up beside it; null for none
 */
export async function settle(
  { store, links }: Pick<Context, 'store' | 'links'>,
  document: WordingDocument,
  about: { readonly eventId: number | null; readonly atMs: number },
): Promise<WordingDocument> {
  const named = await withKeptBlocks(store, document);
  const whole = mapBlocks(named, (block) => [block.kind === 'html' ? cleanHtml(block) : block]);
  const days = longestComing(whole);
  if (days === 0) return whole;
  const { atMs, eventId } = about;
  const alive = await store.events.aliveBetween(atMs, atMs + days * dayMs);
  const coming = alive
    .filter(({ id, reach }) => reach === 'public' && id !== eventId)
    .flatMap(({ publicKey, version }) =>
      occurrencesBetween(version.facts, atMs, atMs + days * dayMs, mostComing)
        .filter(({ calledOff, startMs }) => !calledOff && startMs > atMs)
        .map(({ facts: { title, span, zone, endZone }, startMs }) => ({
          startMs,
          event: { title, url: links.page(publicKey), facts: { span, zone, endZone } } satisfies ComingEvent,
        })),
    )
    .sort((one, other) => one.startMs - other.startMs);
  return mapBlocks(whole, (block) => {
    if (block.kind !== 'coming') return [block];
    const untilMs = atMs + block.days * dayMs;
    const events = coming.filter(({ startMs }) => startMs <= untilMs).slice(0, mostComing);
    return [{ ...block, events: events.map(({ event }) => event) }];
  });
}

/** A message with the organisation's blocks in place of their names. */
export async function withKeptBlocks(
  { keptWordings }: Pick<StoreSubjects, 'keptWordings'>,
  document: WordingDocument,
): Promise<WordingDocument> {
  const keys = houseBlocksIn(document);
  if (keys.length === 0) return document;
  const kept = await keptWordings.findMany(keys);
  return withHouseBlocks(document, (key) => kept.find((one) => one.key === key)?.wording.blocks ?? []);
}

function longestComing(document: WordingDocument): number {
  let days = 0;
  mapBlocks(document, (block) => {
    if (block.kind === 'coming') days = Math.max(days, block.days);
    return [];
  });
  return days;
}
