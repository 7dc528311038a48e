import type { RefusalAbout } from '../../mail/message';
import type { Channel } from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { Failure } from '../failure';

/** A mailbox that takes nothing on so many days within so many is given up. */
const mailboxRefusals = 3;
const mailboxDays = 10;
/** A refusal for good, and who says so. */
export interface RefusalNote {
  readonly about: RefusalAbout;
  /** The other server's words. */
  readonly text: string;
  /** In the SMTP dialogue, or by a report that is proved to be our relay's. */
  readonly isFromRelay: boolean;
}

/** So many refusals of the sender within so many minutes stop the sending: each further one would make it worse. */
const policyRefusals = 10;
const policyMinutes = 10;

/**
 * What follows from a refusal for good, at the hand-over or by a report. Only an address that does not exist is
 * suppressed at once. A refusal of the sender suppresses nobody, and in numbers it pauses the sending: where our own relay gave
 * it. A report can be written by anybody who got a message, so that one of theirs concerns them alone.
 */
export async function noteRefusal(
  context: Pick<Context, 'store' | 'clock'>,
  subscriberId: number,
  { about, text, isFromRelay }: RefusalNote,
): Promise<void> {
  const { store } = context;
  const now = nowOf(context);
  if (about === 'message') return;
  if (about === 'address') {
    await store.refusals.markBounced(subscriberId, text, now);
    await store.house.audit(now, 'mail server', 'bounce: address suppressed', `person ${subscriberId}: ${text}`);
    return;
  }
  if (about === 'policy' && !isFromRelay) {
    await store.refusals.note(subscriberId, 'report', text, now);
    await store.live.touch('board');
    return;
  }
  if (about === 'mailbox') {
    if (!(await store.refusals.noteOfMailbox(subscriberId, text, now))) return;
    const since = new Date(now.getTime() - mailboxDays * 86_400_000);
    if ((await store.refusals.countOfMailbox(subscriberId, since, mailboxRefusals)) < mailboxRefusals) return;
    await store.refusals.markBounced(subscriberId, text, now);
    await store.house.audit(
      now,
      'mail server',
      'bounce: address suppressed',
      `person ${subscriberId}, on three days: ${text}`,
    );
    return;
  }
  await store.refusals.note(subscriberId, about, text, now);
  const since = new Date(now.getTime() - policyMinutes * 60_000);
  if ((await store.refusals.countOfPolicy(since, policyRefusals)) < policyRefusals) return;
  if (!(await store.troubles.pause('email', text))) return;
  await store.house.audit(now, 'mail server', 'sending: paused', `it refuses us as the sender: ${text}`);
  await store.live.touch('board');
}

/** A person lets a paused channel go on; refusals are counted anew. @throws Failure 409 when it is not paused */
export async function resumeSending(context: Context, channel: Channel, actor: Actor): Promise<void> {
  const { store } = context;
  await store.refusals.forgetPolicy();
  if (!(await store.troubles.resume(channel))) throw new Failure(409, 'not-paused', 'It is not paused.');
  await store.house.audit(nowOf(context), actor, 'sending: resumed', channel);
  await store.live.touch('board');
}
