import type { ChangedMembers, ChangeMembers } from '@convite/contract';
import { nowOf, type Actor, type Context } from '../context';
import { notFound } from '../failure';

export async function programLists({ store }: Context) {
  const rows = await store.lists.all();
  return { rows: rows.map(({ id, name, count, isArchived }) => ({ id, name, members: count, isArchived })) };
}

/** Members by number, from behind one of them. @throws Failure 404 */
export async function listMembers(
  { store }: Context,
  id: number,
  { after, limit }: { readonly after: number; readonly limit: number },
): Promise<{ rows: number[]; next: number | null }> {
  if (!(await store.lists.has(id))) throw notFound('list');
  const ids = await store.lists.membersAfter(id, after, limit + 1);
  const rows = ids.slice(0, limit);
  return { rows, next: ids.length > limit ? (rows.at(-1) ?? null) : null };
}

/** Puts people on a list and takes others off it. Done again it changes nothing. @throws Failure 404 */
export async function changeMembers(
  context: Context,
  id: number,
  { add, remove }: ChangeMembers,
  actor: Actor,
): Promise<ChangedMembers> {
  const now = nowOf(context);
  return context.store.transact(async (tx) => {
    const list = await tx.lists.find(id);
    if (!list) throw notFound('list');
    const wanted = [...new Set([...add, ...remove])];
    const there = new Set(await tx.subscribers.alive(wanted));
    const joined = await tx.lists.join(
      id,
      [...new Set(add)].filter((one) => there.has(one)),
      now,
    );
    const left = await tx.lists.leave(
      id,
      remove.filter((one) => there.has(one)),
      now,
    );
    if (joined.length || left.length) {
      await tx.house.audit(now, actor, 'list: changed', `${list.name}: ${joined.length} joined, ${left.length} left`);
      await tx.live.touch('subscribers', 'board');
    }
    return { joined, left, unknown: wanted.filter((one) => !there.has(one)) };
  });
}
