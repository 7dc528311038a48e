import type { Logger } from 'pino';
import { openThread } from '../threads/bounded-thread';
import type { Arrival } from './prove-sender';
import type { ReadMail } from './read-mail';

/** What the thread is asked. */
export type ReaderRequest =
  | { readonly kind: 'read'; readonly octets: Uint8Array; readonly knownAs: string }
  | {
      readonly kind: 'prove';
      readonly octets: Uint8Array;
      readonly fromAddress: string;
      readonly arrival: Arrival;
    };

/** Reads strangers' mail in a thread of its own, in bounded time and memory. */
export interface MailReader {
  /** @throws TooHard when it takes too long or cannot be taken apart: the sender is told so for good */
  read(octets: Uint8Array, knownAs: string): Promise<ReadMail>;
  /** False also when it cannot be found out in time. */
  isProved(octets: Uint8Array, fromAddress: string, arrival: Arrival): Promise<boolean>;
  close(): Promise<void>;
}

const readMs = 4000;
const proveMs = 8000;
const memoryMb = 192;

export function openMailReader(log: Logger): MailReader {
  const source = new URL('./reader-thread.ts', import.meta.url);
  const thread = openThread<ReaderRequest>({ source, memoryMb, log });
  return {
    read: async (octets, knownAs) => (await thread.ask({ kind: 'read', octets, knownAs }, readMs)) as ReadMail,
    async isProved(octets, fromAddress, arrival) {
      try {
        return (await thread.ask({ kind: 'prove', octets, fromAddress, arrival }, proveMs)) === true;
      } catch (error) {
        log.warn({ error }, 'a sender could not be proved');
        return false;
      }
    },
    close: () => thread.close(),
  };
}
