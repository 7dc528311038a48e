import type { Logger } from 'pino';
import { heldBack, occurrenceOfSlot, type Channel, type HeldBack, type Reason } from '@convite/core';
import type { EmailMessage, Refusal, RefusalAbout, TextMessage } from '../mail/message';
import type { PreparedFiring } from '../services/sending/compose-firing';
import type { Context } from '../services/context';
import { noteRefusal } from '../services/sending/note-refusal';
import { isOutage } from '../store/database';
import type { AskedAgain, ClaimedDelivery, Outcome } from '../store/claims';
import type { composerCache, KeptFiring } from './composers';
import type { Lease } from './lease';
import { recordOutcomes } from './record-outcomes';
import { outcomeOf } from './retry';

/**
 * One channel's way out: claims due deliveries, asks of each once more just before it goes, keeps a fixed number of sends
 * under way, and writes down what became of them a few at a time. What a crash repeats is at most what was under way and
 * not yet written down.
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
  readonly composerOf: ReturnType<typeof composerCache>;
  /** Told whether the other end is there. */
  readonly report: (isOk: boolean, text: string) => void;
  readonly log: Logger;
}

/** The most claimed at once; fewer when sending is slow, so that what is urgent does not wait behind what is claimed already. */
const mostClaimed = 200;
const leastClaimed = 48;
/** So long, about, what is claimed takes to send. */
const claimForMs = 500;
/** Asked again together, right before they go: the last moment is about so long, and these few messages wide. */
const askForMs = 150;
const mostAsked = 64;
const leastAsked = 12;
/** Outcomes written in one go; with `concurrency` this bounds what a crash repeats. */
const recordSize = 40;
/** What is done is written down after this time, however little it is. */
const recordEveryMs = 200;
const idleMs = 250;
const pauseMs = 3000;
/** So many different messages in a row find nobody: then nobody is there. One alone may be that message's own doing. */
const absentInARow = 3;
/** How often finished firings are looked for, while a lane is busy. */
const closeEveryMs = 500;
/** The screens hear of a firing under way no more often than this; that one is done they hear at once. */
const tellEveryMs = 2000;

interface Waiting {
  readonly claimed: ClaimedDelivery;
  readonly topics: readonly string[];
  /** The lease it was claimed under. */
  readonly token: string;
}
interface Ready extends Waiting {
  readonly asked: AskedAgain;
  /** Why they would not get it if it were expanded now. */
  readonly left: Reason | null;
}
export interface Done extends Waiting {
  readonly outcome: Outcome;
  readonly about: RefusalAbout | null;
  /** The version of the event whose whole entry the message carried; null when it carried none. */
  readonly carried: { readonly eventId: number; readonly version: number } | null;
  /** Where what all share is kept that it was made from; null when nothing left. */
  readonly toAllId: number | null;
}

