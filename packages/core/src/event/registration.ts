import type { Problem } from '../problem';
import type { EpochMs } from '../time/zone';
import { sayMinutes } from './entry';
import type { EventFacts } from './event';
import type { Occurrence } from './occurrences';

/** How people put themselves down for an event, date by date, on its page. */
export interface Registration {
  /** For each date; null for as many as come. */
  readonly places: number | null;
  /** Closes this long before each start. */
  readonly closesMinutes: number;
  /** Whoever types an address may not be its owner: they register by the mail that goes there. No place is kept until then. */
  readonly confirms: boolean;
  /** Where a date is full, people may wait for a place at it. */
  readonly waitlist?: boolean | undefined;
}

/** How people come where they may choose. */
export const presences = ['in-person', 'online'] as const;
export type Presence = (typeof presences)[number];

/** May people choose how they come? Whoever comes online takes none of the places. */
export const isHybrid = ({
  registration,
  venue,
  joinLink,
}: Pick<EventFacts, 'registration' | 'venue' | 'joinLink'>): boolean =>
  registration !== null && venue !== '' && joinLink !== '';

/** How long a request to register can be confirmed by the mail that asks. */
export const requestMs = 24 * 3_600_000;

/** Whether one may put oneself down for a date now, only wait for a place, or why neither. */
export type RegistrationState = 'open' | 'waitlist' | 'full' | 'closed';

const longestAskedMs = 24 * 3_600_000;
const shortestAskedMs = 30 * 60_000;

/**
 * Until when a place is kept for somebody who waited for it, once they are told that it is free: a day; half of what is left
 * where registration ends before two days are over, so that others can be asked as well; no less than half an hour, and
 * never longer than registration is open.
 */
export function keptUntilMs(nowMs: EpochMs, endsMs: EpochMs): EpochMs {
  const halfMs = Math.max(shortestAskedMs, (endsMs - nowMs) / 2);
  return Math.min(nowMs + Math.min(longestAskedMs, halfMs), endsMs);
}

const mostPlaces = 100_000;
const longestCloseMinutes = 366 * 1440;

/** The last instant at which one may put oneself down for a date; null where one cannot at all. */
export function registrationEndsMs({ facts, startMs }: Pick<Occurrence, 'facts' | 'startMs'>): EpochMs | null {
  // Where everybody has their own time, it is given to them.
  return facts.registration && !facts.isPersonal ? startMs - facts.registration.closesMinutes * 60_000 : null;
}

/**
 * May one put oneself down for that date?
 * @param taken how many said yes to it or wait for a place: whoever waits comes first
 */
export function registrationState(
  date: Pick<Occurrence, 'facts' | 'startMs' | 'calledOff'>,
  taken: number,
  nowMs: EpochMs,
): RegistrationState {
  const endsMs = registrationEndsMs(date);
  if (endsMs === null || nowMs > endsMs || date.calledOff) return 'closed';
  const places = date.facts.registration?.places ?? null;
  if (places === null || taken < places) return 'open';
  return date.facts.registration?.waitlist ? 'waitlist' : 'full';
}

/** What is wrong with it, at its fields. */
export function checkRegistration({ registration }: Pick<EventFacts, 'registration'>): Problem[] {
  if (!registration) return [];
  const isCount = (value: number, least: number, most: number): boolean =>
    Number.isInteger(value) && value >= least && value <= most;
  const { places, closesMinutes } = registration;
  return [
    ...(places === null || isCount(places, 1, mostPlaces)
      ? []
      : [{ code: 'bad-number' as const, path: 'registration.places', facts: { least: 1, most: mostPlaces } }]),
    ...(isCount(closesMinutes, 0, longestCloseMinutes)
      ? []
      : [{ code: 'bad-number' as const, path: 'registration.closes', facts: { least: 0, most: 8784 } }]),
  ];
}

/** @example sayRegistration({ places: 40, closesMinutes: 120 }) //=> '40 places, until 2 hours before' */
export function sayRegistration(registration: Registration | null): string {
  if (!registration) return 'nobody puts themselves down';
  const { places, closesMinutes, confirms, waitlist = false } = registration;
  const count = places === null ? 'no limit' : `${places} ${places === 1 ? 'place' : 'places'}`;
  return `${count}, until ${closesMinutes ? `${sayMinutes(closesMinutes)} before` : 'the start'}${confirms ? '' : ', not confirmed by mail'}${waitlist ? ', with a waitlist' : ''}`;
}
