import { findOccurrence, type Presence, type ReplyState } from '@convite/core';
import type { StoreSubjects } from '../../store/store';
import type { Context } from '../context';
import { notFound } from '../failure';
import { writeAnswer } from './write-answer';

/**
 * Stores an answer given on the person's own reply page: as good as one from their calendar, and newer than all before.
 * @returns whether it is stored: what a page says is what is stored
 */
export async function replyByPage(
  context: Pick<Context, 'clock'> & { readonly store: StoreSubjects },
  { eventId, subscriberId }: { readonly eventId: number; readonly subscriberId: number },
  answer: {
    readonly occurrence: string;
    readonly state: ReplyState;
    readonly comment: string;
    readonly presence?: Presence | undefined;
  },
): Promise<boolean> {
  const { store, clock } = context;
  const event = await store.events.find(eventId);
  if (!event || (answer.occurrence && !findOccurrence(event.version.facts, answer.occurrence))) throw notFound('date');
  const { sequence, facts } = event.version;
  const own = facts.isPersonal ? await store.personal.find(eventId, subscriberId) : null;
  const reply = {
    state: answer.state,
    presence: answer.presence,
    sequence: sequence + (own?.revision ?? 0),
    stampMs: clock.now(),
    comment: answer.comment,
    delegatedTo: '',
  };
  const isStored = await writeAnswer(context, store, event, { subscriberId, occurrence: answer.occurrence }, reply);
  await store.live.touch('board', 'events', `event:${eventId}`);
  return isStored;
}
