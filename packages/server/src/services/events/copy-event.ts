import { checkEvent } from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { takeCues } from '../countdown/take-cues';
import { Failure, notFound, refuseProblems } from '../failure';
import { insertEvents } from './events';
import { getEvent } from './get-event';

const longestTitle = 190;

/**
 * Another draft with the same facts, for the next time. Nobody is invited to it, and nothing of what was answered comes along.
 * @param withCountdown its cues too
 * @returns its number
 */
export async function copyEvent(context: Context, id: number, withCountdown: boolean, actor: Actor): Promise<number> {
  const { version, reach, senderId } = await getEvent(context, id);
  const title = `Copy of ${version.facts.title}`.slice(0, longestTitle);
  const facts = { ...version.facts, title };
  refuseProblems(checkEvent(facts));
  return context.store.transact(async (tx) => {
    const [copy = 0] = await insertEvents(context, tx, [{ facts, reach, status: 'draft', by: actor.name }]);
    await tx.senders.ofEvent(copy, senderId);
    if (withCountdown) await takeCues(context, tx, id, [copy]);
    await tx.house.audit(nowOf(context), actor, 'event: copied', `${version.facts.title}, as event ${copy}`);
    await tx.live.touch('board', 'events');
    return copy;
  });
}

/** Deletes an event that nobody has heard of. @throws Failure 409 for one that somebody was invited to, or that was published */
export async function deleteDraft(context: Context, id: number, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(id);
    if (!event) throw notFound('event');
    if (event.status !== 'draft' || (await tx.invitees.countGuests(id)) > 0)
      throw new Failure(409, 'not-a-draft', 'People know of this event: call it off, so that they hear of it.');
    for (const cue of await tx.cues.ofEvent(id)) await tx.cues.remove(cue.id);
    await tx.events.remove(id);
    await tx.house.audit(nowOf(context), actor, 'event: draft deleted', event.version.facts.title);
    await tx.live.touch('board', 'events');
  });
}
