import type { Lane, Who } from '@convite/core';
import type { ZoneCount } from '../../store/audiences';
import type { Store } from '../../store/store';

/** Counts who gets messages, now. */
export interface AudienceCounter {
  gets(who: Who, channel: Lane): Promise<number>;
  /** The same, by the zones that people are in. */
  byZone(who: Who, channel: Lane): Promise<ReadonlyMap<string, ZoneCount>>;
}

/** Counts each audience once while one answer is put together: the firings of one series mostly ask for the same. */
export function audienceCounter({ audiences }: Pick<Store, 'audiences'>, nowMs: number): AudienceCounter {
  return {
    gets: once(nowMs, (who, channel) => audiences.countGets(who, channel)),
    byZone: once(nowMs, (who, channel) => audiences.countGetsByZone(who, channel)),
  };
}

function once<T>(
  nowMs: number,
  count: (who: Who, channel: Lane) => Promise<T>,
): (who: Who, channel: Lane) => Promise<T> {
  const counts = new Map<string, Promise<T>>();
  return (asked, channel) => {
    // Of what goes in more than a week, nothing counts yet: its firings ask for the same people.
    const limit = asked.limit && asked.limit.sinceMs > nowMs ? null : (asked.limit ?? null);
    // Who waits for the end of quiet hours gets it like the others.
    const quiet = asked.quiet?.leftOut.length ? { ...asked.quiet, waits: [] } : null;
    const who = { ...asked, limit, quiet };
    const key = JSON.stringify([who, channel]);
    let counted = counts.get(key);
    if (!counted) counts.set(key, (counted = count(who, channel)));
    return counted;
  };
}
