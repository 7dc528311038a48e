import type { Store } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';

/** So often a process looks whether all personal links were ended. */
const lookEveryMs = 5000;

/** When all personal links were last ended, by its number (0 for never), as this process knows it: at most five seconds late, and as before in an outage. */
export interface LinkGeneration {
  readonly now: () => number;
  look(): Promise<void>;
}

export async function keepLinkGeneration(store: Pick<Store, 'linkEndings'>): Promise<LinkGeneration> {
  let last = await store.linkEndings.last();
  const look = async (): Promise<void> => {
    last = Math.max(last, await store.linkEndings.last());
  };
  setInterval(() => void look().catch(() => undefined), lookEveryMs).unref();
  return { now: () => last, look };
}

/**
 * Ends every link that acts for one person (answers, preferences, own calendars, confirmations): links made from now on are
 * others, and the old ones lead to a page that says so and sends a new one. Opting out keeps working (RFC 8058).
 */
export async function endPersonalLinks(context: Pick<Context, 'store' | 'clock'>, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    await tx.linkEndings.end(nowOf(context), actor.name);
    await tx.house.audit(nowOf(context), actor, 'links: all personal links ended', '');
    await tx.live.touch('board', 'subscribers');
  });
}
