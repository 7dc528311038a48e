import type { Logger } from 'pino';
import { graceMs } from '@convite/core';
import type { ShiftableClock } from '../clock';
import type { EmailMessage, End, TextMessage } from '../mail/message';
import type { Context } from '../services/context';
import { expandFiring } from '../services/expand-firing';
import { keepPlannedMs, planOn } from '../services/plan-firings';
import { lookAtNext } from '../services/watch-calendars';
import { composerCache } from './composers';
import { openLane } from './lane';
import { takeLease } from './lease';

export interface WorkerOptions {
  readonly context: Context;
  readonly clock: ShiftableClock;
  readonly mail: End<EmailMessage>;
  readonly text: End<TextMessage>;
  readonly leaseSeconds: number;
  readonly emailConcurrency: number;
  readonly log: Logger;
}

/** A row planned meanwhile by another process is seen within this time at the latest. */
const lookEveryMs = 400;
const sweepEveryMs = 3000;
const lookAtCalendarsEveryMs = 2000;
const textConcurrency = 4;

/**
 * Makes time pass: fires what is due and sends what was expanded. Any number of workers run against one database; each
 * row says when it is due, and whoever locks it first fires it.
 */
export async function startWorker({
  context,
  clock,
  mail,
  text,
  leaseSeconds,
  emailConcurrency,
  log,
}: WorkerOptions): Promise<{ stop(): Promise<void> }> {
  const { store } = context;
  const lease = takeLease(store, leaseSeconds);
  await lease.beat();
  const heart = setInterval(
    () => lease.beat().catch((error: unknown) => log.warn({ error }, 'heartbeat missed')),
    (leaseSeconds * 1000) / 4,
  );
  const composerOf = composerCache(context);
  const send = (message: EmailMessage | TextMessage) =>
    message.kind === 'email' ? mail.send(message) : text.send(message);
  const shared = { context, lease, composerOf, log, send };
  const lanes = [
    openLane({ ...shared, channel: 'email', concurrency: emailConcurrency }),
    openLane({ ...shared, channel: 'text', concurrency: textConcurrency }),
  ];
  let isStopping = false;
  let sweptAt = -Infinity;
  const watch = watchTime();
  const calendars = watchCalendars();
  log.info({ lease: lease.token }, 'worker up');

  return {
    async stop() {
      isStopping = true;
      await watch;
      await calendars;
      await Promise.all(lanes.map((lane) => lane.stop()));
      clearInterval(heart);
      await lease.release();
      await mail.close();
      await text.close();
    },
  };

  async function watchTime(): Promise<void> {
    while (!isStopping) {
      try {
        clock.shiftTo(await store.live.clockOffsetMs());
        if (performance.now() - sweptAt > sweepEveryMs) await sweep();
        while (!isStopping && (await fireNext()));
        const nextMs = await store.firings.nextDueMs();
        await sleep(Math.max(5, Math.min(lookEveryMs, nextMs === null ? lookEveryMs : nextMs - clock.now())));
      } catch (error) {
        log.warn({ error }, 'cannot look for what is due; trying again');
        await sleep(1000);
      }
    }
  }

  /** Watched calendars, beside everything else: one that answers slowly holds nothing up. */
  async function watchCalendars(): Promise<void> {
    while (!isStopping) {
      try {
        while (!isStopping && (await lookAtNext(context)));
      } catch (error) {
        log.warn({ error }, 'a watched calendar could not be taken over; trying again');
      }
      for (let waited = 0; !isStopping && waited < lookAtCalendarsEveryMs; waited += lookEveryMs)
        await sleep(lookEveryMs);
    }
  }

  async function fireNext(): Promise<boolean> {
    return store.transact(async (tx) => {
      const firing = await tx.firings.lockDue(clock.now());
      if (!firing) return false;
      const planned = await expandFiring(tx, firing, clock.now());
      log.info({ firing: firing.id, kind: firing.kind, planned, lateMs: clock.now() - firing.dueMs }, 'fired');
      return true;
    });
  }

  async function sweep(): Promise<void> {
    sweptAt = performance.now();
    const reclaimed = await store.deliveries.reclaim();
    if (reclaimed) log.warn({ reclaimed }, 'took over deliveries of a worker that is gone');
    const late = await store.firings.markMissed(
      clock.now() - graceMs,
      'No worker was up at its moment, and it is more than an hour late.',
    );
    const forgotten = await store.firings.markForgotten(clock.now());
    // A worker that died between its last message and this line left the firing open.
    for (const id of await store.events.idsToPlan(clock.now() + keepPlannedMs))
      await store.transact((tx) => planOn(tx, id, clock.now()));
    const closed = await store.firings.closeFinished(await store.firings.sendingIds());
    const events = await Promise.all(closed.map(async (id) => (await store.firings.find(id))?.eventId ?? null));
    const topics = events.flatMap((id) => (id === null ? [] : [`event:${id}`]));
    if (late + forgotten + closed.length) await store.live.touch('board', ...new Set(topics));
  }
}

const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
