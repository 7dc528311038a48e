import { isWallTime, resolveWallTime, wallTimeAt, type WallTime } from './wall-time';
import { transitionsBetween } from './zone';
import { isZone } from './zone-names';

/**
 * Does a clock in that zone never show this reading, because it was put forward over it? RFC 5545 §3.3.10 asks that
 * recurrences on such a reading be passed over.
 * @param localS seconds of local time since 1970-01-01T00:00 on that clock
 */
export function isSkipped(localS: number, zone: string): boolean {
  // The change lies within a day of the reading, whatever the offset.
  const nearMs = localS * 1000;
  return transitionsBetween(zone, nearMs - dayMs, nearMs + dayMs).some(({ atMs, fromMinutes, toMinutes }) => {
    const [fromS, toS] = [atMs / 1000 + fromMinutes * 60, atMs / 1000 + toMinutes * 60];
    return localS >= fromS && localS < toS;
  });
}

/** What is odd about a clock reading: it never comes, and what is meant then; or it comes twice. */
export type Oddity = { readonly kind: 'skipped'; readonly means: WallTime } | { readonly kind: 'twice' };

/** Null for an ordinary reading, and for one that is none. @example oddityOf('2026-03-29T01:30', 'Europe/Lisbon')?.means //=> '…T02:30' */
export function oddityOf(wall: WallTime, zone: string): Oddity | null {
  if (!isWallTime(wall) || !isZone(zone)) return null;
  const atMs = resolveWallTime(wall, zone);
  const means = wallTimeAt(atMs, zone);
  if (means !== wall) return { kind: 'skipped', means };
  const comesAgain = transitionsBetween(zone, atMs, atMs + dayMs).some(
    ({ fromMinutes, toMinutes }) =>
      toMinutes < fromMinutes && wallTimeAt(atMs + (fromMinutes - toMinutes) * 60_000, zone) === wall,
  );
  return comesAgain ? { kind: 'twice' } : null;
}

const dayMs = 86_400_000;
