import type { MergePreview, SamePeople } from '@convite/contract';
import { planMerge, type MergedPerson, type MergePlan } from '@convite/core';
import type { StoreSubjects } from '../../store/store';
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
  const plan = await planFor(store, keptId, absorbedId);
  const names = new Map((await store.lists.all()).map(({ id, name }) => [id, name]));
  return {
    fills: shownFacts.flatMap((fact) => (plan.facts[fact] === undefined ? [] : [{ fact, value: plan.facts[fact] }])),
    email: plan.email,
    joins: plan.joins.flatMap((list) => names.get(list) ?? []),
    optsOut: plan.optsOut,
  };
}

const shownFacts = ['name', 'mobile', 'zone'] as const;

/** @throws Failure 404 */
async function planFor(store: StoreSubjects, keptId: number, absorbedId: number): Promise<MergePlan> {
  const read = async (id: number): Promise<MergedPerson> => {
    const person = await store.subscribers.detail(id);
    if (!person) throw notFound('subscriber');
    return {
      ...person,
      lists: await store.lists.ofPerson(id),
      topics: (await store.subscribers.topicsOf([id])).get(id) ?? [],
      fields: await store.merges.fieldsOf(id),
    };
  };
  return planMerge(await read(keptId), await read(absorbedId));
}

/**
 * Two people found to be one: the one goes on, with what the other had; nothing goes to the other any more, and what comes from
 * their addresses and links is the one's. @throws Failure 404, 409
 */
export async function mergePeople(context: Context, keptId: number, absorbedId: number, actor: Actor): Promise<void> {
  if (keptId === absorbedId) throw new Failure(409, 'same-already', 'That is the same person already.');
  const now = nowOf(context);
  await context.store.transact(async (tx) => {
    const may = await tx.merges.hold(keptId, absorbedId);
    if (may === 'not-there')
      throw new Failure(409, 'not-there', 'One of them is not there, or was found to be somebody else already.');
    if (may === 'has-others')
      throw new Failure(
        409,
        'has-others',
        'Others were found to be that one already. Open that one, and put the one you are looking at together with them there.',
      );
    const plan = await planFor(tx, keptId, absorbedId);
    const events = await tx.merges.absorb(keptId, absorbedId, plan, actor.name, now);
    await tx.house.audit(now, actor, 'people: put together', `person ${absorbedId} is person ${keptId}`);
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
