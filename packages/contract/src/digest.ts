import './jitless';
import * as z from 'zod';
import { clockTime, firingState } from './countdown';
import { zoneName } from './zone';

export const digestFields = z.object({
  name: z.string().trim().min(1).max(120),
  weekday: z.number().int().min(1).max(7),
  at: clockTime,
  zone: zoneName,
  windowDays: z.number().int().min(1).max(60),
  /** The list that it goes to; 0 where it goes to a segment. */
  listId: z.number().int(),
  /** The segment that it goes to; null where it goes to a list. */
  segmentId: z.number().int().nullable().default(null),
  subject: z.string().trim().min(1).max(300),
  intro: z.string().max(5000),
  isOn: z.boolean(),
});
export type DigestFields = z.infer<typeof digestFields>;

/** `was`: what one began with. Where something else stands there by now, nothing is saved. */
export const digestChange = digestFields.extend({ was: digestFields.optional() });
export type DigestChange = z.infer<typeof digestChange>;

export const digestRow = digestFields.extend({
  id: z.number(),
  listName: z.string(),
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
  subject: z.string(),
  html: z.string().nullable(),
  eventCount: z.number(),
  gets: z.number(),
  countedAt: z.iso.datetime().nullable(),
});
export const issuePreviews = z.array(issuePreview);
export type IssuePreview = z.infer<typeof issuePreview>;
