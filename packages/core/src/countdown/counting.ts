import type { EpochMs } from '../time/zone';
import { standbyMs } from './firing';

const hourMs = 3_600_000;

/** An audience is counted anew so long before its firing: a day, an hour, and as standby begins. */
const countBeforeMs: readonly number[] = [24 * hourMs, hourMs, standbyMs];

/** When a firing's audience is next counted for the sake of time alone; null once the last of these moments is past. */
export function nextCountMs(dueMs: EpochMs, nowMs: EpochMs): EpochMs | null {
  return countBeforeMs.map((beforeMs) => dueMs - beforeMs).find((atMs) => atMs > nowMs) ?? null;
}

/**
 * How long a change may wait before the audience is counted for its sake: the larger the audience, the less a change tells
 * and the more a count costs. Two seconds for few, a quarter of an hour for a million.
 * @param people how many there were last time
 */
export const recountDelayMs = (people: number): number => 2000 + people;
