import './jitless';
import * as z from 'zod';
import { writtenWording } from './wording';

/** What a message that is tried would be. */
export const testKinds = ['invitation', 'cue', 'notice', 'call-off', 'manual'] as const;
const mostAddresses = 5;

/** A message sent at once to whoever tries it, as somebody would get it; counted nowhere. */
export const testRequest = z.object({
  kind: z.enum(testKinds),
  channel: z.enum(['email', 'text']),
  wording: writtenWording,
  /** Null for one about no event. */
  eventId: z.number().int().positive().nullable(),
  /** As whom one about no event is written; null for the house. */
  senderId: z.number().int().positive().nullable().optional(),
  /** The cue that it is, once it is kept: its test leads to where it is held. */
  cueId: z.number().int().positive().optional(),
  /** As whom; null for somebody it would go to. */
  personId: z.number().int().positive().nullable(),
  /** As five readers who are easily forgotten, instead. */
  asFive: z.boolean(),
  /** Addresses, or numbers of a text; none for the member's own address. */
  to: z.array(z.string().trim().min(1).max(254)).max(mostAddresses),
});
export type TestRequest = z.infer<typeof testRequest>;
export const testSent = z.object({
  /** How many left. */
  sent: z.number(),
  to: z.array(z.string()),
  refused: z.array(z.object({ to: z.string(), said: z.string() })),
});
export type TestSent = z.infer<typeof testSent>;
