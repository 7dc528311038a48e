import type { Logger } from 'pino';
import type { Channel } from '@convite/core';
import type { EmailMessage, Refusal, TextMessage } from '../mail/message';
import type { Context } from '../services/context';
import type { Content } from '../store/content';
import type { ClaimedDelivery, Outcome } from '../store/deliveries';
import type { PreparedFiring } from './composers';
import type { Lease } from './lease';
import { outcomeOf } from './retry';

/**
 * One channel's way out: claims due deliveries, keeps a fixed number of sends under way, and writes down what became
 * of them a few at a time. What a crash repeats is at most what was under way and not yet written down.
 */
export interface Lane {
  stop(): Promise<void>;
}

export interface LaneOptions {
  readonly channel: Channel;
  /** Sends under way at once. */
  readonly concurrency: number;
  readonly send: (message: EmailMessage | TextMessage) => Promise<Refusal | null>;
  readonly context: Context;
  readonly lease: Lease;
  readonly composerOf: (firingId: number) => Promise<PreparedFiring>;
  readonly log: Logger;
}

const claimSize = 200;
/** Outcomes written in one go; with `concurrency` this bounds what a crash repeats. */
const recordSize = 40;
/** What is done is written down after this time, however little it is. */
const recordEveryMs = 200;
const idleMs = 250;
const pauseMs = 3000;
/** How often the screens are told and finished firings closed, while a lane is busy. */
const tellEveryMs = 500;

interface Waiting {
  readonly claimed: ClaimedDelivery;
  readonly topics: readonly string[];
}
interface Done {
  readonly claimed: ClaimedDelivery;
  readonly outcome: Outcome;
  readonly isAddressFault: boolean;
}

