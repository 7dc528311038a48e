import { type senderFaults } from '@convite/contract';
import type { House } from '../../store/said';
import type { StoredSender } from '../../store/senders';
import type { StoreSubjects } from '../../store/store';

export type SenderFault = (typeof senderFaults)[number];

/** Why the house writes in its own name instead; null where it need not. */
export const faultOf = ({ isPaused, provenAt }: Pick<StoredSender, 'isPaused' | 'provenAt'>): SenderFault | null =>
  isPaused ? 'paused' : provenAt === null ? 'unproven' : null;

/**
 * The house as it is heard of an event: as the sender chosen for that, or as itself where there is none, or that one is paused
 * or was never proven to be ours.
 */
export async function asSender<S extends House>(
  { senders }: Pick<StoreSubjects, 'senders'>,
  house: S,
  senderId: number | null,
): Promise<S> {
  const sender = senderId === null ? null : await senders.find(senderId);
  return !sender || faultOf(sender) ? house : writtenAs(house, sender);
}

/** The house as it is heard through a sender. */
export function writtenAs<S extends House>(house: S, sender: StoredSender): S {
  const { name, email, replyTo, textSender, signature, takesNoAnswers, copyTo } = sender;
  return {
    ...house,
    sender: { name, email, replyTo: takesNoAnswers ? '' : replyTo },
    textSender: textSender || house.textSender,
    look: { ...house.look, signature: signature || house.look.signature },
    takesNoAnswers,
    copyTo,
  };
}
