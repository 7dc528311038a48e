import './jitless';
import * as z from 'zod';
import { reasons } from '@convite/core';
import { person } from './audience';
import { cueAct, cueFields } from './countdown';
import { digestFields } from './digest';
import { chosenPeople } from './sending';
import { writtenWording } from './wording';

const channel = z.enum(['email', 'text']);

/** What decides who gets a message: asked about while it is put together. */
export const countedMessage = z.discriminatedUnion('kind', [
  cueFields.pick({ channel: true, moment: true, audience: true }).extend({
    kind: z.literal('cue'),
    eventId: z.number().int(),
    act: cueAct.optional(),
    /** What it says so far: a message that depends on the join link does not go to everybody. */
    wording: writtenWording.optional(),
  }),
  /** With nobody chosen, those who are guests and hold nothing yet. */
  chosenPeople.extend({ kind: z.literal('invitation'), eventId: z.number().int(), channel }),
  digestFields
    .pick({ weekday: true, at: true, zone: true, windowDays: true, whom: true })
    .extend({ kind: z.literal('digest') }),
  chosenPeople.extend({ kind: z.literal('manual'), channel }),
]);
export type CountedMessage = z.infer<typeof countedMessage>;

/** The people behind a count: those who get it (no reason), or those who do not, for one reason. */
export const behindCountRequest = z.object({
  of: countedMessage,
  /** `waiting`: they get it, as their quiet hours end. `nameless`: they get it, and no name of theirs is known. */
  reason: z.enum([...reasons, 'waiting', 'nameless']).nullable(),
  /** The number of the last one seen; 0 for the first page. */
  after: z.number().int().min(0),
});
export type BehindCountRequest = z.infer<typeof behindCountRequest>;
export const behindCountPage = z.object({ rows: z.array(person), next: z.number().nullable() });
export type BehindCountPage = z.infer<typeof behindCountPage>;
