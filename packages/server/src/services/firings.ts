import { standbyMs } from '@convite/core';
import type { StoredFiring } from '../store/firings';
import { nowOf, type Actor, type Context } from './context';
import { Failure, notFound, refuseUnconfirmed } from './failure';
import { talliesOf } from './list-cues';

async function getFiring({ store }: Context, id: number): Promise<StoredFiring> {
  const firing = await store.firings.find(id);
  if (!firing) throw notFound('firing');
  return firing;
}

/** Stops a firing, until its last message has left. */
export async function stopFiring(context: Context, id: number, actor: Actor): Promise<void> {
  const firing = await getFiring(context, id);
  const at = nowOf(context);
  if (!(await context.store.firings.stop(id, `Stopped by ${actor.name}.`)))
    throw new Failure(409, 'over', 'Too late: it has gone out, or was stopped before.');
  await context.store.house.audit(at, actor.name, 'firing: stopped', `${firing.kind} ${id}`);
  await touch(context, firing);
}

/** Sets a stopped firing again, while its moment is at least ten minutes away. */
export async function setFiringAgain(context: Context, id: number, actor: Actor): Promise<void> {
  const firing = await getFiring(context, id);
  if (firing.isExpanded)
    throw new Failure(409, 'partly-sent', 'Part of it has gone out. Make a new cue for the others.');
  if (firing.dueMs < context.clock.now() + standbyMs)
    throw new Failure(409, 'too-soon', 'Its moment is less than 10 minutes away. Send it by hand instead.');
  if (!(await context.store.firings.setUnfired(id, ['stopped'], 'set', firing.dueMs, '')))
    throw new Failure(409, 'not-stopped', 'It is not stopped.');
  await context.store.house.audit(nowOf(context), actor.name, 'firing: set again', `${firing.kind} ${id}`);
  await touch(context, firing);
}

/** Sends a missed or stopped cue by hand, now. More than a hundred recipients must be confirmed. */
export async function sendFiringNow(
  context: Context,
  id: number,
  confirmedCount: number | null,
  actor: Actor,
): Promise<void> {
  const firing = await getFiring(context, id);
  const tally = (await talliesOf(context, [firing])).get(id);
  refuseUnconfirmed(tally?.gets ?? 0, confirmedCount);
  const isTaken =
    !firing.isExpanded &&
    (await context.store.firings.setUnfired(id, ['missed', 'stopped'], 'set', context.clock.now(), ''));
  if (!isTaken)
    throw new Failure(409, 'not-waiting', 'Only a cue that was missed or stopped before it fired can be sent by hand.');
  await context.store.house.audit(nowOf(context), actor.name, 'firing: sent by hand', `${firing.kind} ${id}`);
  await touch(context, firing);
}

async function touch({ store }: Context, firing: StoredFiring): Promise<void> {
  await store.live.touch('board', ...(firing.eventId === null ? [] : [`event:${firing.eventId}`]));
}
