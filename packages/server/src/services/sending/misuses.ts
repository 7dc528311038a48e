import type { MisusePage } from '@convite/contract';
import { nowOf, type Actor, type Context } from '../context';
import { notFound } from '../failure';

const pageSize = 50;

/** What looks as if somebody had used links or forms of others before this version; nobody has reviewed it yet. */
export async function listMisuses({ store }: Context, before: number): Promise<MisusePage> {
  const rows = await store.linkEndings.misuses(before, pageSize + 1);
  const shown = rows.slice(0, pageSize);
  return { rows: shown, next: rows.length > pageSize ? (shown.at(-1)?.id ?? null) : null };
}

/** Somebody looked at it. @throws Failure 404 for one that is not there, or was reviewed before */
export async function reviewMisuse(context: Context, id: number, actor: Actor): Promise<void> {
  const { store } = context;
  if (!(await store.linkEndings.review(id, actor.name, nowOf(context)))) throw notFound('entry');
  await store.house.audit(nowOf(context), actor, 'links: possible misuse reviewed', `entry ${id}`);
  await store.live.touch('board');
}
