import type { CueFiring } from '@convite/contract';
import { isMinuteSlot, isSlotOfPeople, readStepSlot } from '@convite/core';
import type { StoredFiring } from '../../store/firings';

/** A firing as the board shows it: of what goes by each person's clock the zone that is next, with those that follow it. */
export interface FoldedFiring {
  readonly firing: StoredFiring;
  /** The other zones of the same cue and slot, or its other minutes, that are in the same state. */
  readonly others: readonly StoredFiring[];
}

/** Of all zones together. */
export const getsOf = ({ firing, others }: FoldedFiring): number =>
  [firing, ...others].reduce((sum, { gets }) => sum + (gets ?? 0), 0);

/** How many zones follow, and until when; null for what is not by zones. */
export function otherZonesOf({ others }: FoldedFiring): { count: number; lastAt: string } | null {
  const last = others.at(-1);
  return last ? { count: others.length, lastAt: new Date(last.dueMs).toISOString() } : null;
}

/**
 * Leaves out what is no news, once it was counted: a zone in which nobody is to get it, but for one where that is so of all; and a
 * day of people's own dates, or of their steps, on which nobody has theirs. Where people have their own times, so is the common one, which
 * nobody has.
 */
export function withoutEmpty(firings: readonly StoredFiring[]): StoredFiring[] {
  const nameOf = ({ cueId, slot }: StoredFiring): string => `${cueId} ${slot}`;
  const isEmpty = ({ isExpanded, planned, gets }: StoredFiring): boolean => (isExpanded ? planned : (gets ?? 1)) === 0;
  const reached = new Set(firings.filter((one) => !isEmpty(one)).map(nameOf));
  const reachedBySlot = new Set(firings.flatMap((one) => (one.slot !== '' && !isEmpty(one) ? [one.cueId] : [])));
  const kept = new Set<string>();
  return firings.filter((one) => {
    if (isEmpty(one) && one.slot === '' && reachedBySlot.has(one.cueId)) return false;
    if (!isEmpty(one) || (one.zone === '' && !isSlotOfPeople(one.slot))) return true;
    const name = nameOf(one);
    if (isSlotOfPeople(one.slot) || reached.has(name) || kept.has(name)) return false;
    kept.add(name);
    return true;
  });
}

/** What was missed is sent zone by zone. */
const together: readonly StoredFiring['state'][] = ['draft', 'set', 'stopped'];

/** When those whom a firing is for took their step; null where it goes by none. */
export function stepOf({ slot }: StoredFiring): CueFiring['step'] {
  const known = readStepSlot(slot);
  if (!known) return null;
  const { step, day, minuteMs } = known;
  return { step, day, at: minuteMs === null ? null : new Date(minuteMs).toISOString() };
}

/** Puts the zones of one cue and slot that are still to fire together; so what answers a step by the minute, of one cue. @param firings in the order of their moments */
export function foldZones(firings: readonly StoredFiring[]): FoldedFiring[] {
  const folded = new Map<string, { firing: StoredFiring; others: StoredFiring[] }>();
  for (const firing of firings) {
    const { id, cueId, slot, zone, state, isExpanded } = firing;
    const isByMinute = isMinuteSlot(slot);
    const isAlone = (zone === '' && !isByMinute) || isExpanded || !together.includes(state);
    const key = isAlone ? String(id) : `${cueId} ${isByMinute ? '' : slot} ${state}`;
    const known = folded.get(key);
    if (known) known.others.push(firing);
    else folded.set(key, { firing, others: [] });
  }
  return [...folded.values()];
}
