import type { StoredEvent } from '../../store/events';
import type { AppliedReply } from '../../store/invitees';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Context } from '../context';

/** Whose answer, and to what: the key of a date; empty for a one-off, or the whole of a series. */
export interface AnswerOf {
  readonly subscriberId: number;
  readonly occurrence: string;
}

/**
 * The one way in which an answer is written down, from a page or a calendar. Where the event takes registrations, its owner's
 * place follows. To be called inside a transaction.
 * @returns whether it stands: not when a newer one does
 */
export async function writeAnswer(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  event: StoredEvent,
  { subscriberId, occurrence }: AnswerOf,
  reply: AppliedReply,
): Promise<boolean> {
  const now = nowOf(context);
  const { facts } = event.version;
  const ofDate = facts.series !== null && occurrence !== '';
  const isStored = ofDate
    ? await tx.dates.applyReply(event.id, subscriberId, occurrence, reply, now)
    : await tx.invitees.applyReply(event.id, subscriberId, reply, now);
  if (isStored && facts.registration)
    await tx.registrations.follow(
      { eventId: event.id, subscriberId, occurrence: ofDate ? occurrence : '' },
      reply.state,
      now,
    );
  if (isStored) await tx.cameOf.noteOfPerson(subscriberId, 'replies', now, event.id);
  if (isStored)
    await tx.webhooks.tell([subscriberId], { kind: 'reply', eventId: event.id, occurrence, detail: reply.state }, now);
  return isStored;
}
