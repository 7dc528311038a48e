import { differencesBetween, isSameOn, matters } from '../event/change';
import type { EventVersion } from '../event/event';
import type { EpochMs } from '../time/zone';
import type { PersonMessage } from './person-message';

/** What is known of the invitee when a reply arrives. */
export interface ReplyContext {
  /** Lower-case address that the invitation went to; null when nobody of that address is invited. */
  readonly invitedAddress: string | null;
  /** Whose answer it is known to be: by the address it went to, or by a sender that was proved. Lower case. */
  readonly fromAddress: string;
  /** The newest SEQUENCE there is: nobody can have answered a later one. */
  readonly eventSequence: number;
  /** Did what it answers change for this person since the version they answered? (`isOvertaken`) */
  readonly isOvertaken: boolean;
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
  if (context.isOvertaken) return { kind: 'late', reason: 'old-version' };
  const { lastSequence, lastStampMs } = context;
  const isOlder =
    lastSequence !== null &&
    (reply.sequence < lastSequence ||
      (reply.sequence === lastSequence && lastStampMs !== null && reply.stampMs < lastStampMs));
  return isOlder ? { kind: 'late', reason: 'older-than-last' } : { kind: 'apply' };
}

/**
 * Is an answer overtaken by what the person was told since? Only what it answers counts: one date that was called off or
 * moved leaves answers to the others, and to the whole, as good as they were (RFC 5546 §3.2.5 sends the whole entry no
 * new SEQUENCE then); a change that nobody told them yet overtakes nothing.
 * @param sequence of the answer
 * @param versions all up to the newest that the person holds, oldest first
 * @param occurrence key of the date it is about; empty for the whole
 */
export function isOvertaken(sequence: number, versions: readonly EventVersion[], occurrence: string): boolean {
  const held = versions.at(-1);
  const answered = versions.findLast((version) => version.sequence <= sequence) ?? versions[0];
  if (!held || !answered || held.sequence <= sequence) return false;
  if (held.calledOff !== answered.calledOff) return true;
  if (occurrence) return !isSameOn(answered.facts, held.facts, occurrence);
  return matters(differencesBetween(answered, held).filter(({ field }) => field !== 'occurrence'));
}
