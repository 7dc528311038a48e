import type { Response } from 'express';
import type { Logger } from 'pino';
import type { Store } from '../store/store';

const lookEveryMs = 300;
const keepAliveMs = 20_000;
/** Streams of sessions that ended, here or on another server, end within this. */
const checkEveryMs = 2000;
/** Looks back this far, so that a change written late by another process is not missed. */
const lookBackSeconds = 10;
/** Tabs of one session; one more is refused, and asks again later. */
const mostOfSession = 10;

/** Tells every open screen, by server-sent events, which topics changed, whichever process changed them. */
export interface LiveHub {
  /** @param session by which it is named to people: the stream ends with it */
  add(response: Response, session: string): void;
  close(): void;
}

export function openLiveHub(store: Pick<Store, 'live' | 'sessions'>, log: Logger): LiveHub {
  const clients = new Map<Response, string>();
  let seen = new Map<string, number>();
  let isLooking = false;

  const look = async (): Promise<void> => {
    if (clients.size === 0 || isLooking) return;
    isLooking = true;
    try {
      const now = await store.live.recent(lookBackSeconds);
      const topics = [...now].filter(([topic, version]) => seen.get(topic) !== version).map(([topic]) => topic);
      seen = new Map([...seen, ...now]);
      if (topics.length) for (const client of clients.keys()) client.write(`data: ${JSON.stringify({ topics })}\n\n`);
    } catch (error) {
      log.warn({ error }, 'cannot look for changes');
    } finally {
      isLooking = false;
    }
  };
  const check = async (): Promise<void> => {
    try {
      const alive = await store.sessions.alive([...new Set(clients.values())]);
      for (const [client, session] of clients) if (!alive.has(session)) client.end();
    } catch (error) {
      log.warn({ error }, 'cannot look whether sessions ended');
    }
  };
  const timers = [
    setInterval(() => void look(), lookEveryMs),
    setInterval(() => void check(), checkEveryMs),
    setInterval(() => [...clients.keys()].forEach((client) => client.write(': still here\n\n')), keepAliveMs),
  ];
  return {
    add(response, session) {
      if ([...clients.values()].filter((of) => of === session).length >= mostOfSession) {
        response.status(429).set('retry-after', '30').end();
        return;
      }
      response.writeHead(200, {
        'content-type': 'text/event-stream',
        'cache-control': 'no-store',
        'x-accel-buffering': 'no',
      });
      response.write('retry: 2000\n\n');
      clients.set(response, session);
      response.on('close', () => clients.delete(response));
    },
    close() {
      timers.forEach(clearInterval);
      [...clients.keys()].forEach((client) => client.end());
    },
  };
}
