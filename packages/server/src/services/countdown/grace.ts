import { sayMinutes } from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { getEvent } from '../events/get-event';

/** How late cues of an event may still go where nothing could leave at their moment. @param minutes null for the usual hour */
export async function setGrace(context: Context, id: number, minutes: number | null, actor: Actor): Promise<void> {
  const { version } = await getEvent(context, id);
  await context.store.events.setGrace(id, minutes);
  const words = minutes === null ? 'as usual' : sayMinutes(minutes);
  await context.store.house.audit(nowOf(context), actor, 'event: grace', `${version.facts.title}: ${words}`);
  await context.store.live.touch(`event:${id}`);
}
