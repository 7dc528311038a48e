import type { WordingDocument } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import type { Context } from '../context';

/** Sends one person an answer to what their calendar asked, by the same way as everything else: a firing and a delivery. */
export async function answerPerson(
  { store, clock }: { readonly store: StoreSubjects; readonly clock: Context['clock'] },
  event: StoredEvent,
  answer: {
    readonly personId: number;
    readonly method: 'REQUEST' | 'DECLINECOUNTER' | 'QUESTION';
    /** The date it is about; empty for the whole. */
    readonly occurrence: string;
    readonly wording: WordingDocument;
    /** What they wrote to us, or we to them by hand, below it. */
    readonly quoted?: string;
    readonly isComing?: boolean;
  },
): Promise<void> {
  const { personId, method, occurrence, wording, quoted = '', isComing = false } = answer;
  await store.firings.create({
    kind: 'answer',
    eventId: event.id,
    channel: 'email',
    dueMs: clock.now(),
    state: 'set',
    content: {
      kind: 'answer',
      method,
      personId,
      alsoIds: [],
      occurrence,
      isComing,
      document: quoted ? { ...wording, blocks: [...wording.blocks, { kind: 'quoted', text: quoted }] } : wording,
      version: event.version.number,
      stampMs: clock.now(),
    },
  });
}
