import type { Outcome } from '../store/outcomes';
import type { Refusal } from '../mail/message';

/** Minutes until the next attempt after a transient refusal, by attempts made (RFC 5321 §4.5.4.1 asks for growing waits). */
const backoffMinutes = [1, 5, 15, 60, 240, 720] as const;
/** What found nobody goes behind the others, so that one message that breaks the other end does not hold them up. */
const behindMs = 5000;

/** What a refusal means for its delivery. A send cut off midway counts as transient: the repeat has the same Message-ID. */
export function outcomeOf(id: number, refusal: Refusal | null, attempts: number, nowMs: number): Outcome {
  if (refusal === null) return { id, kind: 'sent' };
  if (refusal.kind === 'unreachable') return { id, kind: 'returned', nextMs: nowMs + behindMs };
  const wait = refusal.kind === 'transient' ? backoffMinutes[attempts - 1] : undefined;
  return wait === undefined || refusal.kind === 'permanent'
    ? { id, kind: 'failed', answer: refusal.answer }
    : { id, kind: 'retry', answer: refusal.answer, nextMs: nowMs + wait * 60_000, mayHaveLeft: refusal.mayHaveLeft };
}
