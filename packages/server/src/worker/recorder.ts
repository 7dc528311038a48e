import type { Logger } from 'pino';
import type { RefusalAbout } from '../mail/message';
import type { Context } from '../services/context';
import { noteRefusal } from '../services/sending/note-refusal';
import type { ClaimedDelivery } from '../store/claims';
import type { Outcome } from '../store/outcomes';
import { recordOutcomes } from './record-outcomes';
import { openRests } from './rests';

/** Outcomes written in one go. */
const recordSize = 40;
/** While one lot is written down another fills; with the sends under way at once this bounds what a crash repeats, however slow the database is. */
const mostUnwritten = 2 * recordSize;
/** What is done is written down after this time, however little it is. */
const recordEveryMs = 200;
/** How often finished firings are looked for, while a lane is busy. */
const closeEveryMs = 500;
/** The screens hear of a firing under way no more often than this; that one is done they hear at once. */
const tellEveryMs = 2000;
/** The speed of late is that of so many messages. */
const mostTimed = 200;
const leastTimed = 48;

export interface Waiting {
  readonly claimed: ClaimedDelivery;
  readonly topics: readonly string[];
  /** The lease it was claimed under. */
  readonly token: string;
}
export interface Done extends Waiting {
  readonly outcome: Outcome;
  readonly about: RefusalAbout | null;
  /** The version of the event whose whole entry the message carried; null when it carried none. */
  readonly carried: { readonly eventId: number; readonly version: number } | null;
  /** Where what all share is kept that it was made from; null when nothing left. */
  readonly toAllId: number | null;
}

/** Writes down what became of a lane's messages, a few at a time, closes finished firings, and tells the screens. */
export interface Recorder {
  /** Everything claimed and not yet written down. */
  readonly held: Set<number>;
  /** What was done last is not written down yet: nothing more is to be done before it is. */
  readonly isBehind: boolean;
  /** Waits for it, for a moment at the most where it cannot be written. */
  catchUp(): Promise<void>;
  finish(one: Done): void;
  /** As many as leave within a time, at the speed of late. */
  sizeFor(withinMs: number, least: number, most: number): number;
  /** Writes down all that is left. */
  stop(): Promise<void>;
}

export function openRecorder(context: Context, log: Logger): Recorder {
  const { store, clock } = context;
  const done: Done[] = [];
  const held = new Set<number>();
  /** Firings of which a message was written down, and those that the screens have not heard of. */
  const touched = new Set<number>();
  const untold = new Set<number>();
  /** When the last few messages were done with, by the process's own clock. */
  const doneAt: number[] = [];
  let cannotRecord = false;
  /** So many are being written down. */
  let writing = 0;
  let isStopping = false;
  let recording: Promise<void> = Promise.resolve();
  let closedAt = 0;
  let toldAt = 0;
  const rests = openRests();
  const regularly = recordRegularly();

  return {
    held,
    get isBehind() {
      return cannotRecord || writing + done.length >= mostUnwritten;
    },
    catchUp: () => (cannotRecord ? rests.rest(recordEveryMs) : record()),
    finish(one) {
      doneAt.push(performance.now());
      if (doneAt.length > mostTimed) doneAt.shift();
      done.push(one);
      if (done.length >= recordSize) void record();
    },
    sizeFor(withinMs, least, most) {
      const [first, last] = [doneAt[0], doneAt.at(-1)];
      if (first === undefined || last === undefined || doneAt.length < leastTimed) return least;
      const size = Math.ceil((doneAt.length / Math.max(1, last - first)) * withinMs);
      return Math.min(most, Math.max(least, size));
    },
    async stop() {
      isStopping = true;
      rests.end();
      await regularly;
      await record();
      await tell();
    },
  };

  async function recordRegularly(): Promise<void> {
    while (!isStopping) {
      await rests.rest(recordEveryMs);
      if (done.length) await record();
      if (touched.size + untold.size > 0 && performance.now() - closedAt > closeEveryMs) await tell();
    }
  }

  /** Writes down what is done, one batch after another; what cannot be written now stays for the next time. */
  function record(): Promise<void> {
    recording = recording.then(async () => {
      const batch = done.splice(0);
      if (batch.length === 0) return;
      writing = batch.length;
      try {
        await recordOutcomes(store, batch, new Date(clock.now()));
        cannotRecord = false;
        for (const { claimed } of batch) {
          held.delete(claimed.id);
          // Only now: a firing that is looked at while its last message is not written down would stay open.
          touched.add(claimed.firingId);
        }
      } catch (error) {
        done.unshift(...batch);
        cannotRecord = true;
        log.warn({ error }, 'cannot record deliveries; trying again');
        await sleep(500);
        return;
      } finally {
        writing = 0;
      }
      for (const { claimed, outcome, about } of batch) {
        if (about === null || outcome.kind !== 'failed') continue;
        await noteRefusal(context, claimed.person.id, { about, text: outcome.answer, isFromRelay: true }).catch(
          (error: unknown) => log.error({ error, delivery: claimed.id }, 'a refusal could not be noted'),
        );
      }
    });
    return recording;
  }

  /** Closes finished firings, and tells the screens. */
  async function tell(): Promise<void> {
    const ids = [...touched];
    touched.clear();
    closedAt = performance.now();
    if (ids.length + untold.size === 0) return;
    try {
      const closed = await store.firings.closeFinished(ids, new Date(clock.now()));
      for (const id of ids) untold.add(id);
      if (closed.length === 0 && !isStopping && performance.now() - toldAt < tellEveryMs) return;
      const events = await store.firings.eventsOf([...untold]);
      await store.live.touch('board', ...events.map((id) => `event:${id}`));
      untold.clear();
      toldAt = performance.now();
    } catch (error) {
      for (const id of ids) touched.add(id);
      log.warn({ error }, 'cannot close firings; trying again');
    }
  }
}

const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
