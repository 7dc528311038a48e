import { prepareFiring, type PreparedFiring } from '../services/sending/compose-firing';
import type { Context } from '../services/context';

const mostKept = 60;
/** What people share is read again after this time: settings may have changed. */
const keptMs = 30_000;
/** The events of a digest change without its firing changing: asked again as good as at the last moment. */
const digestKeptMs = 3000;

/** Ready to be written, and what its messages are made from kept, so that they can be shown again. */
export interface KeptFiring extends PreparedFiring {
  /** Under which number what all share was kept. */
  readonly toAllId: number;
}

interface Kept {
  readonly prepared: Promise<KeptFiring>;
  readonly untilMs: number;
}

/**
 * Keeps the composers of the firings under way: what thousands of people share is prepared once.
 * @param version which version of the event it says; null for a digest's events as they stand now
 */
export function composerCache(
  context: Context,
): (firingId: number, version: number | null, asFrozen: boolean) => Promise<KeptFiring> {
  const kept = new Map<string, Kept>();
  const prepare = async (firingId: number, version: number | null, asFrozen: boolean): Promise<KeptFiring> => {
    const firing = await context.store.firings.find(firingId);
    if (!firing) throw new Error(`firing ${firingId} is gone`);
    const prepared = await prepareFiring(context, firing, version, asFrozen);
    return { ...prepared, toAllId: await context.store.said.keepForAll(firing.id, prepared.forAll) };
  };
  return (firingId, version, asFrozen) => {
    const key = `${firingId} ${version} ${asFrozen}`;
    const found = kept.get(key);
    if (found && performance.now() < found.untilMs) return found.prepared;
    kept.delete(key);
    if (kept.size >= mostKept) kept.delete(kept.keys().next().value ?? '');
    const prepared = prepare(firingId, version, asFrozen);
    kept.set(key, { prepared, untilMs: performance.now() + (version === null ? digestKeptMs : keptMs) });
    prepared.catch(() => kept.delete(key));
    return prepared;
  };
}
