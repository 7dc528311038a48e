import type { Audience, Channel } from '@convite/core';
import type { Target } from '../store/audience-sql';
import type { Store } from '../store/store';

/** How many get a message, now. */
export type AudienceCounter = (audience: Audience, channel: Channel, target: Target) => Promise<number>;

/** Counts each audience once while one answer is put together: the board asks for the same of dozens of firings. */
export function audienceCounter({ deliveries }: Pick<Store, 'deliveries'>): AudienceCounter {
  const counts = new Map<string, Promise<number>>();
  return (audience, channel, target) => {
    const key = JSON.stringify([audience, channel, target]);
    let count = counts.get(key);
    if (!count) counts.set(key, (count = deliveries.countGets(audience, channel, target)));
    return count;
  };
}
