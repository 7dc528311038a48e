import { addDays, resolveWallTime, wallTimeAt } from './wall-time';
import { transitionsBetween, type EpochMs } from './zone';

/** Clock times between which nobody is disturbed, such as `22:00` and `08:00`; over midnight where the end is the earlier. */
export interface QuietSpan {
  readonly from: string;
  readonly until: string;
}

/**
 * When the quiet ends that an instant falls into: the first minute after it at which a clock in the zone shows none of these
 * times, also where that clock is put on or back meanwhile.
 * @returns null where the instant is not in it
 */
export function quietEndsMs(span: QuietSpan, zone: string, atMs: EpochMs): EpochMs | null {
  const clock = wallTimeAt(atMs, zone).slice('2026-11-27T'.length);
  if (!isWithin(clock, span)) return null;
  const minuteMs = atMs - (atMs % 60_000);
  const endMs = minuteMs + ((minutesOf(span.until) - minutesOf(clock) + dayMinutes) % dayMinutes) * 60_000;
  const [change] = transitionsBetween(zone, atMs, endMs);
  return change ? (quietEndsMs(span, zone, change.atMs) ?? change.atMs) : endMs;
}

/** When the quiet began that an instant falls into; of no meaning for another. */
export function quietBeginsMs({ from }: QuietSpan, zone: string, atMs: EpochMs): EpochMs {
  const wall = wallTimeAt(atMs, zone);
  const day = wall.slice(0, 10);
  return resolveWallTime(`${wall.slice(11) >= from ? day : addDays(day, -1)}T${from}`, zone);
}

const isWithin = (clock: string, { from, until }: QuietSpan): boolean =>
  from <= until ? clock >= from && clock < until : clock >= from || clock < until;

const dayMinutes = 24 * 60;
const minutesOf = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3, 5));
