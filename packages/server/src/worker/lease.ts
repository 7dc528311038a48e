import { randomUUID } from 'node:crypto';
import type { Clock } from '../clock';
import type { Store } from '../store/store';

/** This worker's hold on what it claims: good while its heartbeat reaches the database. */
export interface Lease {
  /** Another one after the old has run out: nothing that was claimed under that one is this worker's any more. */
  readonly token: string;
  /** False once a heartbeat is overdue: others may have taken over, so nothing more is handed over under this token. */
  isHeld(token: string): boolean;
  beat(): Promise<void>;
  release(): Promise<void>;
}

/** What a dead worker held is taken over after this share of a lease more: clocks of two database nodes may differ. */
export const graceShare = 0.8;

export function takeLease(store: Pick<Store, 'leases'>, leaseSeconds: number, clock: Clock): Lease {
  let token = randomUUID();
  // Measured on the monotonic clock: neither the demonstration's clock nor the machine's moves a lease.
  let heldUntil = -Infinity;
  let isKnown = false;
  return {
    get token() {
      return token;
    },
    isHeld: (claimedUnder) => claimedUnder === token && performance.now() < heldUntil,
    async beat() {
      const asked = performance.now();
      // Its row ran out, or was taken away: whoever looked meanwhile took over. We begin anew, with empty hands.
      if (isKnown && !(await store.leases.beat(token, leaseSeconds))) {
        isKnown = false;
        token = randomUUID();
      }
      if (!isKnown) await store.leases.enter(token, leaseSeconds);
      isKnown = true;
      heldUntil = asked + leaseSeconds * 1000;
    },
    release: () => store.leases.leave(token, clock.now()),
  };
}
