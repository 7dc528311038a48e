import type { EpochMs } from '../time/zone';
import type { PersonMessage } from './person-message';

/** What is known of the invitee when a reply arrives. */
export interface ReplyContext {
  /** Lower-case address that the invitation went to; null when nobody of that address is invited. */
  readonly invitedAddress: string | null;
  /** Lower-case address that the message came from. */
  readonly fromAddress: string;
  readonly eventSequence: number;
  /** The SEQUENCE after which an answer is about today's facts. */
  readonly lastSequence: number | null;
  readonly lastStampMs: EpochMs | null;
}

export type ReplyVerdict =
  | { readonly kind: 'apply' }
  /** Kept and shown, but does not change the answer. */
  | { readonly kind: 'late'; readonly reason: 'old-version' | 'older-than-last' }
  /** Shown to the marketer, applied to nobody. */
  | { readonly kind: 'set-aside'; readonly reason: 'not-invited' | 'from-somebody-else' | 'unknown-version' };

/** Does the reply count? Ordered by SEQUENCE, then DTSTAMP (RFC 5546 §2.1.5); a reply speaks only for its own sender. */
export function judgeReply(reply: Pick<PersonMessage, 'sequence' | 'stampMs'>, context: ReplyContext): ReplyVerdict {
  if (context.invitedAddress === null) return { kind: 'set-aside', reason: 'not-invited' };
  if (context.fromAddress !== context.invitedAddress) return { kind: 'set-aside', reason: 'from-somebody-else' };
  if (reply.sequence > context.eventSequence) return { kind: 'set-aside', reason: 'unknown-version' };
  if (reply.sequence < context.eventSequence) return { kind: 'late', reason: 'old-version' };
  const { lastSequence, lastStampMs } = context;
  if (lastSequence === reply.sequence && lastStampMs !== null && reply.stampMs < lastStampMs) {
    return { kind: 'late', reason: 'older-than-last' };
  }
  return { kind: 'apply' };
}
