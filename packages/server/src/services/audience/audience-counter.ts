import type { Channel, Who } from '@convite/core';
import type { Store } from '../../store/store';

/** How many get a message, now. */
export type AudienceCounter = (who: Who, channel: Channel) => Promise<number>;

/** Counts each audience once while one answer is put together: the board asks for the same of dozens of firings. */
export function audienceCounter({ deliveries }: Pick<Store, 'deliveries'>): AudienceCounter {
  const counts = new Map<string, Promise<number>>();
  return (who, channel) => {
    const key = JSON.stringify([who, channel]);
    let count = counts.get(key);
    if (!count) counts.set(key, (count = deliveries.countGets(who, channel)));
    return count;
  };
}
