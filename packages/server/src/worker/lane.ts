import type { Logger } from 'pino';
import type { Channel } from '@convite/core';
import type { EmailMessage, Refusal, TextMessage } from '../mail/message';
import type { Context } from '../services/context';
import { isOutage } from '../store/database';
import type { AskedAgain } from '../store/ask-again';
import type { Outcome } from '../store/outcomes';
import type { Recipient } from '../store/subscribers';
import type { composerCache, KeptFiring } from './composers';
import type { Lease } from './lease';
import { openRecorder, type Done, type Waiting } from './recorder';
import { withOpenPicture } from '../services/sending/open-picture';
import { pictureCarrier } from '../services/sending/carry-pictures';
import { openRests } from './rests';
import { outcomeOf } from './retry';
import { heldBackWords, leftWords, whatIsAgainst, whyNotNow, wordsOf, type Against } from './why-not-now';

/**
 * One channel's way out: claims due deliveries, asks of each once more just before it goes, keeps a fixed number of sends
 * under way, and writes down what became of them a few at a time. What a crash repeats is at most what was under way and
 * not yet written down.
 */
export interface Lane {
  /** There may be something to send. */
  wake(): void;
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
const idleMs = 250;
const pauseMs = 3000;
/** So many different messages in a row find nobody: then nobody is there. One alone may be that message's own doing. */
const absentInARow = 3;

interface Ready extends Waiting {
  readonly asked: AskedAgain;
  readonly against: Against | null;
}
export function openLane(options: LaneOptions): Lane {
  const { channel, concurrency, send, context, lease, composerOf, report, log } = options;
  const { store, clock } = context;
  const recorder = openRecorder(context, log);
  const { held, finish, sizeFor } = recorder;
  const rests = openRests();
  const waiting: Waiting[] = [];
  const ready: Ready[] = [];
  /** People to whom something is on its way: what comes after it for them waits, so that two answers are read in their order. */
  const underWay = new Set<number>();
  const copied = new Set<number>();
  const carry = pictureCarrier(context);
  let mayHoldStrays = false;
  let isStopping = false;
  let pausedUntil = 0;
  let absent = 0;
  let filling: Promise<void> | null = null;

  const runners = Array.from({ length: concurrency }, () => run());

  return {
    wake: () => rests.wake(),
    async stop() {
      isStopping = true;
      rests.end();
      await Promise.all(runners);
      handBack();
      await recorder.stop();
    },
  };

  async function run(): Promise<void> {
    while (!isStopping) {
      // What could not be written down is not added to: who crashes now repeats no more than was under way.
      if (recorder.isBehind) {
        await recorder.catchUp();
        continue;
      }
      if (performance.now() < pausedUntil) {
        await rests.rest(idleMs);
        continue;
      }
      let next = takeReady();
      if (!next) {
        await fill();
        next = takeReady();
      }
      if (!next) await rests.rest(idleMs);
      else {
        if (ready.length < leastAsked) void fill();
        const { id } = next.claimed.person;
        underWay.add(id);
        await deliver(next).finally(() => underWay.delete(id));
      }
    }
  }

  function takeReady(): Ready | undefined {
    const at = ready.findIndex(({ claimed }) => !underWay.has(claimed.person.id));
    return at < 0 ? undefined : ready.splice(at, 1)[0];
  }

  /** One filling at a time, whoever asks. A database that is away is waited for. */
  function fill(): Promise<void> {
    filling ??= askNext()
      .catch((error: unknown) => {
        log.warn({ error }, 'cannot claim deliveries; trying again');
        return rests.rest(1000);
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
      const { pressure } = await store.house.settings();
      const ids = some.map(({ claimed }) => claimed.id);
      const behind = waiting.map(({ claimed }) => claimed.id);
      const asked = await store.claims.askAgain(ids, pressure.perWeek, behind);
      const against = await whatIsAgainst(store, composerOf, channel, some, asked, pressure, clock.now());
      for (const one of some) {
        const now = asked.get(one.claimed.id);
        if (now?.lease === one.token) ready.push({ ...one, asked: now, against: against.get(one.claimed.id) ?? null });
        // Another worker holds it now: it is theirs to send and to write down.
        else held.delete(one.claimed.id);
      }
      // Nobody turned out to be at the other end meanwhile: what is asked about now would go as it stood then.
      if (performance.now() < pausedUntil) handBack();
    } catch (error) {
      waiting.unshift(...some);
      throw error;
    }
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

  async function deliver(ready: Ready): Promise<void> {
    let one = ready;
    const { claimed, asked, topics, token } = one;
    const { id, attempts, firingId } = claimed;
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
      const held = whyNotNow(prepared, one, channel, clock.now());
      if (held) return end({ id, kind: 'skipped', answer: heldBackWords[held] });
      const { left = null, waitsUntilMs = null } = one.against ?? {};
      if (left) return end({ id, kind: 'skipped', answer: leftWords[left] });
      if (waitsUntilMs !== null) return end({ id, kind: 'returned', nextMs: waitsUntilMs });
      const person = await withTheirs(prepared, claimed.person);
      one = { ...one, claimed: { ...claimed, person } };
      const written = prepared.compose(person, id, topics);
      const { house } = prepared.forAll;
      message =
        written?.kind === 'email'
          ? withOpenPicture(context, await carry(written, house.look), house, person, id)
          : written;
    } catch (error) {
      if (isOutage(error)) return end({ id, kind: 'returned', nextMs: null });
      // Our own fault, such as an event whose facts cannot be read: this message fails, and is told; the others go on.
      log.error({ error, delivery: id, firing: firingId }, 'a message could not be composed');
      return end({ id, kind: 'failed', answer: `It could not be composed: ${wordsOf(error)}` });
    }
    if (!message) return end({ id, kind: 'skipped', answer: 'There was nothing in it for this person.' });
    const refusal = await send(message);
    notice(refusal);
    if (refusal === null && message.kind === 'email') void copyFirst(prepared, message);
    const outcome = outcomeOf(id, refusal, attempts, clock.now());
    end(outcome, {
      about: refusal?.kind === 'permanent' ? refusal.about : null,
      carried: refusal === null ? prepared.carried : null,
      toAllId: prepared.toAllId,
    });
  }

  /** Whoever a sender names gets the first message of each sending, as it went. Nobody waits for it. */
  async function copyFirst({ firing, forAll }: KeptFiring, message: EmailMessage): Promise<void> {
    const { copyTo } = forAll.house;
    if (!copyTo || copied.has(firing.id)) return;
    copied.add(firing.id);
    try {
      if (!(await store.senders.takeCopy(firing.id, new Date(clock.now())))) return;
      const { address } = message.from;
      const to = { name: '', address: copyTo };
      // Its way out would be the reader's own, and a bounce of it would be taken for theirs.
      await send({
        ...message,
        to,
        envelopeFrom: context.links.bounceAddress(0),
        messageId: `<copy-${firing.id}@${address.split('@')[1]}>`,
        optOut: null,
      });
    } catch (error) {
      log.warn({ error, firing: firing.id }, 'the copy of a sending did not leave');
    }
  }

  /** The person with what they are down for, where the message says it, and with their invitation, where it stands in its thread. */
  async function withTheirs({ saysPlaces, inThread, event }: KeptFiring, person: Recipient): Promise<Recipient> {
    if (!event) return person;
    const invitedBy = inThread ? await store.deliveries.invitationTo(event.id, person.id) : null;
    return {
      ...person,
      ...(saysPlaces && { places: await store.registrations.placesOf(event.id, person.id) }),
      ...(invitedBy !== null && { invitedBy }),
    };
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

  function handBack(): void {
    for (const one of [...ready.splice(0), ...waiting.splice(0)])
      finish({ ...one, outcome: { id: one.claimed.id, kind: 'returned', nextMs: null }, ...nothing });
  }

  /** A claim whose answer was lost on the way may have happened all the same. */
  async function returnStrays(token: string): Promise<void> {
    if (mayHoldStrays) await store.claims.returnStrays(token, channel, [...held], clock.now());
  }
}

/** Of what did not leave there is nothing more to write down. */
const nothing = { about: null, carried: null, toAllId: null };