export function openLane(options: LaneOptions): Lane {
  const { channel, concurrency, send, context, lease, composerOf, report, log } = options;
  const { store, clock } = context;
  const waiting: Waiting[] = [];
  const ready: Ready[] = [];
  const done: Done[] = [];
  const touched = new Set<number>();
  /** Everything claimed and not yet written down. */
  const held = new Set<number>();
  /** What was done last could not be written down yet. */
  let cannotRecord = false;
  let mayHoldStrays = false;
  let isStopping = false;
  let pausedUntil = 0;
  let absent = 0;
  let filling: Promise<void> | null = null;
  let recording: Promise<void> = Promise.resolve();
  let closedAt = 0;
  let toldAt = 0;
  const untold = new Set<number>();
  /** When the last few messages were done with, by the process's own clock. */
  const doneAt: number[] = [];

  const runners = Array.from({ length: concurrency }, () => run());
  const recorder = recordRegularly();

  return {
    async stop() {
      isStopping = true;
      await Promise.all(runners);
      handBack();
      await recorder;
      await record();
      await tell();
    },
  };

  async function run(): Promise<void> {
    while (!isStopping) {
      // What could not be written down is not added to: who crashes now repeats no more than was under way.
      if (performance.now() < pausedUntil || cannotRecord) {
        await sleep(idleMs);
        continue;
      }
      if (ready.length === 0) await fill();
      const next = ready.shift();
      if (!next) await sleep(idleMs);
      else {
        if (ready.length < leastAsked) void fill();
        await deliver(next);
      }
    }
  }

  /** One filling at a time, whoever asks. A database that is away is waited for. */
  function fill(): Promise<void> {
    filling ??= askNext()
      .catch((error: unknown) => {
        log.warn({ error }, 'cannot claim deliveries; trying again');
        return sleep(1000);
      })
      .finally(() => {
        filling = null;
      });
    return filling;
  }

  /** Asks once more of the next few: still ours, still to be reached, and which version of the event holds now. */
  async function askNext(): Promise<void> {
    const size = sizeFor(askForMs, leastAsked, mostAsked);
    if (waiting.length < size) await claim();
    const some = waiting.splice(0, size);
    if (some.length === 0) return;
    try {
      const asked = await store.claims.askAgain(some.map(({ claimed }) => claimed.id));
      const left = await judgeAgain(some, asked);
      for (const one of some) {
        const now = asked.get(one.claimed.id);
        if (now?.lease === one.token) ready.push({ ...one, asked: now, left: left.get(one.claimed.id) ?? null });
        // Another worker holds it now: it is theirs to send and to write down.
        else held.delete(one.claimed.id);
      }
    } catch (error) {
      waiting.unshift(...some);
      throw error;
    }
  }

  /** Who is not, or no more, among those that a cue or a digest is for. What may have left already is said again. */
  async function judgeAgain(
    some: readonly Waiting[],
    asked: ReadonlyMap<number, AskedAgain>,
  ): Promise<Map<number, Reason>> {
    const left = new Map<number, Reason>();
    for (const firingId of new Set(some.map(({ claimed }) => claimed.firingId))) {
      const mine = some.filter(({ claimed }) => claimed.firingId === firingId && !asked.get(claimed.id)?.mayHaveLeft);
      const version = mine[0] ? (asked.get(mine[0].claimed.id)?.eventVersion ?? null) : null;
      // One that cannot be prepared fails as it is delivered, with the reason.
      const prepared = mine.length ? await composerOf(firingId, version, false).catch(() => null) : null;
      if (!prepared?.who) continue;
      const reasons = await store.audiences.whyNot(
        prepared.who,
        channel,
        mine.map(({ claimed }) => claimed.person.id),
      );
      for (const { claimed } of mine) {
        const reason = reasons.get(claimed.person.id);
        if (reason) left.set(claimed.id, reason);
      }
    }
    return left;
  }

  async function claim(): Promise<void> {
    const { token } = lease;
    if (!lease.isHeld(token) || isStopping || performance.now() < pausedUntil) return;
    if ((await store.troubles.pauses()).some((pause) => pause.channel === channel)) return;
    await returnStrays(token);
    mayHoldStrays = true;
    const { pace } = await store.house.settings();
    const claimed = await store.claims.claim(
      token,
      channel,
      clock.now(),
      sizeFor(claimForMs, leastClaimed, mostClaimed),
      pace[channel],
    );
    const topics = claimed.length
      ? await store.subscribers.topicsOf(claimed.map(({ person }) => person.id))
      : new Map<number, string[]>();
    for (const { id } of claimed) held.add(id);
    mayHoldStrays = false;
    waiting.push(...claimed.map((one) => ({ claimed: one, topics: topics.get(one.person.id) ?? [], token })));
  }

  async function deliver(one: Ready): Promise<void> {
    const { claimed, asked, topics, token } = one;
    const { id, attempts, person, firingId } = claimed;
    const end = (outcome: Outcome, more: Partial<Pick<Done, 'about' | 'carried' | 'toAllId'>> = {}): void =>
      finish({ ...one, outcome, ...nothing, ...more });
    // A lease that ran out means that another worker may send this now. Ours may come alive again: nothing may stay
    // claimed under it that nobody here remembers.
    if (!lease.isHeld(token)) {
      end({ id, kind: 'returned', nextMs: null });
      handBack();
      return;
    }
    if (asked.firingState === 'stopped') return end({ id, kind: 'stopped' });
    let prepared: KeptFiring;
    let message: EmailMessage | TextMessage | null;
    try {
      const version = asked.mayHaveLeft ? asked.saidVersion : asked.eventVersion;
      prepared = await composerOf(firingId, version, asked.mayHaveLeft);
      const against = whyNotNow(prepared, one, channel, clock.now());
      if (against) return end({ id, kind: 'skipped', answer: heldBackWords[against] });
      if (one.left) return end({ id, kind: 'skipped', answer: leftWords[one.left] });
      message = prepared.compose(person, id, topics);
    } catch (error) {
      if (isOutage(error)) return end({ id, kind: 'returned', nextMs: null });
      // Our own fault, such as an event whose facts cannot be read: this message fails, and is told; the others go on.
      log.error({ error, delivery: id, firing: firingId }, 'a message could not be composed');
      return end({ id, kind: 'failed', answer: `It could not be composed: ${wordsOf(error)}` });
    }
    if (!message) return end({ id, kind: 'skipped', answer: 'There was nothing in it for this person.' });
    const refusal = await send(message);
    notice(refusal);
    const outcome = outcomeOf(id, refusal, attempts, clock.now());
    end(outcome, {
      about: refusal?.kind === 'permanent' ? refusal.about : null,
      carried: refusal === null ? prepared.carried : null,
      toAllId: prepared.toAllId,
    });
  }

  /** Whether anybody is at the other end; an answer of any kind says that somebody is. */
  function notice(refusal: Refusal | null): void {
    if (refusal?.kind !== 'unreachable') {
      if (absent > 0) report(true, '');
      absent = 0;
      return;
    }
    absent += 1;
    if (absent < absentInARow) return;
    report(false, refusal.answer);
    if (performance.now() >= pausedUntil)
      log.warn({ channel, answer: refusal.answer }, 'the other end cannot be reached; waiting');
    pausedUntil = performance.now() + pauseMs;
    handBack();
  }

  /** As many as leave within a time, at the speed of late. */
  function sizeFor(withinMs: number, least: number, most: number): number {
    const [first, last] = [doneAt[0], doneAt.at(-1)];
    if (first === undefined || last === undefined || doneAt.length < leastClaimed) return least;
    const size = Math.ceil((doneAt.length / Math.max(1, last - first)) * withinMs);
    return Math.min(most, Math.max(least, size));
  }

  function finish(one: Done): void {
    doneAt.push(performance.now());
    if (doneAt.length > mostClaimed) doneAt.shift();
    done.push(one);
    if (done.length >= recordSize) void record();
  }

  function handBack(): void {
    for (const one of [...ready.splice(0), ...waiting.splice(0)])
      finish({ ...one, outcome: { id: one.claimed.id, kind: 'returned', nextMs: null }, ...nothing });
  }

  /** A claim whose answer was lost on the way may have happened all the same. */
  async function returnStrays(token: string): Promise<void> {
    if (mayHoldStrays) await store.claims.returnStrays(token, channel, [...held], clock.now());
  }

  async function recordRegularly(): Promise<void> {
    while (!isStopping) {
      await sleep(recordEveryMs);
      if (done.length) await record();
      if (touched.size + untold.size > 0 && performance.now() - closedAt > closeEveryMs) await tell();
    }
  }

  /** Writes down what is done, one batch after another; what cannot be written now stays for the next time. */
  function record(): Promise<void> {
    recording = recording.then(async () => {
      const batch = done.splice(0);
      if (batch.length === 0) return;
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
      }
      for (const { claimed, outcome, about } of batch) {
        if (about === null || outcome.kind !== 'failed') continue;
        await noteRefusal(context, claimed.person.id, about, outcome.answer).catch((error: unknown) =>
          log.error({ error, delivery: claimed.id }, 'a refusal could not be noted'),
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
      const closed = await store.firings.closeFinished(ids);
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

/** Of what did not leave there is nothing more to write down. */
const nothing = { about: null, carried: null, toAllId: null };

/** What core says of one message as everything stands now. */
function whyNotNow(
  { firing, event, cue }: PreparedFiring,
  { asked, claimed }: Ready,
  channel: Channel,
  nowMs: number,
): HeldBack | null {
  const { content, kind } = firing;
  return heldBack(
    {
      kind,
      channel,
      mayHaveLeft: asked.mayHaveLeft,
      person: { ...asked.person, holdsVersion: asked.holdsVersion },
      event: event && { isAlive: event.status === 'published', version: event.version },
      occurrence: content && 'occurrence' in content ? content.occurrence : occurrenceOfSlot(claimed.slot),
      countsDown: cue?.countsDown ?? false,
      plannedStartMs: cue?.startMs ?? null,
      isOfGoneDate: content?.kind === 'notice' && content.isByDate,
    },
    nowMs,
  );
}

/** Why somebody was passed over at the last moment, as the marketer reads it. */
export const heldBackWords: Readonly<Record<HeldBack, string>> = {
  erased: 'The person was erased before it went.',
  'opted-out': 'Opted out before it went.',
  bounced: 'The address bounced before it went.',
  'no-text-consent': 'Texts were refused before it went.',
  'called-off': 'The event was called off before it went.',
  'date-gone': 'Its date was called off before it went.',
  moved: 'Its date was moved before it went.',
  over: 'Its date had begun before it could go.',
  'holds-it': 'They hold the newest version already.',
};

/** The same for who is not in its audience any more. */
const leftWords: Readonly<Record<Reason, string>> = {
  'already-invited': 'Was invited before it went.',
  'had-it': 'Had it with the people of another zone.',
  'not-chosen': 'Was taken off its audience before it went.',
  'left-out': 'Was left out of its audience before it went.',
  answered: 'Answered before it went.',
  'other-topics': 'Chose other topics before it went.',
  'opted-out': heldBackWords['opted-out'],
  'no-email': 'Has no address any more.',
  bounced: heldBackWords.bounced,
  'no-mobile': 'Has no mobile number any more.',
  'no-text-consent': heldBackWords['no-text-consent'],
};

const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error)).slice(0, 400);

const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
