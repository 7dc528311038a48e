import { addDays, resolveWallTime, transitionsBetween, wallTimeAt, workdayUpTo, type EpochMs } from '@convite/core';
import type { RailAround } from '@convite/contract';
import { hourMs, type RailScale } from './rail-scale';

/** A stretch of the rail. */
export interface Stretch {
  readonly x: number;
  readonly width: number;
}
/** Narrower ones would be a blur. */
const narrowest = 4;

export interface Ground {
  readonly quiet: Stretch[];
  readonly free: Stretch[];
  readonly changes: { readonly x: number; readonly words: string }[];
}

/** What lies under the cues about a start: the house's quiet hours, days on which it does not work, and changes of clocks. */
export function groundOf(
  { quiet, workdays, holidays }: Pick<RailAround, 'quiet' | 'workdays' | 'holidays'>,
  scale: RailScale,
  startMs: EpochMs,
  zone: string,
): Ground {
  const day = wallTimeAt(startMs, zone).slice(0, 10);
  const xOf = (atMs: EpochMs): number => scale.x(Math.min(scale.to, Math.max(scale.from, (atMs - startMs) / hourMs)));
  const stretch = (fromMs: EpochMs, toMs: EpochMs): Stretch[] => {
    const [x, end] = [xOf(fromMs), xOf(toMs)];
    return end - x >= narrowest ? [{ x, width: end - x }] : [];
  };
  const days = Array.from({ length: 57 }, (_, index) => addDays(day, index - 42));
  const works = { weekdays: workdays, holidays };
  return {
    quiet: days.flatMap((one) =>
      stretch(
        resolveWallTime(`${one}T${quiet.from}`, zone),
        resolveWallTime(`${quiet.from <= quiet.until ? one : addDays(one, 1)}T${quiet.until}`, zone),
      ),
    ),
    free: days
      .filter((one) => workdayUpTo(one, works) !== one)
      .flatMap((one) =>
        stretch(resolveWallTime(`${one}T00:00`, zone), resolveWallTime(`${addDays(one, 1)}T00:00`, zone)),
      ),
    changes: transitionsBetween(zone, startMs + scale.from * hourMs, startMs + scale.to * hourMs).map(
      ({ atMs, fromMinutes, toMinutes }) => ({ x: xOf(atMs), words: sayChange(toMinutes - fromMinutes) }),
    ),
  };
}

/** @example sayChange(60) //=> 'clocks 1 h on' */
export const sayChange = (minutes: number): string =>
  `clocks ${Math.abs(minutes) % 60 === 0 ? `${Math.abs(minutes) / 60} h` : `${Math.abs(minutes)} min`} ${minutes > 0 ? 'on' : 'back'}`;