export function openLane({ channel, concurrency, send, context, lease, composerOf, log }: LaneOptions): Lane {
  const { store, clock } = context;
  const waiting: Waiting[] = [];
  const done: Done[] = [];
  const touched = new Set<number>();
  const stoppedFirings = new Set<number>();
  /** Everything claimed and not yet written down. */
  const held = new Set<number>();
  let mayHoldStrays = false;
  let isStopping = false;
  let pausedUntil = 0;
  let refilling: Promise<void> | null = null;
  let recording: Promise<void> = Promise.resolve();
  let toldAt = 0;

  const runners = Array.from({ length: concurrency }, () => run());
  const recorder = recordRegularly();

  return {
    async stop() {
      isStopping = true;
      await Promise.all(runners);
      await recorder;
      await record();
      await tell();
    },
  };

  async function run(): Promise<void> {
    while (!isStopping) {
      if (performance.now() < pausedUntil) {
        await sleep(idleMs);
        continue;
      }
      if (waiting.length === 0) await refill();
      const next = waiting.shift();
      if (!next) await sleep(idleMs);
      else {
        if (waiting.length < claimSize / 2) void refill();
        await deliver(next);
      }
    }
  }

  /** One claim at a time, whoever asks. A database that is away is waited for. */
  function refill(): Promise<void> {
    refilling ??= claim()
      .catch((error: unknown) => {
        log.warn({ error }, 'cannot claim deliveries; trying again');
        return sleep(1000);
      })
      .finally(() => {
        refilling = null;
      });
    return refilling;
  }

  async function claim(): Promise<void> {
    if (!lease.isHeld() || isStopping || performance.now() < pausedUntil) return;
    await returnStrays();
    mayHoldStrays = true;
    const claimed = await store.deliveries.claim(lease.token, channel, clock.now(), claimSize);
    const topics = claimed.length
      ? await store.subscribers.topicsOf(claimed.map(({ person }) => person.id))
      : new Map<number, string[]>();
    for (const { id } of claimed) held.add(id);
    mayHoldStrays = false;
    waiting.push(...claimed.map((one) => ({ claimed: one, topics: topics.get(one.person.id) ?? [] })));
  }

  async function deliver({ claimed, topics }: Waiting): Promise<void> {
    const { id, attempts, person, firingId } = claimed;
    // A lease that ran out means that another worker may send this now. Ours may come alive again: nothing may stay
    // claimed under it that nobody here remembers.
    if (!lease.isHeld()) {
      finish(claimed, { id, kind: 'returned' });
      handBack();
      return;
    }
    if (stoppedFirings.has(firingId)) return finish(claimed, { id, kind: 'stopped' });
    try {
      const { compose } = await composerOf(firingId);
      const message = compose(person, id, topics);
      if (!message) return finish(claimed, { id, kind: 'skipped' });
      const refusal = await send(message);
      if (refusal?.kind === 'unreachable') pause(refusal.answer);
      finish(
        claimed,
        outcomeOf(id, refusal, attempts, clock.now()),
        refusal?.kind === 'permanent' && refusal.isAddress,
      );
    } catch (error) {
      // Our own fault, such as an event whose facts cannot be read: this person's message fails, the others go on.
      log.error({ error, delivery: id }, 'a message could not be composed');
      finish(claimed, outcomeOf(id, { kind: 'transient', answer: String(error) }, attempts, clock.now()));
    }
  }

  function finish(claimed: ClaimedDelivery, outcome: Outcome, isAddressFault = false): void {
    done.push({ claimed, outcome, isAddressFault });
    if (done.length >= recordSize) void record();
  }

  /** Nobody at the other end: hand everything back, and look again in a moment. */
  function pause(answer: string): void {
    if (performance.now() >= pausedUntil) log.warn({ channel, answer }, 'the other end cannot be reached; waiting');
    pausedUntil = performance.now() + pauseMs;
    handBack();
  }

  function handBack(): void {
    for (const { claimed } of waiting.splice(0)) finish(claimed, { id: claimed.id, kind: 'returned' });
  }

  /** A claim whose answer was lost on the way may have happened all the same. */
  async function returnStrays(): Promise<void> {
    if (mayHoldStrays) await store.deliveries.returnStrays(lease.token, channel, [...held]);
  }

  async function recordRegularly(): Promise<void> {
    while (!isStopping) {
      await sleep(recordEveryMs);
      if (done.length) await record();
      if (touched.size && performance.now() - toldAt > tellEveryMs) await tell();
    }
  }

  /** Writes down what is done, one batch after another; what cannot be written now stays for the next time. */
  function record(): Promise<void> {
    recording = recording.then(async () => {
      const batch = done.splice(0);
      if (batch.length === 0) return;
      try {
        await recordBatch(batch);
        for (const { claimed } of batch) {
          held.delete(claimed.id);
          // Only now: a firing that is looked at while its last message is not written down would stay open.
          touched.add(claimed.firingId);
        }
      } catch (error) {
        done.unshift(...batch);
        log.warn({ error }, 'cannot record deliveries; trying again');
        await sleep(500);
      }
    });
    return recording;
  }

  async function recordBatch(batch: readonly Done[]): Promise<void> {
    const now = new Date(clock.now());
    const held = await heldVersions(batch);
    await store.transact(async (tx) => {
      await tx.deliveries.record(
        lease.token,
        batch.map(({ outcome }) => outcome),
        now,
      );
      for (const { eventId, version, people } of held) await tx.invitees.markHolding(eventId, people, version, now);
      for (const { claimed, outcome, isAddressFault } of batch) {
        if (isAddressFault && outcome.kind === 'failed')
          await tx.subscribers.markBounced(claimed.person.id, outcome.answer, now);
      }
    });
  }

  /** Who now holds which version of which event, from the invitations and notices that were sent. */
  async function heldVersions(
    batch: readonly Done[],
  ): Promise<{ eventId: number; version: number; people: number[] }[]> {
    const held = new Map<number, { eventId: number; version: number; people: number[] }>();
    for (const { claimed, outcome } of batch) {
      if (outcome.kind !== 'sent') continue;
      const { firing } = await composerOf(claimed.firingId);
      const version = carriedVersion(firing.content);
      if (firing.eventId === null || version === null) continue;
      const entry = held.get(firing.id) ?? { eventId: firing.eventId, version, people: [] };
      entry.people.push(claimed.person.id);
      held.set(firing.id, entry);
    }
    return [...held.values()];
  }

  /** Closes finished firings, notices stopped ones, and tells the screens. */
  async function tell(): Promise<void> {
    const ids = [...touched];
    touched.clear();
    toldAt = performance.now();
    if (ids.length === 0) return;
    try {
      await store.firings.closeFinished(ids);
      for (const id of await store.firings.stoppedAmong(ids)) stoppedFirings.add(id);
      const firings = await Promise.all(ids.map(composerOf));
      const events = firings.flatMap(({ firing }) => (firing.eventId === null ? [] : [`event:${firing.eventId}`]));
      await store.live.touch('board', ...new Set(events));
    } catch (error) {
      for (const id of ids) touched.add(id);
      log.warn({ error }, 'cannot close firings; trying again');
    }
  }
}

/** The version whose whole entry a message carries; null for one that carries none, or that of a single date. */
function carriedVersion(content: Content | null): number | null {
  switch (content?.kind) {
    case 'invitation':
      return content.version;
    case 'notice':
      return content.isByDate ? null : content.version;
    case 'answer':
      return content.method === 'REQUEST' && content.occurrence === '' ? content.version : null;
    default:
      return null;
  }
}

const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
