import type { Failures } from '../../store/sign-in-failures';

/** So many failures within the hour cost nothing; each one more doubles the wait, up to so many seconds. */
interface Pace {
  readonly free: number;
  readonly mostSeconds: number;
}

/**
 * Somebody who guesses at one account from one place waits long; an account that is guessed at from everywhere waits a
 * little, so that its owner is not shut out; and a place behind which many sit waits only when all of it fails.
 */
export const paces = {
  pair: { free: 5, mostSeconds: 900 },
  account: { free: 20, mostSeconds: 30 },
  address: { free: 100, mostSeconds: 10 },
} as const satisfies Record<string, Pace>;

/** How many seconds from now the next try is let through; 0 for now. */
export function waitSeconds({ free, mostSeconds }: Pace, { count, secondsAgo }: Failures): number {
  if (count < free) return 0;
  const wait = Math.min(mostSeconds, 2 ** Math.min(20, count - free + 1));
  return Math.max(0, Math.ceil(wait - secondsAgo));
}
