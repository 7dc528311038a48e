import type { Context } from '../services/context';
import { prepareFiring, type Composer } from '../services/compose-firing';
import type { StoredFiring } from '../store/firings';

export interface PreparedFiring {
  readonly firing: StoredFiring;
  readonly compose: Composer;
}

const mostKept = 50;

/** Keeps the composers of the firings under way: what thousands of people share is prepared once. */
export function composerCache(context: Context): (firingId: number) => Promise<PreparedFiring> {
  const kept = new Map<number, Promise<PreparedFiring>>();
  const prepare = async (firingId: number): Promise<PreparedFiring> => {
    const firing = await context.store.firings.find(firingId);
    if (!firing) throw new Error(`firing ${firingId} is gone`);
    return { firing, compose: await prepareFiring(context, firing) };
  };
  return (firingId) => {
    let found = kept.get(firingId);
    if (!found) {
      if (kept.size >= mostKept) kept.delete(kept.keys().next().value ?? 0);
      kept.set(firingId, (found = prepare(firingId)));
      found.catch(() => kept.delete(firingId));
    }
    return found;
  };
}
