import type { ImportResult } from '@convite/contract';
import { isDuplicate } from '../../store/database';
import type { ToInvite } from '../../store/to-invite';
import { bringPasted } from '../audience/bring-pasted';
import { nowOf, type Actor, type Context } from '../context';
import { getEvent } from './get-event';

/** Says which lists and segments the event is going to invite. Nobody hears of it before somebody sends. */
export async function chooseToInvite(context: Context, eventId: number, chosen: ToInvite): Promise<void> {
  await getEvent(context, eventId);
  await context.store.transact(async (tx) => {
    await tx.toInvite.set(eventId, chosen);
    await tx.live.touch(`event:${eventId}`);
  });
}

/**
 * Takes what was pasted for an event into a list of its own, which is made and named by itself, and is going to be invited.
 * What is pasted later goes to the same list.
 */
export async function pasteToInvite(
  context: Context,
  eventId: number,
  pasted: { readonly text: string; readonly how: string },
  actor: Actor,
): Promise<ImportResult> {
  const event = await getEvent(context, eventId);
  const own = await context.store.toInvite.own(eventId);
  const listId = own ?? (await makeList(context, `Guests of ${event.version.facts.title}`, actor));
  await context.store.toInvite.add(eventId, [listId], true);
  const result = await bringPasted(context, listId, pasted, actor);
  await context.store.live.touch(`event:${eventId}`, 'subscribers');
  return result;
}

const longestName = 120;

/** A list of that name, or of the next that is free. */
async function makeList(context: Context, wanted: string, actor: Actor): Promise<number> {
  for (let n = 1; ; n += 1) {
    const ending = n === 1 ? '' : `, ${n}`;
    const name = `${[...wanted].slice(0, longestName - ending.length).join('')}${ending}`;
    try {
      const id = await context.store.lists.create(name);
      await context.store.house.audit(nowOf(context), actor, 'list: created', name);
      return id;
    } catch (error) {
      if (!isDuplicate(error) || n > 1000) throw error;
    }
  }
}
