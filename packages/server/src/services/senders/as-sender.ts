import { isTextNumber, type senderFaults } from '@convite/contract';
import type { House } from '../../store/said';
import type { StoredSender } from '../../store/senders';
import type { Context } from '../context';

export type SenderFault = (typeof senderFaults)[number];

/** Why the house writes in its own name instead; null where it need not. */
export const faultOf = ({ isPaused, provenAt }: Pick<StoredSender, 'isPaused' | 'provenAt'>): SenderFault | null =>
  isPaused ? 'paused' : provenAt === null ? 'unproven' : null;

/** Its number has not said yes; a name needs not. */
export const hasTextFault = ({
  textSender,
  textProvenAt,
}: Pick<StoredSender, 'textSender' | 'textProvenAt'>): boolean => isTextNumber(textSender) && textProvenAt === null;

/**
 * The house as it is heard of an event: as the sender chosen for that, or as itself where there is none, or that one is paused
 * or was never proven to be ours.
 */
export async function asSender<S extends House>(
  { store, links }: Pick<Context, 'store' | 'links'>,
  house: S,
  senderId: number | null,
): Promise<S> {
  const sender = senderId === null ? null : await store.senders.find(senderId);
  return !sender || faultOf(sender) ? house : writtenAs(links, house, sender);
}

/** The house as it is heard through a sender. */
export function writtenAs<S extends House>(links: Context['links'], house: S, sender: StoredSender): S {
  const { id, name, replyTo, textSender, signature, takesNoAnswers, copyTo, hidesAddress } = sender;
  const email = hidesAddress ? links.senderAddress(id) : sender.email;
  return {
    ...house,
    // What answers to an address of ours is handed on from there.
    sender: { name, email, replyTo: takesNoAnswers || hidesAddress ? '' : replyTo },
    textSender: hasTextFault(sender) ? house.textSender : textSender || house.textSender,
    look: { ...house.look, signature: signature || house.look.signature },
    takesNoAnswers,
    copyTo,
  };
}
