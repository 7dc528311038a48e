import type { Logger } from 'pino';
import { openThread } from './bounded-thread';

/** A request that is too large to be worked on beside everybody else's. */
export interface LargeRequest {
  readonly method: string;
  /** With what stands behind the question mark. */
  readonly url: string;
  readonly headers: Readonly<Record<string, string>>;
  readonly body: Uint8Array;
  /** From where it came. */
  readonly address: string;
  /** How far the shared clock is ahead. */
  readonly clockOffsetMs: number;
}

export interface LargeAnswer {
  readonly status: number;
  readonly headers: Readonly<Record<string, string>>;
  readonly body: Uint8Array;
}

/** What the thread is asked: first for which configuration it works, then request after request. */
export interface LargeWork {
  readonly env: Readonly<Record<string, string | undefined>>;
  readonly request: LargeRequest;
}

export interface LargeRequests {
  /** @throws TooHard when it takes too long: it is ended, and nothing of it is stored */
  answer(request: LargeRequest): Promise<LargeAnswer>;
  close(): Promise<void>;
}

/** The longest that somebody's rows are staged, or the largest message composed, takes a tenth of this. */
const longestMs = 20_000;
const memoryMb = 512;

/**
 * Works on large requests in a thread of its own, which is the same application over again: whatever one of them does to it,
 * everybody else is served meanwhile, and it is ended in time.
 * @param env the configuration, as of the process
 * @param withinMs longer than that nothing may take
 */
export function openLargeRequests(env: LargeWork['env'], log: Logger, withinMs = longestMs): LargeRequests {
  const source = new URL('./large-thread.ts', import.meta.url);
  const thread = openThread<LargeWork>({ source, memoryMb, log });
  return {
    answer: async (request) => (await thread.ask({ env, request }, withinMs)) as LargeAnswer,
    close: () => thread.close(),
  };
}
