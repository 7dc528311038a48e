import './jitless';
import * as z from 'zod';
import { housePressure, houseQuiet } from './settings';

/** How often one person is written to: what the house allows, and what is to come. */
export const pressurePage = z.object({
  pressure: housePressure,
  quiet: houseQuiet.nullable(),
  /** Four weeks of days from today, in the house's zone: messages that count. */
  days: z.array(z.object({ day: z.string(), value: z.number() })),
});
export type PressurePage = z.infer<typeof pressurePage>;

/** `was`: what one began with. Where something else stands there by now, nothing is saved. */
export const pressureChange = z.object({ pressure: housePressure, was: housePressure.optional() });
export type PressureChange = z.infer<typeof pressureChange>;

export const quietChange = z.object({ quiet: houseQuiet.nullable(), was: houseQuiet.nullable().optional() });
export type QuietChange = z.infer<typeof quietChange>;

/** Limits are tried from one a week up to so many; whoever got more is counted with these. */
export const mostTried = 7;
/** What was, so far as it was looked through; the last line says a share of 1. */
export const pressureLook = z.object({
  share: z.number().min(0).max(1),
  /** People who were sent one, two … messages that count in the last seven days; the last stands for more as well. */
  thisWeek: z.array(z.number()),
  /** Messages that count which went out in the last thirty days. */
  messages: z.number(),
  /** What each limit, from one a week, would have held back of them, and from how many people. */
  heldBack: z.array(z.object({ perWeek: z.number(), messages: z.number(), people: z.number() })),
});
export type PressureLook = z.infer<typeof pressureLook>;
