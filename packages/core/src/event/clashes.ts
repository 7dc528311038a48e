import type { EpochMs } from '../time/zone';

/** A date of an event, somewhere. */
export interface PlacedDate {
  readonly eventId: number;
  readonly title: string;
  /** Empty where it is online, or nobody knows yet: that clashes with nothing. */
  readonly venue: string;
  readonly startMs: EpochMs;
  readonly endMs: EpochMs;
}

/** Two dates of different events that are at one place at one time. */
export interface Clash {
  readonly first: PlacedDate;
  readonly second: PlacedDate;
}

/**
 * Finds dates that want one venue at the same time; one that ends as another begins does not. A venue is the same when its words
 * are, whatever their case and spaces. Reads each date once with those that overlap it.
 * @param most so many are found at most: a hundred dates on top of each other clash five thousand times
 */
export function findClashes(dates: readonly PlacedDate[], most: number): Clash[] {
  const clashes: Clash[] = [];
  const byVenue = new Map<string, PlacedDate[]>();
  for (const date of dates) {
    const venue = date.venue.trim().replace(/\s+/g, ' ').toLowerCase();
    if (!venue) continue;
    const there = byVenue.get(venue);
    if (there) there.push(date);
    else byVenue.set(venue, [date]);
  }
  for (const there of byVenue.values()) {
    const sorted = [...there].sort((a, b) => a.startMs - b.startMs || a.eventId - b.eventId);
    let open: PlacedDate[] = [];
    for (const second of sorted) {
      open = open.filter(({ endMs }) => endMs > second.startMs);
      for (const first of open) {
        if (first.eventId === second.eventId) continue;
        clashes.push({ first, second });
        if (clashes.length >= most) return inTime(clashes);
      }
      open.push(second);
    }
  }
  return inTime(clashes);
}

const inTime = (clashes: Clash[]): Clash[] => clashes.sort((a, b) => a.second.startMs - b.second.startMs);
