import { Worker, type TransferListItem } from 'node:worker_threads';
import type { Logger } from 'pino';

/** A thread that works on what strangers sent: in bounded time and memory, and it can be ended. */
export interface BoundedThread<Request> {
  /**
   * @param transfer buffers that go over instead of being copied
   * @throws TooHard when it takes longer than `withinMs`, needs too much memory, or fails
   */
  ask(request: Request, withinMs: number, transfer?: readonly TransferListItem[]): Promise<unknown>;
  close(): Promise<void>;
}

/** Work that is not to be done: it takes too long, or cannot be taken apart. */
export class TooHard extends Error {}

const startMs = 15_000;

export interface ThreadOptions {
  /** The thread's source file, beside which the bundle has it as .mjs. */
  readonly source: URL;
  readonly memoryMb: number;
  readonly log: Logger;
}

/**
 * Opens a thread when it is first asked something. One request at a time: how long it takes is then its own doing, and
 * ending the thread ends nobody else's.
 */
export function openThread<Request extends object>(options: ThreadOptions): BoundedThread<Request> {
  const { log } = options;
  let thread: Worker | null = null;
  let lastId = 0;
  const open = new Map<number, { done(value: unknown): void; fail(error: Error): void }>();
  let turn: Promise<unknown> = Promise.resolve();
  let ready: Promise<unknown> = Promise.resolve();

  function threadUp(): Worker {
    if (thread) return thread;
    const started = startThread(options);
    ready = new Promise((resolve) => started.once('message', resolve));
    started.on('message', (answer: ThreadAnswer) => {
      const asked = open.get(answer.id);
      open.delete(answer.id);
      if (answer.error === undefined) asked?.done(answer.value);
      else asked?.fail(new TooHard(answer.error));
    });
    started.on('error', (error) => endThread(started, error));
    started.on('exit', () => endThread(started, new TooHard('the thread ended')));
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

  return {
    ask(request, withinMs, transfer = []) {
      const work = turn.then(async () => {
        const up = threadUp();
        // How long it takes to begin is not the request's doing.
        await Promise.race([ready, sleep(startMs)]);
        lastId += 1;
        const id = lastId;
        let timer: NodeJS.Timeout | undefined;
        try {
          return await new Promise<unknown>((done, fail) => {
            open.set(id, { done, fail });
            timer = setTimeout(() => {
              log.warn({ source: options.source.pathname, withinMs }, 'reading took too long; its thread begins anew');
              endThread(up, new TooHard(`not read within ${withinMs} ms`));
            }, withinMs);
            up.postMessage({ id, request }, transfer);
          });
        } finally {
          clearTimeout(timer);
        }
      });
      turn = work.catch(() => undefined);
      return work;
    },
    async close() {
      await turn;
      const last = thread;
      thread = null;
      await last?.terminate();
    },
  };
}

/** What the thread says: once when it is ready, with 0; then to each request. */
export interface ThreadAnswer {
  readonly id: number;
  readonly value?: unknown;
  readonly error?: string;
}

/** The thread, from the bundle; or from its source, which needs the loader that this process runs with. */
function startThread({ source, memoryMb }: ThreadOptions): Worker {
  const limits = { resourceLimits: { maxOldGenerationSizeMb: memoryMb } };
  if (!import.meta.url.endsWith('.ts')) {
    const name = source.pathname.replace(/^.*\/([^/]+)\.ts$/, './$1.mjs');
    return new Worker(new URL(name, import.meta.url), limits);
  }
  const code = `import('tsx/esm/api').then(({ register }) => { register(); return import(${JSON.stringify(source.href)}); })`;
  return new Worker(code, { ...limits, eval: true });
}

const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms).unref());
