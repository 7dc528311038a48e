import * as z from 'zod';
import { audience, cueAct, eventFacts, moment, wordingDocument } from '@convite/contract';

/** Whom it was for when it was expanded, asked again right before each message goes; null before it is. */
const asExpanded = audience.nullable().default(null);

/** What a firing sends, frozen as JSON in its row: the wording, and the version of the event at that moment. */
export const content = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('cue'),
    document: wordingDocument,
    version: z.number(),
    /** Start of its date as it stood, in epoch milliseconds: who is not reached before it moves is not told the old one. */
    startMs: z.number().nullable().default(null),
    /** Worthless once the date has begun. */
    countsDown: z.boolean().default(false),
    audience: asExpanded,
    /** By which it is asked again for whom it is; null for what was frozen before that was kept. */
    moment: moment.nullable().default(null),
    /** In the thread of each person's invitation. */
    inThread: z.boolean().default(false),
  }),
  z.object({
    kind: z.literal('invitation'),
    document: wordingDocument,
    version: z.number(),
    stampMs: z.number(),
    audience,
  }),
  // To one person, because of what they asked or answered, or to some who were taken off the guests: the newest entry again, a no to the time they proposed, or a
  // question of ours, which carries no entry.
  z.object({
    kind: z.literal('answer'),
    method: z.enum(['REQUEST', 'CANCEL', 'DECLINECOUNTER', 'QUESTION']),
    personId: z.number(),
    /** The same to others, who were taken off with them. */
    alsoIds: z.array(z.number()).default([]),
    occurrence: z.string(),
    /** They said yes by asking, so that their calendar need not ask again. */
    isComing: z.boolean().default(false),
    /** The event was called off as it was written: it says that, or is said all the same. */
    isOff: z.boolean().default(false),
    /** Until when a place is kept for them that it tells of. */
    keptUntilMs: z.number().nullable().default(null),
    document: wordingDocument,
    version: z.number(),
    stampMs: z.number(),
  }),
  z.object({
    kind: z.literal('notice'),
    method: z.enum(['REQUEST', 'CANCEL']),
    document: wordingDocument,
    version: z.number(),
    stampMs: z.number(),
    /** The one date that is called off, for a CANCEL of that date; empty for the whole. */
    occurrence: z.string().default(''),
    /** Only to people who came to that date alone, whom the notice for everybody does not reach. */
    isByDate: z.boolean().default(false),
  }),
  // To one person who wrote to us, about no event: they get it whether or not they take messages otherwise.
  z.object({ kind: z.literal('to-writer'), personId: z.number(), document: wordingDocument }),
  // What a cue does instead of writing to people.
  z.object({ kind: z.literal('act'), act: cueAct, document: wordingDocument }),
  // Written by hand to some people, about no event.
  z.object({
    kind: z.literal('manual'),
    audience,
    document: wordingDocument,
    senderId: z.number().nullable().optional(),
  }),
  z.object({
    kind: z.literal('digest'),
    audience: asExpanded,
    document: wordingDocument,
    zone: z.string(),
    fromMs: z.number(),
    toMs: z.number(),
    events: z.array(
      z.object({ id: z.number(), publicKey: z.string(), facts: eventFacts, occurrence: z.string().default('') }),
    ),
  }),
]);
export type Content = z.infer<typeof content>;
export type ContentOf<K extends Content['kind']> = Extract<Content, { kind: K }>;
