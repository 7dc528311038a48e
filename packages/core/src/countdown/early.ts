import type { Lane } from '../audience/audience';
import { quietBeginsMs, quietEndsMs } from '../time/quiet-hours';
import type { EpochMs } from '../time/zone';
import type { Moment } from './moment';
import type { CueMoment } from './plan';
import type { HouseQuiet } from './quiet';

/** So long before quiet hours begin a message goes that is not to wait until they end: time for a large sending to leave. */
export const aheadOfQuietMs = 15 * 60_000;

/** What counts down may come earlier than it says. What follows something must not come before it, and a fixed moment has its reason. */
const mayBeEarly = (moment: Moment): boolean =>
  (moment.kind === 'relative' || moment.kind === 'own-date') && moment.direction === 'before';

/**
 * When a cue goes to the people of a zone whom its moment finds in quiet hours, where the house would rather be early than late.
 * @returns null where it goes at its moment
 */
export function earlyMs(
  house: HouseQuiet | null,
  { moment, channel }: { readonly moment: Moment; readonly channel: Lane },
  zone: string,
  dueMs: EpochMs,
): EpochMs | null {
  if (house?.manner !== 'before' || !house.channels.some((one) => one === channel) || !mayBeEarly(moment)) return null;
  if (quietEndsMs(house, zone, dueMs) === null) return null;
  const atMs = quietBeginsMs(house, zone, dueMs) - aheadOfQuietMs;
  // Where nearly the whole day is quiet, there is no time before it.
  return quietEndsMs(house, zone, atMs) === null ? atMs : null;
}

/**
 * The moments of a cue with those for zones in which it goes before quiet hours. One that is the same instant for all keeps its place
 * for the others, and has one more for each such zone.
 * @param zones that people are in
 * @param canBe whether there is time for it yet; where there is not, its people wait as the house's rule for that says
 */
export function withEarly(
  moments: readonly CueMoment[],
  house: HouseQuiet | null,
  cue: { readonly moment: Moment; readonly channel: Lane },
  zones: readonly string[],
  canBe: (moment: CueMoment) => boolean,
): CueMoment[] {
  const earlyIn = (one: CueMoment, zone: string): CueMoment[] => {
    const dueMs = earlyMs(house, cue, zone, one.dueMs);
    const early = dueMs === null ? null : { ...one, zone, dueMs };
    return early && canBe(early) ? [early] : [];
  };
  return moments.flatMap((one) => {
    if (one.zone === '') return [one, ...zones.flatMap((zone) => earlyIn(one, zone))];
    const [early = one] = earlyIn(one, one.zone);
    return [early];
  });
}
