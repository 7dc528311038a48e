import './jitless';
import * as z from 'zod';
import { changedFields, replyStates, type EventFacts } from '@convite/core';
import { person } from './audience';

export const eventFacts = z.object({
  title: z.string().max(1000),
  description: z.string().max(100_000),
  zone: z.string().max(64),
  span: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('timed'), start: z.string().max(32), end: z.string().max(32) }),
    z.object({ kind: z.literal('all-day'), firstDay: z.string().max(32), lastDay: z.string().max(32) }),
  ]),
  venue: z.string().max(1000),
  joinLink: z.string().max(2000),
  topics: z.array(z.string().trim().min(1).max(60)).max(20).readonly(),
}) satisfies z.ZodType<EventFacts>;

export const eventStatus = z.enum(['draft', 'published', 'called-off']);
export type EventStatus = z.infer<typeof eventStatus>;
const replyCounts = z.record(z.enum(replyStates), z.number());
export type ReplyCounts = z.infer<typeof replyCounts>;

export const eventRow = z.object({
  id: z.number(),
  title: z.string(),
  zone: z.string(),
  startAt: z.iso.datetime(),
  endAt: z.iso.datetime(),
  isAllDay: z.boolean(),
  status: eventStatus,
  topics: z.array(z.string()),
  replies: replyCounts,
  nextCue: z.object({ name: z.string(), dueAt: z.iso.datetime() }).nullable(),
});
export type EventRow = z.infer<typeof eventRow>;
export const eventRows = z.array(eventRow);

export const eventDetail = z.object({
  id: z.number(),
  uid: z.string(),
  status: eventStatus,
  version: z.number(),
  sequence: z.number(),
  facts: eventFacts,
  startAt: z.iso.datetime(),
  endAt: z.iso.datetime(),
  pageUrl: z.string(),
});
export type EventDetail = z.infer<typeof eventDetail>;

/** Saving says which version was being looked at, so that nobody overwrites what a colleague just changed. */
export const saveEvent = z.object({ facts: eventFacts, basedOn: z.number().int() });

export const guest = z.object({
  person,
  channel: z.enum(['email', 'text']),
  reply: z.enum(replyStates),
  repliedAt: z.iso.datetime().nullable(),
  comment: z.string(),
  invitedAt: z.iso.datetime().nullable(),
  holdsVersion: z.number().nullable(),
});
export type Guest = z.infer<typeof guest>;
export const guestPage = z.object({
  rows: z.array(guest),
  next: z.number().nullable(),
  counts: replyCounts,
  version: z.number(),
});
export type GuestPage = z.infer<typeof guestPage>;

export const setAsideReply = z.object({
  id: z.number(),
  receivedAt: z.iso.datetime(),
  from: z.string(),
  attendee: z.string(),
  state: z.string(),
  reason: z.string(),
});
export const setAsideReplies = z.array(setAsideReply);
export type SetAsideReply = z.infer<typeof setAsideReply>;

export const wordingText = z.object({ subject: z.string().max(500), body: z.string().max(20_000) });
export type WordingText = z.infer<typeof wordingText>;

export const invitePlanRequest = z.object({
  lists: z.array(z.number().int()).min(1),
  channel: z.enum(['email', 'text']),
});
/** Above a hundred recipients the count seen by the person who presses the button must come along. */
export const sendInvitations = invitePlanRequest.extend({
  wording: wordingText,
  confirmedCount: z.number().int().nullable(),
});
export const sendNotice = z.object({ wording: wordingText, confirmedCount: z.number().int().nullable() });

export const invitationPreview = z.object({
  person: z.object({ id: z.number(), name: z.string(), email: z.string(), zone: z.string() }),
  subject: z.string(),
  html: z.string(),
  text: z.string(),
  calendar: z.string(),
  sizeOctets: z.number(),
  icsUrl: z.string(),
  links: z.array(z.object({ name: z.string(), url: z.string() })),
});
export type InvitationPreview = z.infer<typeof invitationPreview>;

const difference = z.object({ field: z.enum(changedFields), before: z.string(), after: z.string() });
export const eventChanges = z.object({
  versions: z.array(
    z.object({
      number: z.number(),
      sequence: z.number(),
      at: z.iso.datetime(),
      by: z.string(),
      differences: z.array(difference),
      matters: z.boolean(),
    }),
  ),
  holders: z.array(z.object({ version: z.number().nullable(), count: z.number() })),
  /** Invitees that a notice would reach now, by channel. */
  toTell: z.object({ email: z.number(), text: z.number() }),
  isNoticeUnderWay: z.boolean(),
  suggestedWording: wordingText,
});
export type EventChanges = z.infer<typeof eventChanges>;
