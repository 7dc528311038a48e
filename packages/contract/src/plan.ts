import './jitless';
import * as z from 'zod';
import { cueFields, channel, moment } from './countdown';
import { problem } from './problem';

/** So many cues a plan has at the most, and so many plans a house. */
export const mostPlanCues = 100;
export const mostPlans = 200;

/** A cue of a plan; its key stays when it is changed, so that the cues made of it can follow. */
export const planCue = cueFields.extend({ key: z.number().int() });
export type PlanCue = z.infer<typeof planCue>;

/** Where cues are taken from: a plan of the house, one that comes with Convite, or another event. */
export const planSource = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('plan'), id: z.coerce.number().int().positive() }),
  z.object({ kind: z.literal('house'), name: z.string().max(40) }),
  z.object({ kind: z.literal('event'), id: z.coerce.number().int().positive() }),
]);
export type PlanSource = z.infer<typeof planSource>;

export const planRow = z.object({
  source: planSource,
  name: z.string(),
  /** What it is good for, in a line. */
  says: z.string(),
  cues: z.number(),
  savedAt: z.iso.datetime().nullable(),
  savedBy: z.string(),
});
export type PlanRow = z.infer<typeof planRow>;
export const planRows = z.array(planRow);

/** What a plan would be for an event, before anything is taken over. */
export const planFit = z.object({
  name: z.string(),
  cues: z.array(
    z.object({
      key: z.number(),
      name: z.string(),
      channel,
      /** A text goes beside the email, or in its place. */
      hasText: z.boolean(),
      moment,
      /** For a series, on the date that it would be due for first; null where it has no moment yet. */
      dueAt: z.iso.datetime().nullable(),
      /** What does not fit the event. */
      problems: z.array(problem),
      /** It can stand here as a draft at least. */
      canBeKept: z.boolean(),
    }),
  ),
});
export type PlanFit = z.infer<typeof planFit>;

export const applyPlan = z.object({
  source: planSource,
  keys: z.array(z.number().int()).min(1).max(mostPlanCues),
  /** What does not fit whole is a draft in any case. */
  isDraft: z.boolean(),
});
export type ApplyPlan = z.infer<typeof applyPlan>;
export const planApplied = z.object({ set: z.number(), drafts: z.number() });
export type PlanApplied = z.infer<typeof planApplied>;

/** Keeps the cues of an event as a plan, new or in place of one. */
export const keepPlan = z.object({
  eventId: z.number().int(),
  id: z.number().int().nullable(),
  name: z.string().trim().min(1).max(80),
  says: z.string().trim().max(200),
});
export type KeepPlan = z.infer<typeof keepPlan>;

/** An event with cues that were made of a plan and have not fired. */
export const planFollower = z.object({
  eventId: z.number(),
  title: z.string(),
  startAt: z.iso.datetime(),
  zone: z.string(),
  cues: z.number(),
  /** Those that somebody changed since: they stay as they are. */
  changed: z.number(),
});
export type PlanFollower = z.infer<typeof planFollower>;
export const planFollowers = z.object({ rows: z.array(planFollower), hasMore: z.boolean() });
export type PlanFollowers = z.infer<typeof planFollowers>;
export const followPlan = z.object({ events: z.array(z.number().int()).min(1).max(200) });
/** How many cues were brought in line; those that could not be set are drafts. */
export const planFollowed = z.object({
  changed: z.number(),
  added: z.number(),
  removed: z.number(),
  drafts: z.number(),
});
export type PlanFollowed = z.infer<typeof planFollowed>;
