import { sayDay, sayZone } from './say';
import { wallTimeAt } from './wall-time';
import { zoneNames } from './zone-names';
import { offsetMinutesAt, transitionsBetween, type EpochMs } from './zone';

const yearMs = 366 * 86_400_000;

/**
 * Zones by the words of their names, as one types a city or a region: those whose city begins so stand first.
 * @param most so many at most
 * @example findZones('los an', 5) //=> ['America/Los_Angeles']
 */
export function findZones(text: string, most: number): string[] {
  const wanted = plain(text);
  if (wanted === '') return [];
  const rank = (zone: string): number => {
    const city = plain(sayZone(zone));
    if (city.startsWith(wanted)) return 0;
    if (city.split(' ').some((word) => word.startsWith(wanted))) return 1;
    return plain(zone).includes(wanted) ? 2 : 3;
  };
  return zoneNames()
    .map((zone) => ({ zone, rank: rank(zone) }))
    .filter((one) => one.rank < 3)
    .sort((a, b) => a.rank - b.rank)
    .slice(0, most)
    .map(({ zone }) => zone);
}

/** Letters alone: typed without accents, slashes and underscores. */
const plain = (text: string): string =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[/_\s-]+/g, ' ')
    .trim();

/**
 * A zone's city, its offset now, and the next within a year.
 * @example sayZoneNow('Europe/Lisbon', ms) //=> 'Lisbon, now UTC+0, UTC+1 from Sun 28 Mar 2027'
 */
export function sayZoneNow(zone: string, nowMs: EpochMs): string {
  const [next] = transitionsBetween(zone, nowMs, nowMs + yearMs);
  const now = `${sayZone(zone)}, now ${sayOffset(offsetMinutesAt(zone, nowMs))}`;
  return next ? `${now}, ${sayOffset(next.toMinutes)} from ${sayDay(wallTimeAt(next.atMs, zone).slice(0, 10))}` : now;
}

/** @example sayOffset(330) //=> 'UTC+5:30' */
export function sayOffset(minutes: number): string {
  const whole = Math.round(Math.abs(minutes));
  const rest = whole % 60;
  return `UTC${minutes < 0 ? '−' : '+'}${Math.floor(whole / 60)}${rest ? `:${String(rest).padStart(2, '0')}` : ''}`;
}
