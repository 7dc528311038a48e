import { Worker } from 'node:worker_threads';
import type { Logger } from 'pino';
import type { Arrival } from './prove-sender';
import type { ReadMail } from './read-mail';

/** What the thread is asked. */
export type ReaderRequest =
  | { readonly kind: 'read'; readonly id: number; readonly octets: Uint8Array; readonly knownAs: string }
  | {
      readonly kind: 'prove';
      readonly id: number;
      readonly octets: Uint8Array;
      readonly fromAddress: string;
      readonly arrival: Arrival;
    };

/** Reads strangers' mail in a thread of its own, in bounded time and memory. */
export interface MailReader {
  /** @throws TooHard when it takes too long or cannot be taken apart */
  read(octets: Uint8Array, knownAs: string): Promise<ReadMail>;
  /** False also when it cannot be found out in time. */
  isProved(octets: Uint8Array, fromAddress: string, arrival: Arrival): Promise<boolean>;
  close(): Promise<void>;
}

/** A message that is not to be read: the sender is told so for good. */
export class TooHard extends Error {}

const readMs = 4000;
const proveMs = 8000;
const startMs = 15_000;
const memoryMb = 192;

export function openMailReader(log: Logger): MailReader {
  let thread: Worker | null = null;
  let lastId = 0;
  const open = new Map<number, { done(value: unknown): void; fail(error: Error): void }>();
  // One at a time: how long a message takes is then its own doing, and ending the thread ends nobody else's.
  let turn: Promise<unknown> = Promise.resolve();
  let ready: Promise<unknown> = Promise.resolve();

  function threadUp(): Worker {
    if (thread) return thread;
    const started = startThread();
    ready = new Promise((resolve) => started.once('message', resolve));
    started.on('message', (answer: { id: number; value?: unknown; error?: string }) => {
      const asked = open.get(answer.id);
      open.delete(answer.id);
      if (answer.error === undefined) asked?.done(answer.value);
      else asked?.fail(new TooHard(answer.error));
    });
    started.on('error', (error) => endThread(started, error));
    started.on('exit', () => endThread(started, new TooHard('the reader ended')));
    started.unref();
    return (thread = started);
  }

  function endThread(one: Worker, error: Error): void {
    if (thread !== one) return;
    thread = null;
    void one.terminate();
    for (const { fail } of open.values()) fail(error instanceof TooHard ? error : new TooHard(error.message));
    open.clear();
  }

  type WithoutId<R> = R extends unknown ? Omit<R, 'id'> : never;
  function ask(request: WithoutId<ReaderRequest>, withinMs: number): Promise<unknown> {
    const work = turn.then(async () => {
      const up = threadUp();
      // How long it takes to begin is not the message's doing.
      await Promise.race([ready, sleep(startMs)]);
      lastId += 1;
      const id = lastId;
      let timer: NodeJS.Timeout | undefined;
      try {
        return await new Promise<unknown>((done, fail) => {
          open.set(id, { done, fail });
          timer = setTimeout(() => {
            log.warn({ kind: request.kind, withinMs }, 'a message took too long to read; the reader begins anew');
            endThread(up, new TooHard(`not read within ${withinMs} ms`));
          }, withinMs);
          up.postMessage({ ...request, id });
        });
      } finally {
        clearTimeout(timer);
      }
    });
    turn = work.catch(() => undefined);
    return work;
  }

  return {
    read: async (octets, knownAs) => (await ask({ kind: 'read', octets, knownAs }, readMs)) as ReadMail,
    async isProved(octets, fromAddress, arrival) {
      try {
        return (await ask({ kind: 'prove', octets, fromAddress, arrival }, proveMs)) === true;
      } catch (error) {
        log.warn({ error }, 'a sender could not be proved');
        return false;
      }
    },
    async close() {
      await turn;
      const last = thread;
      thread = null;
      await last?.terminate();
    },
  };
}

/** The thread, from the bundle; or from its source, which needs the loader that this process runs with. */
function startThread(): Worker {
  const options = { resourceLimits: { maxOldGenerationSizeMb: memoryMb } };
  if (!import.meta.url.endsWith('.ts')) return new Worker(new URL('./reader-thread.mjs', import.meta.url), options);
  const source = new URL('./reader-thread.ts', import.meta.url).href;
  const code = `import('tsx/esm/api').then(({ register }) => { register(); return import(${JSON.stringify(source)}); })`;
  return new Worker(code, { ...options, eval: true });
}

const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms).unref());
