import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';
import { planCues } from './plan-firings';

/** What of an event goes by itself, or is on its way: answers and changes go all the same, people wait for them. */
const heldKinds: readonly string[] = ['cue', 'invitation', 'manual'];

/**
 * Holds all of an event: what is set, what is planned later, and what is on its way. Cues go on by themselves once it is let go on,
 * those whose moment passed meanwhile are missed; what was cut off on its way is set again by hand.
 */
export async function holdEvent(context: Context, id: number, actor: Actor): Promise<void> {
  const nowMs = context.clock.now();
  const underWay = await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(id);
    if (!event) throw notFound('event');
    if (event.heldBy !== null) throw new Failure(409, 'held', `${event.heldBy} holds it already.`);
    await tx.events.setHeldBy(id, actor.name);
    await planCues(tx, { ...event, heldBy: actor.name }, await tx.cues.ofEvent(id), nowMs);
    await tx.house.audit(nowOf(context), actor, 'event: held', event.version.facts.title);
    await tx.live.touch('board', `event:${id}`);
    return tx.firings.underWay(id);
  });
  for (const firing of underWay)
    if (heldKinds.includes(firing.kind)) await context.store.firings.stop(firing.id, actor.name);
}

/** @throws Failure 409 where nobody holds it */
export async function letEventGoOn(context: Context, id: number, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(id);
    if (!event) throw notFound('event');
    if (event.heldBy === null) throw new Failure(409, 'not-held', 'Nobody holds it.');
    await tx.events.setHeldBy(id, null);
    await planCues(tx, { ...event, heldBy: null }, await tx.cues.ofEvent(id), context.clock.now());
    await tx.house.audit(nowOf(context), actor, 'event: let go on', event.version.facts.title);
    await tx.live.touch('board', `event:${id}`);
  });
}

/** Holds all that goes out of the house, answers too, until somebody lets each channel go on: for when something is very wrong. */
export async function holdEverything(context: Context, actor: Actor): Promise<void> {
  const { store } = context;
  for (const channel of ['email', 'text'] as const) await store.troubles.pause(channel, '', actor.name);
  await store.house.audit(nowOf(context), actor, 'sending: everything held', '');
  await store.live.touch('board');
}
