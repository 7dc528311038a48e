import './jitless';
import * as z from 'zod';
import { channel, firingState, lane } from './countdown';
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
  channel: lane,
  /** What is done with them instead of a message; empty for a message. */
  does: z.string(),
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

/** So many people of each cue are gone through. */
export const mostRehearsed = 10_000;
/** What a rehearsal for everybody is counted from: who gets which cue as people stand now, and when it goes over a year. */
export const rehearsalForAll = z.object({
  zone: z.string(),
  /** So many messages a week the house sends to one person at most; null for as many as come. */
  perWeek: z.number().nullable(),
  cues: z.array(
    z.object({
      id: z.number(),
      name: z.string(),
      channel,
      dueAt: z.array(z.iso.datetime()),
      people: z.array(z.number()),
      /** There are more than are gone through. */
      hasMore: z.boolean(),
      reachesNew: z.boolean(),
    }),
  ),
  /** Cues that are counted from something of each person's own, and so have no moment for all. */
  apart: z.number(),
});
export type RehearsalForAll = z.infer<typeof rehearsalForAll>;
