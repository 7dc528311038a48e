import type { Logger } from 'pino';
import type { ShiftableClock } from '../clock';
import type { EmailMessage, End, TextMessage } from '../mail/message';
import type { Context } from '../services/context';
import type { HandOf } from '../store/firing-course';
import type { Part } from '../store/troubles';
import { joinNext } from '../services/sending/join-late';
import { expandFiring } from '../services/sending/expand-firing';
import { forgetImports, resumeImport } from '../services/audience/take-in';
import { openCounter } from '../services/audience/keep-counts';
import { summariseNext, tellNext } from '../services/accounts/tell-members';
import { actOnNext, tellNextTask } from '../services/countdown/acts';
import { announceNext } from '../services/countdown/announce';
import { askNextWaiting } from '../services/registration/waitlist';
import { planNextSteps } from '../services/countdown/plan-steps';
import { keepPlannedMs, planOn } from '../services/countdown/plan-firings';
import { lookAtNext } from '../services/calendars/watch-calendars';
import { callDue } from '../services/programs/call-webhooks';
import { isOutage } from '../store/database';
import { composerCache } from './composers';
import { openLane } from './lane';
import { graceShare, takeLease } from './lease';
import { openRests } from './rests';

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
/** The counter rests no longer than this after a long count. */
const longestRestMs = 5000;
const sweepEveryMs = 3000;
const tidyEveryMs = 10 * 60_000;
/** What another hand is writing down just now is looked for again after this time. */
const heldElsewhereMs = 100;
/** No event's grace is shorter. */
const leastGraceMs = 60_000;
/** What nobody waits for is looked at so often. */
const unhurriedMs = 2000;
/** So long a firing's deliveries stay among those under way: bounces and receipts come back to them. */
const hotMs = 60 * 86_400_000;
/** For so long something may still come in about who was erased: what was on its way, and what other servers say of it. */
const sweptMs = 7 * 86_400_000;
/** So long it is kept what members are told of. */
const newsMs = 3 * 86_400_000;
/** So long it is kept what other systems were told. */
const toldMs = 30 * 86_400_000;
/** So long it is kept which pages people opened. */
const openedMs = 400 * 86_400_000;
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
  const lease = takeLease(store, leaseSeconds, clock);
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
    openLane({ ...shared, channel: 'email', concurrency: emailConcurrency, report: reportOf('mail-server') }),
    openLane({ ...shared, channel: 'text', concurrency: textConcurrency, report: reportOf('text-gateway') }),
  ];
  const rests = openRests();
  let isStopping = false;
  let sweptAt = -Infinity;
  let tidiedAt = -Infinity;
  // Each beside all others: none holds another up.
  const loops = [
    watchTime(),
    // A sending to a million takes a minute to be written down: the small ones go by another hand meanwhile.
    again('what is due could not be looked for', [hand('others')]),
    // Whoever waits for an answer, or must hear of a change, does not wait while another sending is written down.
    again('what is urgent could not be looked for', [hand('answer')]),
    again('what changed could not be looked for', [hand('notice')]),
    again(
      'a watched calendar or an import could not be gone on with',
      [() => lookAtNext(context), () => resumeImport(context)],
      unhurriedMs,
    ),
    again('other systems could not be told', [() => callDue(context, () => isStopping)]),
    again('nobody could be told of what stands by', [() => announceNext(context)]),
    again('who came late could not be put down', [() => joinNext(context)]),
    again('who waits for a place could not be asked', [() => askNextWaiting(context)]),
    again('what people did could not be planned', [() => planNextSteps(context)]),
    again('what a cue does could not be done', [() => actOnNext(context)]),
    again(
      'members could not be told',
      [() => tellNext(context), () => summariseNext(context), () => tellNextTask(context)],
      unhurriedMs,
    ),
    keepCounts(),
    moveThePast(),
  ];
  log.info({ lease: lease.token }, 'worker up');

  return {
    async stop() {
      isStopping = true;
      rests.end();
      await Promise.all(loops);
      await Promise.all(lanes.map((lane) => lane.stop()));
      clearInterval(heart);
      await lease.release();
      await mail.close();
      await text.close();
    },
  };

  /** What a lane finds at the other end is told at once, beside what is asked regularly. */
  function reportOf(part: Part): (isOk: boolean, text: string) => void {
    return (isOk, text) =>
      void store.troubles
        .report(`lane ${lease.token}`, { part, isOk, text })
        .then(() => store.live.touch('board'))
        .catch((error: unknown) => log.warn({ error }, 'cannot report'));
  }

  async function watchTime(): Promise<void> {
    const fireNext = hand('others');
    const isSweepDue = (): boolean => performance.now() - sweptAt > sweepEveryMs;
    while (!isStopping) {
      try {
        clock.shiftTo(await store.live.clockOffsetMs());
        if (isSweepDue()) await sweep();
        // Also while thousands are due, who is gone is taken over from, and what is done is closed.
        let hasFired = false;
        do hasFired = await fireNext();
        while (hasFired && !isStopping && !isSweepDue());
        if (hasFired) continue;
        const nextMs = await store.firings.nextDueMs();
        const inMs = nextMs === null ? lookEveryMs : nextMs - clock.now();
        // What is due and was not to be had is being written down by somebody else.
        await rests.rest(Math.min(lookEveryMs, inMs > 0 ? Math.max(5, inMs) : heldElsewhereMs));
      } catch (error) {
        log.warn({ error }, 'cannot look for what is due; trying again');
        await rests.rest(1000);
      }
    }
  }

  /** Does some work as long as there is any, rests, and looks again. @param trouble what is logged where it cannot */
  async function again(
    trouble: string,
    work: readonly (() => Promise<boolean>)[],
    restMs = lookEveryMs,
  ): Promise<void> {
    while (!isStopping) {
      for (const one of work)
        try {
          while (!isStopping && (await one()));
        } catch (error) {
          log.warn({ error }, `${trouble}; trying again`);
        }
      await rests.rest(restMs);
    }
  }

  /** Counts the audiences of what is to come, one after the other, beside everything else. */
  async function keepCounts(): Promise<void> {
    const counter = openCounter(context);
    while (!isStopping) {
      const begunAt = performance.now();
      let hasCounted = false;
      try {
        hasCounted = await counter.look(() => isStopping);
      } catch (error) {
        log.warn({ error }, 'audiences could not be counted; trying again');
      }
      // Half as long as it took it rests: what is due has the database for itself then.
      const tookMs = performance.now() - begunAt;
      await rests.rest(hasCounted ? Math.min(tookMs / 2, longestRestMs) : lookEveryMs);
    }
  }

  /** One of those who fire beside each other. */
  function hand(of: HandOf): () => Promise<boolean> {
    /** It is not their turn: others go first, and a little later it is asked again whether it is. */
    let passedOver: number[] = [];
    let askedAt = -Infinity;
    return async () => {
      if (performance.now() - askedAt > lookEveryMs) {
        askedAt = performance.now();
        passedOver = [];
      }
      const found = await fireNext(passedOver, of);
      if (found?.isPassedOver) passedOver.push(found.id);
      return found !== null;
    };
  }

  /** Fires the first that is due. One that cannot be is marked as failed with the reason, and the next is looked at. */
  async function fireNext(
    except: readonly number[],
    of: HandOf,
  ): Promise<{ readonly id: number; readonly isPassedOver: boolean } | null> {
    let id: number | null = null;
    try {
      const found = await store.transact(async (tx) => {
        id = await tx.firings.lockDue(clock.now(), except, of);
        const firing = id === null ? null : await tx.firings.find(id);
        if (!firing) return null;
        const done = { id: firing.id, isPassedOver: false };
        // After an outage this may come before the sweep.
        if (clock.now() - firing.dueMs > leastGraceMs && (await tx.firings.markMissed(clock.now(), firing.id)))
          return done;
        const planned = await expandFiring(tx, firing, clock.now());
        if (planned === null) return { ...done, isPassedOver: true };
        log.info({ firing: firing.id, kind: firing.kind, planned, lateMs: clock.now() - firing.dueMs }, 'fired');
        return done;
      });
      // What it wrote down goes at once.
      if (found) for (const lane of lanes) lane.wake();
      return found;
    } catch (error) {
      if (id === null || isOutage(error)) throw error;
      log.error({ error, firing: id }, 'fault: a firing could not be carried out');
      const reason = error instanceof Error ? error.message : String(error);
      await store.firings.fail(id, `It could not be carried out: ${reason}`);
      await store.live.touch('board');
      return { id, isPassedOver: false };
    }
  }

  /** What has served its time leaves, a little at a time. */
  async function tidy(): Promise<void> {
    tidiedAt = performance.now();
    const now = new Date(clock.now());
    await store.requests.forget(now);
    await store.asked.forget(now);
    await store.registrationRequests.forget(now);
    await store.releases.forgetGone();
    await store.signups.forget(now);
    await store.signInFailures.forget();
    await store.webhooks.forget(new Date(clock.now() - toldMs));
    await store.tasks.forget(new Date(clock.now() - openedMs));
    await store.members.forgetLinks();
    while (!isStopping && (await store.news.forget(new Date(clock.now() - newsMs))));
    while (await forgetImports(context));
    await forgetOpened();
    await store.troubles.forgetFaults();
    await store.troubles.forgetReports();
  }

  /** What people opened is kept for so long as it is of use, and not at all once the house notes none any more. */
  async function forgetOpened(): Promise<void> {
    const { notesPages, countsLinks, countsOpens } = await store.house.settings();
    const before = new Date(clock.now() - openedMs);
    const pressedBefore = countsLinks === 'by-person' || countsOpens ? before : new Date(clock.now());
    while (!isStopping && (await store.linksPressed.forget(pressedBefore)));
    while (!isStopping && (await (notesPages ? store.pagesOpened.forget(before) : store.pagesOpened.forgetAll())));
  }

  /** One series that cannot be planned is told, and is looked at again tomorrow; the others are planned. */
  async function planOnOne(id: number): Promise<void> {
    try {
      await store.transact((tx) => planOn(tx, id, clock.now()));
    } catch (error) {
      if (isOutage(error)) throw error;
      log.error({ error, event: id }, 'fault: a series could not be planned on');
      await store.troubles.tellFault('event', id, error instanceof Error ? error.message : String(error));
    }
  }

  /** What is long over moves aside, some at a time, beside everything else. */
  async function moveThePast(): Promise<void> {
    while (!isStopping) {
      let hasMore = false;
      try {
        hasMore = await store.past.moveSome(new Date(clock.now() - hotMs));
        if (!hasMore) {
          await dropTheOld();
          await store.erasures.sweep(new Date(clock.now() - sweptMs));
        }
      } catch (error) {
        log.warn({ error }, 'what is past could not be moved aside; trying again');
      }
      await rests.rest(hasMore ? lookEveryMs : tidyEveryMs);
    }
  }

  async function dropTheOld(): Promise<void> {
    const { keepMonths } = await store.house.settings();
    if (keepMonths === null) return;
    const before = new Date(clock.now());
    before.setUTCMonth(before.getUTCMonth() - keepMonths, 1);
    const gone = await store.past.dropBefore(before);
    if (gone) log.info({ gone, before }, 'months of what went out were dropped, as Settings say');
  }

  async function sweep(): Promise<void> {
    sweptAt = performance.now();
    const reclaimed = await store.leases.reclaim(leaseSeconds * graceShare, clock.now());
    if (reclaimed) log.warn({ reclaimed }, 'took over deliveries of a worker that is gone');
    await store.subscribers.endPauses(new Date(clock.now()));
    const late = await store.firings.markMissed(clock.now());
    const forgotten = await store.firings.markForgotten(clock.now());
    for (const id of await store.events.idsToPlan(clock.now() + keepPlannedMs)) await planOnOne(id);
    const closed = await store.firings.closeFinished(await store.firings.leftOpen(), new Date(clock.now()));
    const topics = (await store.firings.eventsOf(closed)).map((id) => `event:${id}`);
    if (late + forgotten + closed.length) await store.live.touch('board', ...topics);
    if (performance.now() - tidiedAt > tidyEveryMs) await tidy();
  }
}
