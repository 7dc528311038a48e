import type { Response } from 'express';
import type { Logger } from 'pino';
import type { Store } from '../store/store';

const lookEveryMs = 300;
const keepAliveMs = 20_000;
/** Looks back this far, so that a change written late by another process is not missed. */
const lookBackSeconds = 10;

/** Tells every open screen, by server-sent events, which topics changed, whichever process changed them. */
export interface LiveHub {
  add(response: Response): void;
  close(): void;
}

export function openLiveHub(store: Pick<Store, 'live'>, log: Logger): LiveHub {
  const clients = new Set<Response>();
  let seen = new Map<string, number>();
  let isLooking = false;

  const look = async (): Promise<void> => {
    if (clients.size === 0 || isLooking) return;
    isLooking = true;
    try {
      const now = await store.live.recent(lookBackSeconds);
      const topics = [...now].filter(([topic, version]) => seen.get(topic) !== version).map(([topic]) => topic);
      seen = new Map([...seen, ...now]);
      if (topics.length) for (const client of clients) client.write(`data: ${JSON.stringify({ topics })}\n\n`);
    } catch (error) {
      log.warn({ error }, 'cannot look for changes');
    } finally {
      isLooking = false;
    }
  };
  const timers = [
    setInterval(() => void look(), lookEveryMs),
    setInterval(() => clients.forEach((client) => client.write(': still here\n\n')), keepAliveMs),
  ];
  return {
    add(response) {
      response.writeHead(200, {
        'content-type': 'text/event-stream',
        'cache-control': 'no-store',
        'x-accel-buffering': 'no',
      });
      response.write('retry: 2000\n\n');
      clients.add(response);
      response.on('close', () => clients.delete(response));
    },
    close() {
      timers.forEach(clearInterval);
      clients.forEach((client) => client.end());
    },
  };
}
