import type { EpochMs } from '../time/zone';

/** States that are stored; `standby` is one that only shows, because time alone brings it about. */
export type StoredFiringState = 'draft' | 'set' | 'sending' | 'done' | 'failed' | 'stopped' | 'missed';
export type FiringState = StoredFiringState | 'standby';

/** Common practice: an automatic message announces itself ten minutes ahead and can be stopped until it goes. A house may choose another length. */
export const standbyMs = 10 * 60_000;

/** How late a firing may still go when the system was down at its moment: a reminder an hour old misleads. */
export const graceMs = 60 * 60_000;

/** The state people see. */
export function visibleState(
  stored: StoredFiringState,
  dueMs: EpochMs,
  nowMs: EpochMs,
  standby = standbyMs,
): FiringState {
  return stored === 'set' && nowMs >= dueMs - standby ? 'standby' : stored;
}

/**
 * What becomes of a cue's firing when the cue or the event is saved: a moment that is still far enough ahead is set
 * (or stays a draft); one that is past or closer than standby is missed, and only a person may send it then.
 */
export function planFiring(dueMs: EpochMs, nowMs: EpochMs, isDraft: boolean, standby = standbyMs): StoredFiringState {
  if (dueMs < nowMs + standby) return 'missed';
  return isDraft ? 'draft' : 'set';
}
