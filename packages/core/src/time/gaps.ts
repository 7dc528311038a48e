import { transitionsBetween } from './zone';

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

const dayMs = 86_400_000;
