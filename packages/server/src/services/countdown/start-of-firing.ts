import {
  countsDown,
  findOccurrence,
  instantsOf,
  occurrenceOfSlot,
  resolveWallTime,
  startOfKey,
  type EpochMs,
  type EventFacts,
  type Moment,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';

/** Start of the date, or of the own time, that a firing is for; null for the whole event, and for a date that is gone. */
export function startOfFiring(
  { version: { facts } }: StoredEvent,
  { slot }: { readonly slot: string },
): EpochMs | null {
  const key = occurrenceOfSlot(slot);
  if (!key) return null;
  const own = facts.isPersonal ? startOfKey(key) : null;
  return own ? resolveWallTime(own, facts.zone) : (findOccurrence(facts, key)?.startMs ?? null);
}

/** The start that a message of a firing must be before; null for one that may come whenever. */
export function startToBeBefore(event: StoredEvent, moment: Moment, firing: { readonly slot: string }): EpochMs | null {
  const { facts } = event.version;
  if (!countsDown(moment)) return null;
  return startOfFiring(event, firing) ?? oneStartOf(facts);
}

/** The one start that an event has; null for a series, and where each has their own. */
export const oneStartOf = (facts: EventFacts): EpochMs | null =>
  facts.series || facts.isPersonal ? null : instantsOf(facts).startMs;
