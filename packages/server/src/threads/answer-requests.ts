import { parentPort } from 'node:worker_threads';
import type { ThreadAnswer } from './bounded-thread';

/** The thread's own end: says that it is ready, then answers one request after the other. */
export function answerRequests<Request>(work: (request: Request) => unknown): void {
  const say = (answer: ThreadAnswer): void => parentPort?.postMessage(answer);
  say({ id: 0 });
  parentPort?.on('message', ({ id, request }: { id: number; request: Request }) => {
    Promise.resolve(request)
      .then(work)
      .then(
        (value) => say({ id, value }),
        (error: unknown) => say({ id, error: String(error) }),
      );
  });
}
