import type { NewsKind } from '@convite/contract';
import type { EventFacts } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { AppliedReply } from '../../store/invitees';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Context } from '../context';
import { takenAt } from '../registration/give-place';

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
  const held = isStored && isLimited(facts) ? await placeOf(tx, event.id, subscriberId, ofDate ? occurrence : '') : 0;
  if (isStored && facts.registration)
    await tx.registrations.follow(
      { eventId: event.id, subscriberId, occurrence: ofDate ? occurrence : '' },
      { reply: reply.state, presence: reply.presence ?? null },
      now,
    );
  // What they gave back may be somebody's who waits for it.
  if (isStored && isLimited(facts) && (reply.state !== 'accepted' || reply.presence === 'online'))
    await tx.waitlist.wake(event.id, now);
  if (isStored) await tx.cameOf.noteOfPerson(subscriberId, 'replies', now, event.id);
  if (isStored)
    await tx.webhooks.tell([subscriberId], { kind: 'reply', eventId: event.id, occurrence, detail: reply.state }, now);
  if (isStored) await noteNews(context, tx, event, { subscriberId, occurrence }, reply, held);
  return isStored;
}

const isLimited = ({ registration }: EventFacts): boolean => (registration?.places ?? null) !== null;

/** How many places somebody holds at a date. */
const placeOf = async (tx: StoreSubjects, eventId: number, subscriberId: number, key: string): Promise<number> =>
  (await tx.registrations.placesOf(eventId, subscriberId)).find(({ occurrence }) => occurrence === key)?.places ?? 0;

/** For members who want to be told. @param held places that they held before */
async function noteNews(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  { id: eventId, version: { facts } }: StoredEvent,
  of: AnswerOf,
  { state, comment }: AppliedReply,
  held: number,
): Promise<void> {
  const now = nowOf(context);
  const note = (kind: NewsKind, words = ''): Promise<void> =>
    tx.news.note({ kind, eventId, ...of, comment: words }, now);
  if (state === 'accepted') await note('yes', comment);
  if (state === 'declined') await note('no', comment);
  if (comment) await note('comment', comment);
  const places = facts.registration?.places ?? null;
  if (held === 0 || state === 'accepted' || places === null) return;
  const taken = (await takenAt(context, tx, eventId, [of.occurrence], null)).get(of.occurrence) ?? 0;
  // It was full before.
  if (taken < places && taken + held >= places) await note('place');
}
