import { Temporal } from 'temporal-polyfill';

/** Milliseconds since 1970-01-01T00:00Z. The one way core speaks of an instant. */
export type EpochMs = number;

/** One change of a zone's offset from UTC. */
export interface Transition {
  readonly atMs: EpochMs;
  readonly fromMinutes: number;
  readonly toMinutes: number;
}

const known = new Map<string, boolean>();

/** Is this an IANA time zone name that the runtime knows? Offsets such as `+01:00` are not zones. */
export function isZone(name: string): boolean {
  const cached = known.get(name);
  if (cached !== undefined) return cached;
  let answer: boolean;
  try {
    answer = /^[A-Za-z]/.test(name) && Boolean(new Intl.DateTimeFormat('en', { timeZone: name }));
  } catch {
    answer = false;
  }
  if (known.size < 2000) known.set(name, answer);
  return answer;
}

/** Minutes east of UTC in force in the zone at the instant; fractions where a zone's history has seconds. */
export function offsetMinutesAt(zone: string, atMs: EpochMs): number {
  return Temporal.Instant.fromEpochMilliseconds(atMs).toZonedDateTimeISO(zone).offsetNanoseconds / 60e9;
}

/** The zone's last change of offset at or before the instant, or null when its offset never changed until then. */
export function transitionBefore(zone: string, atMs: EpochMs): Transition | null {
  const before = Temporal.Instant.fromEpochMilliseconds(atMs + 1)
    .toZonedDateTimeISO(zone)
    .getTimeZoneTransition('previous');
  return before ? describe(zone, before.epochMilliseconds) : null;
}

/** The zone's changes of offset after `fromMs` and at or before `toMs`, in order. */
export function transitionsBetween(zone: string, fromMs: EpochMs, toMs: EpochMs): Transition[] {
  const found: Transition[] = [];
  let next = Temporal.Instant.fromEpochMilliseconds(fromMs).toZonedDateTimeISO(zone).getTimeZoneTransition('next');
  while (next && next.epochMilliseconds <= toMs) {
    found.push(describe(zone, next.epochMilliseconds));
    next = next.getTimeZoneTransition('next');
  }
  return found;
}

function describe(zone: string, atMs: EpochMs): Transition {
  return { atMs, fromMinutes: offsetMinutesAt(zone, atMs - 1), toMinutes: offsetMinutesAt(zone, atMs) };
}
