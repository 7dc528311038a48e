import { addDays, resolveWallTime, wallTimeAt, weekdayOf } from '../time/wall-time';
import type { EpochMs } from '../time/zone';

/** When a digest goes: a weekday (1 is Monday) at a clock time in a zone. */
export interface Rhythm {
  readonly weekday: number;
  /** `13:00` */
  readonly at: string;
  readonly zone: string;
}

/** The next issues after an instant, in order. The clock time holds across a clock change. */
export function nextIssues({ weekday, at, zone }: Rhythm, afterMs: EpochMs, count: number): EpochMs[] {
  const today = wallTimeAt(afterMs, zone).slice(0, 10);
  let day = addDays(today, (weekday - weekdayOf(today) + 7) % 7);
  const issues: EpochMs[] = [];
  while (issues.length < count) {
    const dueMs = resolveWallTime(`${day}T${at}`, zone);
    if (dueMs > afterMs) issues.push(dueMs);
    day = addDays(day, 7);
  }
  return issues;
}
