import type { AudienceCount, LiveCount } from '@convite/contract';
import type { Lane, Who } from '@convite/core';
import type { Context } from '../context';

/** So many people are looked at in one statement: a fraction of a second, after which whoever asked may have gone. */
const sliceSize = 50_000;

/**
 * Counts who gets a message, and why not the others, for somebody who is looking: slice by slice of all people, each time with
 * what it is so far. Whoever stops reading stops the counting.
 * @param guestsOf an event whose guests are worth a reason too, whoever is in
 */
export async function* countLive(
  { store }: Pick<Context, 'store'>,
  who: Who,
  channel: Lane,
  guestsOf: number | null,
): AsyncGenerator<LiveCount> {
  const last = await store.subscribers.lastId();
  const slices = Math.max(1, Math.ceil(last / sliceSize));
  let audience: AudienceCount = { gets: 0, waiting: 0, nameless: 0, without: [] };
  for (let slice = 0; slice < slices; slice += 1) {
    const within = slices === 1 ? null : { from: slice * sliceSize + 1, to: (slice + 1) * sliceSize };
    audience = sum(audience, await store.audiences.countAudience(who, channel, guestsOf, within));
    yield { share: (slice + 1) / slices, audience };
  }
}

function sum(before: AudienceCount, more: AudienceCount): AudienceCount {
  const counts = new Map(before.without.map(({ reason, count }) => [reason, count]));
  for (const { reason, count } of more.without) counts.set(reason, (counts.get(reason) ?? 0) + count);
  return {
    gets: before.gets + more.gets,
    waiting: before.waiting + more.waiting,
    nameless: before.nameless + more.nameless,
    without: [...counts].map(([reason, count]) => ({ reason, count })),
  };
}
