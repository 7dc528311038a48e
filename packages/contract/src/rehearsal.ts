import './jitless';
import * as z from 'zod';
import { channel, firingState } from './countdown';
import { shownMessage } from './shown';

/** People whom a countdown is easily wrong for: like whoever is chosen, with one difference. */
export const archetypes = [
  'far-away',
  'registered-yesterday',
  'unanswered',
  'waitlisted',
  'no-mobile',
  'no-texts',
  'no-consent',
  'opted-out',
  'no-name',
] as const;
export type Archetype = (typeof archetypes)[number];

export const rehearsalQuery = z.object({
  person: z.coerce.number().int().min(0).default(0),
  as: z.enum(['', ...archetypes]).default(''),
});
export type RehearsalQuery = z.infer<typeof rehearsalQuery>;

/** One cue as it comes to one person, or does not. */
export const rehearsalScene = z.object({
  cueId: z.number(),
  name: z.string(),
  channel,
  state: firingState,
  /** Start of the date of a series that it is for. */
  occurrenceAt: z.iso.datetime().nullable(),
  /** Null where it has no moment for them. */
  dueAt: z.iso.datetime().nullable(),
  isPast: z.boolean(),
  /** They are in quiet hours as it goes, and get it then. */
  waitsUntil: z.iso.datetime().nullable(),
  whyNot: z.string().nullable(),
  /** As they read it; null where it does not come. */
  message: shownMessage.nullable(),
});
export type RehearsalScene = z.infer<typeof rehearsalScene>;

export const rehearsal = z.object({
  /** Where the event is. */
  zone: z.string(),
  person: z.object({
    id: z.number(),
    name: z.string(),
    /** Whose clock the scenes are told on. */
    zone: z.string(),
    isReal: z.boolean(),
  }),
  archetypes: z.array(z.enum(archetypes)),
  scenes: z.array(rehearsalScene),
});
export type Rehearsal = z.infer<typeof rehearsal>;
