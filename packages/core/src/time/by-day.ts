import { addDays, wallTimeAt, type Day } from './wall-time';
import type { EpochMs } from './zone';

/** The day on which an instant falls, on the calendar of a zone. */
export const dayAt = (atMs: EpochMs, zone: string): Day => wallTimeAt(atMs, zone).slice(0, 10);

/** So many days on end from the one on which an instant falls, each once, whatever the clocks do. */
export const daysFrom = (atMs: EpochMs, zone: string, count: number): Day[] =>
  Array.from({ length: count }, (_, index) => addDays(dayAt(atMs, zone), index));

/** How much falls on each of these days; what falls on none of them is left out. */
export function sumByDay(
  days: readonly Day[],
  zone: string,
  parts: Iterable<{ readonly atMs: EpochMs; readonly value: number }>,
): { day: Day; value: number }[] {
  const sums = new Map(days.map((day) => [day, 0]));
  for (const { atMs, value } of parts) {
    const day = dayAt(atMs, zone);
    const sum = sums.get(day);
    if (sum !== undefined) sums.set(day, sum + value);
  }
  return days.map((day) => ({ day, value: sums.get(day) ?? 0 }));
}
