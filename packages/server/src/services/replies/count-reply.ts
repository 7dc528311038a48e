import { replyStates, type ReplyState } from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { getEvent } from '../events/get-event';
import { Failure, notFound } from '../failure';
import { applyReply } from './receive-mail';

/** Answers set aside for these reasons are whole, and only whose they are, or whether there is room for them, is in doubt: a person may say that they count. */
export const countable: readonly string[] = ['unproven', 'from-somebody-else', 'no-place'];

/** Answers to an event that were set aside, for a person to judge. */
export async function listSetAside({ store }: Context, eventId: number) {
  const rows = await store.replies.setAside(eventId);
  return rows.map(({ at, ...row }) => ({ ...row, receivedAt: at.toISOString() }));
}

/** Counts an answer that was set aside, because a person knows that it is right. @throws Failure 409 when it cannot be */
export async function countReply(context: Context, eventId: number, replyId: number, actor: Actor): Promise<void> {
  const event = await getEvent(context, eventId);
  const { store } = context;
  const reply = await store.replies.findSetAside(eventId, replyId);
  if (!reply) throw notFound('answer');
  const state = replyStates.find((known): known is ReplyState => known === reply.state);
  const invitee = await store.invitees.findByEmail(eventId, reply.attendee, reply.occurrence);
  if (!countable.includes(reply.reason) || !state || !invitee)
    throw new Failure(409, 'not-countable', 'This cannot be counted: it is no answer of a guest of this event.');
  const { version } = event;
  const answer = { state, sequence: version.sequence, stampMs: context.clock.now(), comment: '', delegatedTo: '' };
  const { verdict } = await applyReply(context, event, reply.occurrence, invitee, answer, true);
  if (verdict !== 'apply') throw new Failure(409, 'older-than-last', 'A newer answer of this guest stands.');
  await store.replies.markCounted(replyId);
  await store.house.audit(nowOf(context), actor, 'answer: counted', `${reply.attendee}, ${state}`);
  await store.live.touch('board', 'events', `event:${eventId}`);
}
