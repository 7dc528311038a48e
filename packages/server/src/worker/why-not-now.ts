import {
  heldBack,
  limitOf,
  occurrenceOfSlot,
  type Channel,
  type EpochMs,
  type HeldBack,
  type HousePressure,
  type Reason,
} from '@convite/core';
import type { Context } from '../services/context';
import type { PreparedFiring } from '../services/sending/compose-firing';
import type { AskedAgain } from '../store/ask-again';
import type { ClaimedDelivery } from '../store/claims';
import type { composerCache } from './composers';

/** What else is in hand for somebody has left by then, or is given up. */
const crowdedMs = 1000;

/** What stands against a message right before it goes. */
export interface Against {
  /** Why they would not get it if it were expanded now. */
  readonly left: Reason | null;
  /** They are in quiet hours until then, or it must be seen first what else reaches them; null where they are not. */
  readonly waitsUntilMs: EpochMs | null;
}

/**
 * Who is not, or no more, among those that a cue or a digest is for, and whom it finds in quiet hours. What may have left already is
 * said again.
 * @param pressure how often the house writes just now: it may have changed since the firing was prepared
 */
export async function whatIsAgainst(
  store: Context['store'],
  composerOf: ReturnType<typeof composerCache>,
  channel: Channel,
  some: readonly { readonly claimed: ClaimedDelivery }[],
  asked: ReadonlyMap<number, AskedAgain>,
  pressure: HousePressure,
  nowMs: EpochMs,
): Promise<Map<number, Against>> {
  const against = new Map<number, Against>();
  for (const firingId of new Set(some.map(({ claimed }) => claimed.firingId))) {
    const mine = some.filter(({ claimed }) => claimed.firingId === firingId && !asked.get(claimed.id)?.mayHaveLeft);
    const version = mine[0] ? (asked.get(mine[0].claimed.id)?.eventVersion ?? null) : null;
    // One that cannot be prepared fails as it is delivered, with the reason.
    const prepared = mine.length ? await composerOf(firingId, version, false).catch(() => null) : null;
    if (!prepared) continue;
    const quiet = prepared.quietAt(
      nowMs,
      mine.map(({ claimed }) => claimed.person.zone),
    );
    const waits = new Map(quiet?.waits.map(({ zone, untilMs }) => [zone, untilMs]));
    for (const { claimed } of mine)
      against.set(claimed.id, { left: null, waitsUntilMs: waits.get(claimed.person.zone) ?? null });
    if (!prepared.who) continue;
    const { kind, dueMs } = prepared.firing;
    const limit = limitOf(pressure, { kind, firing: firingId, atMs: dueMs, event: prepared.who.about });
    const reasons = await store.audiences.whyNot(
      { ...prepared.who, limit, quiet },
      channel,
      mine.map(({ claimed }) => claimed.person.id),
    );
    for (const { claimed } of mine) {
      const reason = reasons.get(claimed.person.id);
      if (reason) against.set(claimed.id, { left: reason, waitsUntilMs: null });
      else if (asked.get(claimed.id)?.isCrowded) {
        const untilMs = Math.max(nowMs + crowdedMs, waits.get(claimed.person.zone) ?? 0);
        against.set(claimed.id, { left: null, waitsUntilMs: untilMs });
      }
    }
  }
  return against;
}

/** What core says of one message as everything stands now. */
export function whyNotNow(
  { firing, event, cue }: PreparedFiring,
  { asked, claimed }: { readonly asked: AskedAgain; readonly claimed: ClaimedDelivery },
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
      answersWriter: content?.kind === 'to-writer',
      isOfGoneDate: content?.kind === 'notice' && content.isByDate,
      ending: endingOf(content),
    },
    nowMs,
  );
}

const endingOf = (content: PreparedFiring['firing']['content']): 'event' | 'part' | null => {
  if (content?.kind !== 'answer') return null;
  if (content.isOff) return 'event';
  return content.method === 'CANCEL' ? 'part' : null;
};

/** Why somebody was passed over at the last moment, as the marketer reads it. */
export const heldBackWords: Readonly<Record<HeldBack, string>> = {
  erased: 'The person was erased before it went.',
  'same-person': 'Was found to be the same person as another before it went.',
  invented: 'Is invented, to try things out: nothing leaves for them.',
  'opted-out': 'Opted out before it went.',
  bounced: 'The address bounced before it went.',
  'no-text-consent': 'Texts were refused before it went.',
  'called-off': 'The event was called off before it went.',
  'taken-up': 'The event was taken up again before it went.',
  'date-gone': 'Its date was called off before it went.',
  moved: 'Its date was moved before it went.',
  over: 'Its date had begun before it could go.',
  'holds-it': 'They hold the newest version already.',
};

/** The same for who is not in its audience any more. */
export const leftWords: Readonly<Record<Reason, string>> = {
  'already-invited': 'Was invited before it went.',
  'had-it': 'Had it with the people of another zone.',
  'not-chosen': 'Was taken off its audience before it went.',
  'left-out': 'Was left out of its audience before it went.',
  answered: 'Answered before it went.',
  'other-topics': 'Chose other topics before it went.',
  'by-text': 'Can be texted by now, and gets a text in its place.',
  'no-own-time': 'Has no time of their own at the event.',
  'no-join-link': 'Is no guest any more, or the event has no join link: the message would lack it.',
  'opted-out': heldBackWords['opted-out'],
  paused: 'Asked for quiet before it went.',
  'no-consent': 'Nobody knows of a consent of theirs any more.',
  'no-email': 'Has no address any more.',
  bounced: heldBackWords.bounced,
  'no-mobile': 'Has no mobile number any more.',
  'no-text-consent': heldBackWords['no-text-consent'],
  'same-person': 'Is the same person as another who gets it, or shares their number.',
  'quiet-hours': 'Was in quiet hours until after the start.',
  'over-limit': 'Had as many messages within a week as they may get.',
};

export const wordsOf = (error: unknown): string =>
  (error instanceof Error ? error.message : String(error)).slice(0, 400);
