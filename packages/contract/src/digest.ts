import './jitless';
import * as z from 'zod';
import { clockTime, firingState } from './countdown';
import { chosenPeople } from './sending';
import { wordingDocument, writtenWording } from './wording';
import { zoneName } from './zone';
import { shownMessage } from './shown';

export const digestFields = z.object({
  name: z.string().trim().min(1).max(120),
  weekday: z.number().int().min(1).max(7),
  at: clockTime,
  zone: zoneName,
  windowDays: z.number().int().min(1).max(60),
  whom: chosenPeople,
  /** What stands before the events. */
  wording: wordingDocument,
  isOn: z.boolean(),
  /** As whom it is written; null for the house. */
  senderId: z.number().int().positive().nullable().default(null),
});
export type DigestFields = z.infer<typeof digestFields>;

/** `was`: what one began with. Where something else stands there by now, nothing is saved. */
export const digestChange = digestFields.extend({ wording: writtenWording, was: digestFields.optional() });
export type DigestChange = z.infer<typeof digestChange>;

export const digestRow = digestFields.extend({
  id: z.number(),
  /** Whom it goes to, in words. */
  whomSaid: z.string(),
  issues: z.array(
    z.object({
      firingId: z.number(),
      dueAt: z.iso.datetime(),
      state: firingState,
      eventCount: z.number(),
      gets: z.number(),
      /** When both were counted; null while they are not. */
      countedAt: z.iso.datetime().nullable(),
    }),
  ),
});
export type DigestRow = z.infer<typeof digestRow>;
export const digestRows = z.array(digestRow);

export const issuePreview = z.object({
  dueAt: z.iso.datetime(),
  /** Null where there is nothing to say, and nothing goes. */
  message: shownMessage.nullable(),
  eventCount: z.number(),
  gets: z.number(),
  countedAt: z.iso.datetime().nullable(),
});
export const issuePreviews = z.array(issuePreview);
export type IssuePreview = z.infer<typeof issuePreview>;
