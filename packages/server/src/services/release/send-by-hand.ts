import type { NewFiring } from '../../store/firing-plans';
import type { StoreSubjects } from '../../store/store';
import type { Actor, Context } from '../context';
import { refuseUnsendable } from '../sending/refuse-unsendable';
import { askRelease, waitingNote } from './ask-release';

/**
 * What somebody sends by hand: it goes now, or waits for a second member where the house asks for one. To be called in a
 * transaction. @param gets whom it is to go to @returns whether it waits
 * @throws Failure 409 where Settings lack what every message carries
 */
export async function sendByHand(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  message: Pick<NewFiring, 'kind' | 'eventId' | 'cueId' | 'slot' | 'channel' | 'content' | 'title'>,
  gets: number,
  actor: Actor,
): Promise<boolean> {
  await refuseUnsendable(tx, message.channel);
  const firing = await tx.firings.create({ ...message, dueMs: context.clock.now(), state: 'draft', note: waitingNote });
  if (firing === null) throw new Error('what is sent by hand has no name that another could have');
  if (await askRelease(context, tx, { what: 'firing', ref: firing, gets }, actor)) return true;
  await tx.firings.setUnfired(firing, ['draft'], 'set', context.clock.now());
  return false;
}
