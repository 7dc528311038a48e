import type { EpochMs } from '../time/zone';
import type { Lane } from '../audience/audience';
import { planFiring, standbyMs, type StoredFiringState } from './firing';

/** Why a firing does not go, or did not. What that is called, and who did it, is said elsewhere. */
export const heldCodes = [
  'by-person',
  'event-held',
  'event-off',
  'date-off',
  'passed',
  'no-worker',
  'still-draft',
] as const;
export type HeldCode = (typeof heldCodes)[number];

/** What a firing is of: one cue, for one slot and one zone group. There is never a second one of that name. */
export interface FiringName {
  readonly cueId: number;
  /** A date of the series, a person's own time; empty for the whole event. */
  readonly slot: string;
  /** The zone of the people it is for, where the cue goes by each person's clock; else empty. */
  readonly zone: string;
}

/** A firing that there should be. */
export interface WantedFiring extends FiringName {
  readonly dueMs: EpochMs;
  readonly channel: Lane;
  readonly isDraft: boolean;
  /** What it counts down to does not take place, or somebody holds all of the event. */
  readonly off: 'event-off' | 'date-off' | 'event-held' | null;
  /** Its date has begun: one that is planned only now was never to be. */
  readonly hasBegun: boolean;
}

/** A firing that there is. */
export interface KnownFiring extends FiringName {
  readonly id: number;
  readonly dueMs: EpochMs;
  readonly channel: Lane;
  readonly state: StoredFiringState;
  readonly held: HeldCode | null;
  readonly isExpanded: boolean;
}

export interface PlannedFiring extends FiringName {
  readonly dueMs: EpochMs;
  readonly channel: Lane;
  readonly state: StoredFiringState;
  readonly held: HeldCode | null;
}

/** What brings the firings there are in line with those wanted. */
export interface PlanChanges {
  readonly create: readonly PlannedFiring[];
  /** Moved, stopped, or set again. */
  readonly change: readonly { readonly id: number; readonly to: PlannedFiring }[];
  readonly remove: readonly number[];
}

/**
 * Compares the firings of some cues that there should be with those there are. What has fired is history; what a person
 * stopped stays stopped, and moves along; what is as it should be is left alone, so that planning twice changes nothing.
 */
export function planChanges(
  wanted: readonly WantedFiring[],
  known: readonly KnownFiring[],
  nowMs: EpochMs,
  standby = standbyMs,
): PlanChanges {
  const byName = new Map(known.map((firing) => [nameOf(firing), firing]));
  const create: PlannedFiring[] = [];
  const change: { id: number; to: PlannedFiring }[] = [];
  for (const want of wanted) {
    const firing = byName.get(nameOf(want));
    byName.delete(nameOf(want));
    const to = planOne(want, firing, nowMs, standby);
    if (!to) continue;
    if (!firing) create.push(to);
    else if (differs(to, firing)) change.push({ id: firing.id, to });
  }
  const gone = [...byName.values()].filter(
    ({ state, dueMs, isExpanded }) => removable.includes(state) && !isExpanded && dueMs > nowMs,
  );
  return { create, change, remove: gone.map(({ id }) => id) };
}

const removable: readonly StoredFiringState[] = ['draft', 'set', 'missed'];
const unfired: readonly StoredFiringState[] = ['draft', 'set', 'missed', 'stopped'];

const nameOf = ({ cueId, slot, zone }: FiringName): string => `${cueId} ${slot} ${zone}`;

const differs = (to: PlannedFiring, firing: KnownFiring): boolean =>
  to.dueMs !== firing.dueMs || to.state !== firing.state || to.channel !== firing.channel || to.held !== firing.held;

/** What becomes of one; null for none, or for what is to be left as it is. */
function planOne(
  want: WantedFiring,
  firing: KnownFiring | undefined,
  nowMs: EpochMs,
  standby: number,
): PlannedFiring | null {
  const { cueId, slot, zone, dueMs, channel, isDraft, off, hasBegun } = want;
  if (firing && (firing.isExpanded || !unfired.includes(firing.state))) return null;
  const named = { cueId, slot, zone, channel };
  if (off === 'event-held' && !firing) {
    const isLate = planFiring(dueMs, nowMs, isDraft, standby) === 'missed';
    return isLate && hasBegun ? null : { ...named, dueMs, state: 'stopped', held: off };
  }
  if (off) {
    const isWaiting = firing?.state === 'draft' || firing?.state === 'set';
    return firing && isWaiting ? { ...named, dueMs: firing.dueMs, state: 'stopped', held: off } : null;
  }
  // What stood set for this very moment fires, however near it is: only a moment that moves can come too late.
  const planned =
    firing?.state === 'set' && firing.dueMs === dueMs && !isDraft ? 'set' : planFiring(dueMs, nowMs, isDraft, standby);
  if (!firing && planned === 'missed' && hasBegun) return null;
  // What a person stopped is theirs to set again. A date put back, and an event that is let go on, go on by themselves.
  if (firing?.state === 'stopped' && firing.held !== 'date-off' && firing.held !== 'event-held')
    return { ...named, dueMs, state: 'stopped', held: firing.held };
  // Missed for another reason than that it is late stays so, unless its moment lies ahead again.
  if (firing?.state === 'missed' && planned === 'missed')
    return { ...named, dueMs, state: 'missed', held: firing.held };
  return { ...named, dueMs, state: planned, held: planned === 'missed' ? 'passed' : null };
}
