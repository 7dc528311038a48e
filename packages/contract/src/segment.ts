import './jitless';
import * as z from 'zod';
import { replyStates, segmentBounds, sizeOfSegment, type Segment } from '@convite/core';
import { person } from './audience';
import { zoneName } from './zone';

const id = z.number().int().min(0);
const day = z.iso.date().nullable();
const number = z.number().min(-1e12).max(1e12).nullable();
const fieldTest = z.discriminatedUnion('is', [
  z.object({ is: z.literal('any-of'), values: z.array(z.string().max(200)).max(100).readonly() }),
  z.object({ is: z.literal('begins-with'), text: z.string().max(200) }),
  z.object({ is: z.literal('number'), from: number, to: number }),
  z.object({ is: z.literal('date'), from: day, to: day }),
  z.object({
    is: z.literal('day-of-year'),
    days: z
      .array(z.string().regex(/^\d\d-\d\d$/))
      .max(366)
      .readonly(),
  }),
  z.object({ is: z.literal('filled') }),
]);
const ids = z.array(id).max(200).readonly();
const withinDays = z.number().int().min(1).max(3660);
const condition = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('list'), lists: ids }),
  z.object({ kind: z.literal('topic'), topics: z.array(z.string().max(60)).max(50).readonly() }),
  z.object({ kind: z.literal('field'), field: id, test: fieldTest }),
  z.object({ kind: z.literal('consent'), channel: z.enum(['email', 'text']) }),
  z.object({ kind: z.literal('zone'), zones: z.array(zoneName).max(100).readonly() }),
  z.object({
    kind: z.literal('answered'),
    event: id,
    replies: z.array(z.enum(replyStates)).max(4).readonly(),
    withinDays: withinDays.nullable(),
  }),
  z.object({
    kind: z.enum(['registered', 'waitlisted', 'in-person', 'online', 'attended', 'no-show', 'invited']),
    event: id,
  }),
  z.object({
    kind: z.literal('got'),
    message: z.enum(['cue', 'digest', 'invitation', 'notice', 'answer', 'manual']),
    event: id.nullable(),
    withinDays,
  }),
  z.object({ kind: z.literal('person'), ids: z.array(id).max(5000).readonly() }),
  z.object({ kind: z.literal('segment'), segments: ids }),
]);
const group: z.ZodType<Segment> = z.lazy(() =>
  z.union([
    condition,
    z.object({ kind: z.enum(['all', 'any', 'none']), of: z.array(group).max(segmentBounds.parts).readonly() }),
  ]),
);
/** Conditions put together; never more, or deeper, than somebody can read. */
export const segmentConditions = group.refine((segment) => {
  const { parts, depth } = sizeOfSegment(segment);
  return parts <= segmentBounds.parts && depth <= segmentBounds.depth;
}, 'too large');

export const segmentFields = z.object({
  name: z.string().trim().min(1).max(120),
  description: z.string().trim().max(500),
  conditions: segmentConditions,
});
export type SegmentFields = z.infer<typeof segmentFields>;
/** `was`: what one began with. Where something else stands there by now, nothing is saved. */
export const segmentChange = segmentFields.extend({ was: segmentFields.optional() });
export type SegmentChange = z.infer<typeof segmentChange>;

export const segmentRow = segmentFields.extend({
  id: z.number(),
  /** As it was last counted; null before it was. */
  people: z.number().nullable(),
  countedAt: z.iso.datetime().nullable(),
  /** The events that it asks about, so that they can be named. */
  events: z.array(z.object({ id: z.number(), title: z.string() })),
});
export type SegmentRow = z.infer<typeof segmentRow>;
export const segmentRows = z.array(segmentRow);

export const segmentUse = z.object({
  cues: z.array(z.object({ id: z.number(), name: z.string(), eventId: z.number() })),
  /** The newest cues are named; there are others. */
  hasMoreCues: z.boolean(),
  digests: z.array(z.object({ id: z.number(), name: z.string() })),
  segments: z.array(z.object({ id: z.number(), name: z.string() })),
  /** Events that are going to invite it. */
  events: z.array(z.object({ id: z.number(), title: z.string() })),
});
export type SegmentUse = z.infer<typeof segmentUse>;

export const segmentAsked = z.object({ conditions: segmentConditions });
/** What it is so far: of which share of all people, how many are in it, and how many of them may be written to. */
export const segmentCount = z.object({
  share: z.number().min(0).max(1),
  people: z.number(),
  byEmail: z.number(),
  byText: z.number(),
});
export type SegmentCount = z.infer<typeof segmentCount>;
export const segmentPeopleAsked = segmentAsked.extend({
  after: z.number().int().min(0),
  limit: z.number().int().min(1).max(100),
});
/** A page may have few rows, and more behind them: so many people are looked at for one. */
export const segmentPeople = z.object({ rows: z.array(person), next: z.number().nullable() });
export type SegmentPeople = z.infer<typeof segmentPeople>;
export const segmentWhyAsked = segmentAsked.extend({ personId: z.number().int() });
export const segmentWhy = z.object({
  parts: z.array(z.object({ path: z.array(z.number()), isSo: z.boolean() })),
});
export type SegmentWhy = z.infer<typeof segmentWhy>;

/** Two sets of people beside each other. */
export const overlapAsked = z.object({ left: segmentConditions, right: segmentConditions });
export const overlap = z.object({ share: z.number(), both: z.number(), onlyLeft: z.number(), onlyRight: z.number() });
export type Overlap = z.infer<typeof overlap>;
