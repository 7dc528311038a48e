import './jitless';
import * as z from 'zod';
import { placeKinds, replyStates } from '@convite/core';
import { mostPicked, person } from './audience';
import { replyCounts } from './event';

export const guest = z.object({
  person,
  channel: z.enum(['email', 'text']),
  reply: z.enum(replyStates),
  /** Put themselves down for some dates of a series, and has no part in the others. */
  isByDate: z.boolean(),
  repliedAt: z.iso.datetime().nullable(),
  comment: z.string(),
  /** Address that the person passed the invitation on to, or empty. */
  delegatedTo: z.string(),
  invitedAt: z.iso.datetime().nullable(),
  holdsVersion: z.number().nullable(),
  /** Whether the person came to the date in question; null while nobody said. */
  attended: z.boolean().nullable(),
  /** They wait for a place, or how they come; null where there is neither to say. */
  place: z.enum(placeKinds).nullable(),
  /** The person's own time, place or note, where the event gives each their own. */
  own: z.object({ start: z.string(), end: z.string(), place: z.string(), notes: z.string() }).nullable(),
});
export type Guest = z.infer<typeof guest>;
/** Which guests are shown: those of one answer, those who hold an older version, or those who come by date. */
export const guestFilter = z.enum([
  'all',
  'accepted',
  'tentative',
  'declined',
  'needs-action',
  'older-version',
  'by-date',
]);
export type GuestFilter = z.infer<typeof guestFilter>;
/** By what guests are put in order; the way is the one that is looked for: the latest answer first, the oldest version first. */
export const guestSorts = ['joined', 'answered', 'answer', 'holds'] as const;
export const guestQuery = z.object({
  /** Key of a date of the series; empty for the whole. */
  occurrence: z.string().max(20).default(''),
  search: z.string().max(200).default(''),
  filter: guestFilter.default('all'),
  sort: z.enum(guestSorts).default('joined'),
  /** Where the page begins, as the one before it said; empty for the first. */
  after: z.string().max(80).default(''),
  limit: z.coerce.number().int().min(1).max(200).default(50),
});
export type GuestQuery = z.infer<typeof guestQuery>;
/** As what a table can be taken out of the house. */
export const tableFormats = ['csv', 'xlsx'] as const;
export type TableFormat = (typeof tableFormats)[number];

/** Guests that somebody picked: by hand, or all that a filter and a search leave. */
export const guestSelection = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('some'), ids: z.array(z.number().int()).min(1).max(mostPicked) }),
  z.object({
    kind: z.literal('all'),
    occurrence: z.string().max(20),
    search: z.string().max(200),
    filter: guestFilter,
  }),
]);
export type GuestSelection = z.infer<typeof guestSelection>;
export const guestActRequest = z.object({ selection: guestSelection });
/** What removing did: by what number it is undone, how many are gone, and how many of them are told. */
export const removedGuests = z.object({ id: z.number(), removed: z.number(), told: z.number() });
export type RemovedGuests = z.infer<typeof removedGuests>;
/** A draft of a cue for some guests. */
export const preparedReminder = z.object({ cueId: z.number() });

export const guestPage = z.object({
  rows: z.array(guest),
  next: z.string().nullable(),
  counts: replyCounts,
  /** Of the places there are, where not everybody who says yes takes one; null elsewhere. */
  taken: z.number().nullable(),
  version: z.number(),
});
export type GuestPage = z.infer<typeof guestPage>;

/** Somebody who waits for a place. */
export const waitingRow = z.object({
  id: z.number(),
  person,
  /** Key of the date; empty for a one-off. */
  occurrence: z.string(),
  since: z.iso.datetime(),
  /** Until when a place is kept for them that they were told of; null while there is none. */
  keptUntil: z.iso.datetime().nullable(),
});
export type WaitingRow = z.infer<typeof waitingRow>;
export const waitlistPage = z.object({ rows: z.array(waitingRow), next: z.string().nullable() });
export type WaitlistPage = z.infer<typeof waitlistPage>;
export const waitlistQuery = guestQuery.pick({ occurrence: true, after: true, limit: true });
export type WaitlistQuery = z.infer<typeof waitlistQuery>;
export const waitingPlace = z.object({ personId: z.number().int(), occurrence: z.string().max(20) });
export type WaitingPlace = z.infer<typeof waitingPlace>;

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

/** So many are shown, the newest first. */
export const mostLetters = 100;
/** What a person wrote in words, to one of our addresses or by text. */
export const letterRow = z.object({
  id: z.number(),
  channel: z.enum(['email', 'text']),
  eventId: z.number().nullable(),
  subscriberId: z.number().nullable(),
  /** Whose it is, as far as that is known. */
  name: z.string(),
  receivedAt: z.iso.datetime(),
  from: z.string(),
  to: z.string(),
  subject: z.string(),
  text: z.string(),
  isOpen: z.boolean(),
});
export type LetterRow = z.infer<typeof letterRow>;
export const letterRows = z.array(letterRow);
export const settleLetter = z.object({ isOpen: z.boolean() });
/** So much an answer may say; more is a message. */
export const mostInAnswer = 2000;
export const answerLetter = z.object({ text: z.string().trim().min(1).max(mostInAnswer) });

/** A time that a person proposed instead (RFC 5546 §3.2.7). */
export const proposal = z.object({
  id: z.number(),
  person,
  /** The date of the series it is about; empty for the whole. */
  occurrence: z.string(),
  startAt: z.iso.datetime(),
  endAt: z.iso.datetime(),
  comment: z.string(),
  at: z.iso.datetime(),
});
export type Proposal = z.infer<typeof proposal>;
export const proposals = z.array(proposal);
export const answerProposal = z.object({
  accept: z.boolean(),
  comment: z.string().max(500),
  basedOn: z.number().int(),
});
export const markAttendance = z.object({
  personId: z.number().int(),
  occurrence: z.string().max(20),
  attended: z.boolean().nullable(),
});
