import { Temporal } from 'temporal-polyfill';

/** Milliseconds since 1970-01-01T00:00Z. The one way core speaks of an instant. */
export type EpochMs = number;

/** One change of a zone's offset from UTC. */
export interface Transition {
  readonly atMs: EpochMs;
  readonly fromMinutes: number;
  readonly toMinutes: number;
}

/** Minutes east of UTC in force in the zone at the instant; fractions where a zone's history has seconds. */
export function offsetMinutesAt(zone: string, atMs: EpochMs): number {
  const { startMinutes, transitions } = yearOfZone(zone, yearOf(atMs));
  let minutes = startMinutes;
  for (const transition of transitions) if (transition.atMs <= atMs) minutes = transition.toMinutes;
  return minutes;
}

/** The zone's last change of offset at or before the instant, or null when its offset never changed until then. */
export function transitionBefore(zone: string, atMs: EpochMs): Transition | null {
  const ofYear = transitionsBetween(zone, Date.UTC(yearOf(atMs), 0, 1) - 1, atMs).at(-1);
  if (ofYear) return ofYear;
  const before = Temporal.Instant.fromEpochMilliseconds(atMs + 1)
    .toZonedDateTimeISO(zone)
    .getTimeZoneTransition('previous');
  return before ? describe(zone, before.epochMilliseconds) : null;
}

/** The zone's changes of offset after `fromMs` and at or before `toMs`, in order. */
export function transitionsBetween(zone: string, fromMs: EpochMs, toMs: EpochMs): Transition[] {
  const found: Transition[] = [];
  for (let year = yearOf(fromMs); year <= yearOf(toMs); year += 1)
    for (const transition of yearOfZone(zone, year).transitions)
      if (transition.atMs > fromMs && transition.atMs <= toMs) found.push(transition);
  return found;
}

const yearOf = (atMs: EpochMs): number => new Date(atMs).getUTCFullYear();

/** A zone in one year of UTC: the offset it begins with, and what changes. */
interface ZoneYear {
  readonly startMinutes: number;
  readonly transitions: readonly Transition[];
}

/**
 * Asking the runtime for one offset takes some 30 µs, and a series asks for thousands, nearly always in the same few
 * years: each year of a zone is asked for once.
 */
const years = new Map<string, ZoneYear>();
const mostYearsKept = 20_000;

function yearOfZone(zone: string, year: number): ZoneYear {
  const key = `${zone} ${year}`;
  let found = years.get(key);
  if (!found) {
    if (years.size >= mostYearsKept) years.clear();
    const startMs = Date.UTC(year, 0, 1);
    found = {
      startMinutes: askOffset(zone, startMs),
      transitions: askTransitions(zone, startMs - 1, Date.UTC(year + 1, 0, 1) - 1),
    };
    years.set(key, found);
  }
  return found;
}

const askOffset = (zone: string, atMs: EpochMs): number =>
  Temporal.Instant.fromEpochMilliseconds(atMs).toZonedDateTimeISO(zone).offsetNanoseconds / 60e9;

function askTransitions(zone: string, fromMs: EpochMs, toMs: EpochMs): Transition[] {
  const found: Transition[] = [];
  let next = Temporal.Instant.fromEpochMilliseconds(fromMs).toZonedDateTimeISO(zone).getTimeZoneTransition('next');
  while (next && next.epochMilliseconds <= toMs) {
    found.push(describe(zone, next.epochMilliseconds));
    next = next.getTimeZoneTransition('next');
  }
  return found;
}

const describe = (zone: string, atMs: EpochMs): Transition => ({
  atMs,
  fromMinutes: askOffset(zone, atMs - 1),
  toMinutes: askOffset(zone, atMs),
});
