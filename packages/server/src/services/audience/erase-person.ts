import { nowOf, type Actor, type Context } from '../context';
import { notFound } from '../failure';

/**
 * Erases somebody for good: name, addresses and all that was said by them or about them, also from what was sent; every count
 * stays as it was. What waits to go to them is passed over, and no file brings them in again. @throws Failure 404
 */
export async function erasePerson(context: Context, id: number, actor: Actor): Promise<void> {
  const now = nowOf(context);
  await context.store.transact(async (tx) => {
    // With them whoever they were found to be.
    const others = await tx.merges.absorbedBy(id);
    if (!(await tx.erasures.erase(id, now))) throw notFound('subscriber');
    for (const other of others) await tx.erasures.erase(other, now);
    await tx.merges.forget(id);
    await tx.house.audit(now, actor, 'person: erased', `person ${id}`);
    await tx.live.touch('subscribers', 'board');
  });
}
