import type { GuestSelection, RemovedGuests } from '@convite/contract';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';
import { houseWording } from '../wording/house-wording';
import { pickedIds } from './pick-guests';

/** For so long nobody is told, so that it can be undone as if it had not been. */
export const undoableMs = 20_000;

/**
 * Takes people off the guests: they are out of everything not yet sent. Who holds an entry gets a CANCEL of their own (RFC
 * 5546 §3.2.5), once it cannot be undone any more.
 */
export async function removeGuests(
  context: Context,
  eventId: number,
  selection: GuestSelection,
  actor: Actor,
): Promise<RemovedGuests> {
  return context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    if (!event) throw notFound('event');
    const ids = await pickedIds(tx, event, selection);
    const { id, removed, holders } = await tx.removals.take(eventId, ids, nowOf(context));
    const [personId, ...alsoIds] = event.status === 'published' ? holders : [];
    if (personId !== undefined) {
      const stampMs = context.clock.now();
      const firingId = await tx.firings.create({
        kind: 'answer',
        eventId,
        channel: 'email',
        dueMs: stampMs + undoableMs,
        state: 'set',
        content: {
          kind: 'answer',
          method: 'CANCEL',
          personId,
          alsoIds,
          occurrence: '',
          isComing: false,
          isOff: false,
          keptUntilMs: null,
          document: await houseWording(tx, 'removed'),
          version: event.version.number,
          stampMs,
        },
      });
      if (firingId !== null) await tx.removals.setFiring(id, firingId);
    }
    // Nobody is told of a place that may be taken back.
    await tx.waitlist.wake(eventId, new Date(context.clock.now() + undoableMs));
    await tx.house.audit(nowOf(context), actor, 'event: guests removed', `${removed} of ${event.version.facts.title}`);
    await tx.live.touch('board', `event:${eventId}`);
    return { id, removed, told: event.status === 'published' ? holders.length : 0 };
  });
}

/** Puts guests back who were removed a moment ago. @throws Failure 409 once they were told */
export async function putGuestsBack(context: Context, removalId: number, actor: Actor): Promise<void> {
  await context.store.transact(async (tx) => {
    const removal = await tx.removals.findForUpdate(removalId);
    if (!removal) throw notFound('removal');
    const { eventId, firingId } = removal;
    if (firingId !== null && !(await tx.firings.dropSet(firingId)))
      throw new Failure(409, 'told-already', 'They were told already. Invite them again instead.');
    await tx.removals.putBack(removalId);
    await tx.house.audit(nowOf(context), actor, 'event: guests put back', `event ${eventId}`);
    await tx.live.touch('board', `event:${eventId}`);
  });
}
