import { scaleSymlog } from 'd3-scale';
import { resolveWallTime, shiftInstant, wallTimeAt, type EpochMs, type Unit } from '@convite/core';

export const railWidth = 1300;
export const hourMs = 3_600_000;

/** Where a distance from the start lies, in hours, negative for before. */
export interface RailScale {
  x(hours: number): number;
  hoursAt(x: number): number;
  readonly from: number;
  readonly to: number;
}

/** Weeks small, hours large; as wide as the distances need, two weeks before to a day after at the least. */
export function railScale(distances: readonly number[]): RailScale {
  const from = Math.min(-14 * 24, ...distances) * 1.3;
  const to = Math.max(24, ...distances) * 1.5;
  const scale = scaleSymlog([from, to], [40, railWidth - 30]).constant(6);
  return { x: scale, hoursAt: (x) => scale.invert(x), from, to };
}

export const railMarks: readonly (readonly [number, string])[] = [
  [-52 * 168, '1 year'],
  [-26 * 168, '6 months'],
  [-13 * 168, '3 months'],
  [-8 * 168, '8 weeks'],
  [-4 * 168, '4 weeks'],
  [-2 * 168, '2 weeks'],
  [-168, '1 week'],
  [-72, '3 days'],
  [-24, '1 day'],
  [-3, '3 hours'],
  [0, 'start'],
  [3, '3 hours after'],
  [24, '1 day after'],
  [168, '1 week after'],
  [4 * 168, '4 weeks after'],
];

interface Step {
  readonly amount: number;
  readonly unit: Unit;
}
/** Steps of a key press that fit how large time is drawn at a distance from the start: the usual one, and with shift. */
const steps: readonly { readonly withinHours: number; readonly small: Step; readonly large: Step }[] = [
  { withinHours: 6, small: { amount: 5, unit: 'minutes' }, large: { amount: 1, unit: 'hours' } },
  { withinHours: 72, small: { amount: 1, unit: 'hours' }, large: { amount: 1, unit: 'days' } },
  { withinHours: 21 * 24, small: { amount: 1, unit: 'days' }, large: { amount: 1, unit: 'weeks' } },
  { withinHours: Infinity, small: { amount: 1, unit: 'weeks' }, large: { amount: 1, unit: 'months' } },
];

/** One step earlier or later; days and more keep the clock time. */
export function stepped(
  atMs: EpochMs,
  startMs: EpochMs,
  zone: string,
  { direction, isLarge }: { readonly direction: -1 | 1; readonly isLarge: boolean },
): EpochMs {
  const away = Math.abs(atMs - startMs) / hourMs;
  const found = steps.find(({ withinHours }) => away <= withinHours);
  const { amount, unit } = (isLarge ? found?.large : found?.small) ?? { amount: 1, unit: 'days' };
  return shiftInstant(atMs, zone, amount * direction, unit);
}

/** Where a pointer means: five minutes apart near the start, half an hour within three days, else the day at the cue's own clock time. */
export function snapped(atMs: EpochMs, startMs: EpochMs, wasMs: EpochMs, zone: string): EpochMs {
  const away = Math.abs(atMs - startMs) / hourMs;
  if (away <= 6) return roundTo(atMs, 5);
  if (away <= 72) return roundTo(atMs, 30);
  return resolveWallTime(`${wallTimeAt(atMs, zone).slice(0, 10)}${wallTimeAt(wasMs, zone).slice(10)}`, zone);
}
const roundTo = (atMs: EpochMs, minutes: number): EpochMs => Math.round(atMs / (minutes * 60_000)) * minutes * 60_000;
