import type { Language } from './language';

/** In which order a day stands that is written in numbers: as the house has set it. A year in front is read by everybody. */
export const dayOrders = ['day-first', 'month-first', 'iso'] as const;
export type DayOrder = (typeof dayOrders)[number];
export const clocks = ['24', '12'] as const;
export type Clock = (typeof clocks)[number];

/** How somebody writes days and times. */
export interface Manner {
  readonly order: DayOrder;
  /** Hours of the day, or of each half of it. */
  readonly clock: Clock;
  /** English where it is left out. */
  readonly language?: Language | undefined;
}
export const plainManner: Manner = { order: 'day-first', clock: '24' };
