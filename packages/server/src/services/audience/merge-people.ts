import type { MergePreview, SamePeople } from '@convite/contract';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';

const mostLikely = 5;

/** Who was found to be somebody, and who may be. @throws Failure 404 */
export async function samePeople({ store }: Context, id: number): Promise<SamePeople> {
  if (!(await store.subscribers.detail(id))) throw notFound('subscriber');
  const really = await store.subscribers.whoIs(id);
  const merges = await store.merges.ofPerson(id);
  // Whoever is somebody else is put together with nobody more.
  const likely = really === id ? await store.merges.likely(id, mostLikely) : [];
  const people = await store.subscribers.findMany([...merges.map(({ absorbedId }) => absorbedId), ...likely, really]);
  const say = (one: number) => {
    const { name = '', email = '', mobile = '' } = people.get(one) ?? {};
    return { id: one, name, email, mobile };
  };
  return {
    absorbed: merges.map(({ id: mergeId, absorbedId, at, by }) => ({
      mergeId,
      person: say(absorbedId),
      at: at.toISOString(),
      by,
    })),
    likely: likely.map(say),
    isReally: really === id ? null : say(really),
  };
}

/** What would go over from one person to another, before it does. @throws Failure 404 */
export async function previewMerge({ store }: Context, keptId: number, absorbedId: number): Promise<MergePreview> {
  const [kept, other] = [await store.subscribers.detail(keptId), await store.subscribers.detail(absorbedId)];
  if (!kept || !other) throw notFound('subscriber');
  const names = new Map((await store.lists.all()).map(({ id, name }) => [id, name]));
  const [ours, theirs] = [await store.lists.ofPerson(keptId), await store.lists.ofPerson(absorbedId)];
  const facts = ['name', 'mobile', 'zone'] as const;
  return {
    fills: facts.flatMap((fact) => (kept[fact] === '' && other[fact] !== '' ? [{ fact, value: other[fact] }] : [])),
    email: kept.email === '' ? other.email : '',
    joins: theirs.filter((list) => !ours.includes(list)).flatMap((list) => names.get(list) ?? []),
    optsOut: other.optedOut && !kept.optedOut,
  };
}

/**
 * Two people found to be one: the one goes on, with what the other had; nothing goes to the other any more, and what comes from
 * their addresses and links is the one's. @throws Failure 404, 409
 */
export async function mergePeople(context: Context, keptId: number, absorbedId: number, actor: Actor): Promise<void> {
  if (keptId === absorbedId) throw new Failure(409, 'same-already', 'That is the same person already.');
  const { store } = context;
  await store.transact(async (tx) => {
    const events = await tx.merges.absorb(keptId, absorbedId, actor.name, nowOf(context));
    if (!events)
      throw new Failure(409, 'not-there', 'One of them is not there, or was found to be somebody else already.');
    await tx.house.audit(nowOf(context), actor, 'people: put together', `person ${absorbedId} is person ${keptId}`);
    await tx.live.touch('subscribers', 'board', ...events.map((event) => `event:${event}`));
  });
}

/** They are two after all: what went over goes back, where it still is what it was. @throws Failure 404 */
export async function partPeople(context: Context, mergeId: number, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const events = await tx.merges.part(mergeId, actor.name, nowOf(context));
    if (!events) throw notFound('merge');
    await tx.house.audit(nowOf(context), actor, 'people: parted again', `merge ${mergeId}`);
    await tx.live.touch('subscribers', 'board', ...events.map((event) => `event:${event}`));
  });
}
