import type { EventVersion } from '../event/event';
import { findOccurrence } from '../event/occurrences';
import type { Channel } from '../audience/audience';
import type { EpochMs } from '../time/zone';

/** What a message is part of. */
export type MessageKind = 'cue' | 'digest' | 'invitation' | 'notice' | 'answer' | 'manual';

/** One message that is about to be handed over, as everything stands now. */
export interface AboutToGo {
  readonly kind: MessageKind;
  readonly channel: Channel;
  /** Its version may have left already in an attempt that was cut off: a repeat says the same again. */
  readonly mayHaveLeft: boolean;
  readonly person: {
    readonly isErased: boolean;
    /** Was found to be somebody else, who is written to in their place. */
    readonly isAbsorbed: boolean;
    /** Made up to try things out: nobody is there. */
    readonly isInvented: boolean;
    readonly optedOut: boolean;
    readonly bounced: boolean;
    readonly textConsent: boolean;
    /** Newest version that they hold; null when none. */
    readonly holdsVersion: number | null;
  };
  /** The event it is about, newest version; null for a digest. */
  readonly event: { readonly isAlive: boolean; readonly version: EventVersion } | null;
  /** Key of the date it is about; empty for the whole. */
  readonly occurrence: string;
  /** Counts down to the start: worthless once that is past. */
  readonly countsDown: boolean;
  /** Start of its date when it was written down; null where it is about none. */
  readonly plannedStartMs: EpochMs | null;
  /** Answers what the person wrote to us. */
  readonly answersWriter: boolean;
  /** A notice of one date that is off, which stands whatever else has changed. */
  readonly isOfGoneDate: boolean;
  /**
   * Of an answer, what it says has ended: the event, which was called off as it was written, or one person's part in it. It goes
   * although the event does not take place, since nothing else says so to whoever gets it.
   */
  readonly ending: 'event' | 'part' | null;
}

/** Why a message does not go after all. */
export type HeldBack =
  | 'erased'
  | 'same-person'
  | 'invented'
  | 'opted-out'
  | 'bounced'
  | 'no-text-consent'
  | 'called-off'
  | 'date-gone'
  | 'taken-up'
  | 'moved'
  | 'over'
  | 'holds-it';

/**
 * Asks again at the last moment: what was right when it was written down may be wrong when it is sent.
 * Answers, invitations and notices are about an appointment, so an opt-out from marketing does not hold notices and
 * answers back (docs/decisions.md); nobody's bounced address is written to, and nobody is texted who said no, but in answer to
 * what they wrote to us: HELP, and that their STOP is heeded (common practice).
 * @returns the first reason against it, or null when it goes
 */
export function heldBack(message: AboutToGo, nowMs: EpochMs): HeldBack | null {
  const { kind, channel, person, event } = message;
  if (person.isErased) return 'erased';
  if (person.isAbsorbed) return 'same-person';
  if (person.isInvented) return 'invented';
  if (channel === 'email' && person.bounced) return 'bounced';
  if (channel === 'text' && !person.textConsent && !message.answersWriter) return 'no-text-consent';
  if (person.optedOut && kind !== 'notice' && kind !== 'answer') return 'opted-out';
  // Whoever may have read it already must not be left with half a story: the same once more, then what follows it.
  if (message.mayHaveLeft || !event) return null;
  if (kind === 'notice') {
    const isOfEnd = event.version.calledOff && (person.holdsVersion ?? 0) < event.version.number;
    if (!message.isOfGoneDate && (person.holdsVersion ?? 0) >= event.version.number) return 'holds-it';
    return isOfEnd || !event.version.calledOff ? null : 'called-off';
  }
  const isOff = event.version.calledOff || !event.isAlive;
  if (message.ending === 'part') return null;
  if (message.ending === 'event') return isOff ? null : 'taken-up';
  if (isOff) return 'called-off';
  return kind === 'cue' ? dateAgainst(message, event.version, nowMs) : null;
}

/** The date of a cue: gone, called off, moved, or begun before the message that counts down to it could go. */
function dateAgainst(message: AboutToGo, { facts }: EventVersion, nowMs: EpochMs): HeldBack | null {
  const { occurrence, countsDown, plannedStartMs } = message;
  // Own times are named by their start; the people who have them are asked by the audience.
  if (facts.isPersonal || (facts.series && !occurrence)) return null;
  const date = findOccurrence(facts, occurrence);
  if (!date || date.calledOff) return 'date-gone';
  if (plannedStartMs !== null && date.startMs !== plannedStartMs) return 'moved';
  return countsDown && date.startMs <= nowMs ? 'over' : null;
}
