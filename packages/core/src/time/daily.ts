import { addDays, resolveWallTime, wallTimeAt } from './wall-time';
import type { EpochMs } from './zone';

/** When a clock time, such as `07:30`, comes next in a zone: later today, or tomorrow. */
export function nextDailyMs(clockTime: string, zone: string, nowMs: EpochMs): EpochMs {
  const today = wallTimeAt(nowMs, zone).slice(0, 10);
  const atMs = resolveWallTime(`${today}T${clockTime}`, zone);
  return atMs > nowMs ? atMs : resolveWallTime(`${addDays(today, 1)}T${clockTime}`, zone);
}
