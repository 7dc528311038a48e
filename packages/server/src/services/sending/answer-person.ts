import type { Channel, WordingDocument } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import type { Context } from '../context';

/** Sends one person an answer to what they or their calendar asked, by the same way as everything else: a firing and a delivery. */
export async function answerPerson(
  { store, clock }: { readonly store: StoreSubjects; readonly clock: Context['clock'] },
  event: StoredEvent,
  answer: {
    readonly personId: number;
    /** Others to whom the same is said. */
    readonly alsoIds?: readonly number[];
    readonly channel?: Channel;
    readonly method: 'REQUEST' | 'CANCEL' | 'DECLINECOUNTER' | 'QUESTION';
    /** The date it is about; empty for the whole. */
    readonly occurrence: string;
    readonly wording: WordingDocument;
    /** What they wrote to us, or we to them by hand, below it. */
    readonly quoted?: string;
    readonly isComing?: boolean;
    /** Until when a place is kept for them that it tells of. */
    readonly keptUntilMs?: number | null;
  },
): Promise<void> {
  const { personId, channel = 'email', method, occurrence, wording, quoted = '', alsoIds = [] } = answer;
  const { isComing = false, keptUntilMs = null } = answer;
  await store.firings.create({
    kind: 'answer',
    eventId: event.id,
    channel,
    dueMs: clock.now(),
    state: 'set',
    content: {
      kind: 'answer',
      method,
      personId,
      alsoIds: [...alsoIds],
      occurrence,
      isComing,
      isOff: event.version.calledOff,
      keptUntilMs,
      document: quoted ? { ...wording, blocks: [...wording.blocks, { kind: 'quoted', text: quoted }] } : wording,
      version: event.version.number,
      stampMs: clock.now(),
    },
  });
}

/**
 * Answers somebody who wrote to us, about no event in particular. It goes whether or not they take messages otherwise: they
 * wrote first, and whoever ended texts is told so once.
 */
export async function answerWriter(
  { store, clock }: { readonly store: StoreSubjects; readonly clock: Context['clock'] },
  {
    personId,
    channel,
    document,
  }: { readonly personId: number; readonly channel: Channel; readonly document: WordingDocument },
): Promise<void> {
  await store.firings.create({
    kind: 'answer',
    channel,
    dueMs: clock.now(),
    state: 'set',
    content: { kind: 'to-writer', personId, document },
  });
}
