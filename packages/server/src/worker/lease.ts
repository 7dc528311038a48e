import { randomUUID } from 'node:crypto';
import type { Store } from '../store/store';

/** This worker's hold on what it claims: good while its heartbeat reaches the database. */
export interface Lease {
  readonly token: string;
  /** False once a heartbeat is overdue: others may have taken over, so nothing more is handed over under this token. */
  isHeld(): boolean;
  beat(): Promise<void>;
  release(): Promise<void>;
}

export function takeLease(store: Store, leaseSeconds: number): Lease {
  const token = randomUUID();
  // Measured on the monotonic clock: neither the demonstration's clock nor the machine's moves a lease.
  let heldUntil = 0;
  return {
    token,
    isHeld: () => performance.now() < heldUntil,
    beat: async () => {
      const asked = performance.now();
      await store.deliveries.beat(token, leaseSeconds);
      heldUntil = asked + leaseSeconds * 1000;
    },
    release: () => store.deliveries.leave(token),
  };
}
