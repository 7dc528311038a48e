import { nowOf, type Actor, type Context } from '../context';
import { notFound } from '../failure';

/**
 * Erases somebody for good: name, addresses and all that was said by them or about them, also from what was sent; every count
 * stays as it was. What waits to go to them is passed over, and no file brings them in again. @throws Failure 404
 */
export async function erasePerson(context: Context, id: number, actor: Actor): Promise<void> {
  const now = nowOf(context);
  await context.store.transact(async (tx) => {
    if (!(await tx.erasures.erase(id, now))) throw notFound('subscriber');
    await tx.house.audit(now, actor, 'person: erased', `person ${id}`);
    await tx.live.touch('subscribers', 'board');
  });
}
