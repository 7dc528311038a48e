import './jitless';
import * as z from 'zod';
import {
  changedFields,
  plainEntry,
  replyStates,
  type Entry,
  type EventFacts,
  type Registration,
  type Scope,
  type Series,
} from '@convite/core';
import { list, mostImported, person, reasons } from './audience';
import { cueCountRequest } from './countdown';
import { zoneName } from './zone';

const wall = z.string().max(32);
const span = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('timed'),
    start: wall,
    end: wall,
    again: z.enum(['start', 'end', 'both']).optional(),
  }),
  z.object({ kind: z.literal('all-day'), firstDay: wall, lastDay: wall }),
]);

const series = z.object({
  rule: z.string().max(500),
  added: z.array(wall).max(500).readonly(),
  exceptions: z
    .array(
      z.object({
        at: wall,
        calledOff: z.boolean(),
        span: span.nullable(),
        title: z.string().max(1000).nullable(),
        description: z.string().max(100_000).nullable(),
        venue: z.string().max(1000).nullable(),
        joinLink: z.string().max(2000).nullable(),
      }),
    )
    .max(500)
    .readonly(),
}) satisfies z.ZodType<Series>;

const entry = z.object({
  asksReply: z.boolean(),
  text: z.string().max(100_000),
  isStyled: z.boolean(),
  alarmsMinutes: z.array(z.number()).max(20).readonly(),
  isPrivate: z.boolean(),
  isBusy: z.boolean(),
  showsGuests: z.boolean(),
  categories: z.array(z.string().trim().min(1).max(60)).max(20).readonly(),
  colour: z.string().max(40),
  imageUrl: z.string().max(2000),
  position: z.object({ latitude: z.number(), longitude: z.number() }).nullable(),
}) satisfies z.ZodType<Entry>;

const registration = z.object({
  places: z.number().nullable(),
  closesMinutes: z.number(),
  confirms: z.boolean().default(true),
}) satisfies z.ZodType<Registration>;

export const eventFacts = z.object({
  title: z.string().max(1000),
  description: z.string().max(100_000),
  zone: zoneName,
  // Versions stored before series existed say nothing of them.
  endZone: zoneName.default(''),
  span,
  series: series.nullable().default(null),
  venue: z.string().max(1000),
  joinLink: z.string().max(2000),
  topics: z.array(z.string().trim().min(1).max(60)).max(20).readonly(),
  entry: entry.default(plainEntry),
  isPersonal: z.boolean().default(false),
  registration: registration.nullable().default(null),
}) satisfies z.ZodType<EventFacts>;

/** Which dates of a series an edit is about. */
export const scope = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('all') }),
  z.object({ kind: z.literal('one'), key: z.string().max(20) }),
  z.object({ kind: z.literal('following'), key: z.string().max(20) }),
]) satisfies z.ZodType<Scope>;

export const eventStatus = z.enum(['draft', 'published', 'called-off']);
export type EventStatus = z.infer<typeof eventStatus>;
/** Who may see an event: everybody; whoever has its address; or only who was invited. */
export const eventReach = z.enum(['public', 'link', 'invited']);
export type EventReach = z.infer<typeof eventReach>;
const replyCounts = z.record(z.enum(replyStates), z.number());
export type ReplyCounts = z.infer<typeof replyCounts>;

export const eventRow = z.object({
  id: z.number(),
  title: z.string(),
  zone: z.string(),
  startAt: z.iso.datetime(),
  endAt: z.iso.datetime(),
  isAllDay: z.boolean(),
  /** The rule in words, for a series. */
  repeats: z.string(),
  status: eventStatus,
  topics: z.array(z.string()),
  replies: replyCounts,
  nextCue: z.object({ name: z.string(), dueAt: z.iso.datetime() }).nullable(),
});
export type EventRow = z.infer<typeof eventRow>;

/** Events with a date to come, soonest first, or those that are over, latest first. */
export const eventQuery = z.object({
  when: z.enum(['coming', 'past']).default('coming'),
  /** Words in the title or place. */
  search: z.string().max(200).default(''),
  /** Of one state; empty for all. */
  status: z.enum(['', ...eventStatus.options]).default(''),
  /** Of one topic; empty for all. */
  topic: z.string().max(60).default(''),
  /** How many stand before the page. */
  after: z.coerce.number().int().min(0).default(0),
});
export type EventQuery = z.infer<typeof eventQuery>;
export const eventPage = z.object({ rows: z.array(eventRow), total: z.number(), next: z.number().nullable() });
export type EventPage = z.infer<typeof eventPage>;

/** The dates of twelve months, from the month before this one, and which of them want one venue at one time. */
export const eventYear = z.object({
  from: z.iso.datetime(),
  to: z.iso.datetime(),
  zone: z.string(),
  dates: z.array(
    z.object({ eventId: z.number(), title: z.string(), venue: z.string(), at: z.iso.datetime(), isDraft: z.boolean() }),
  ),
  clashes: z.array(
    z.object({ at: z.iso.datetime(), venue: z.string(), titles: z.array(z.string()), eventIds: z.array(z.number()) }),
  ),
  /** There are more dates than are drawn. */
  isCut: z.boolean(),
});
export type EventYear = z.infer<typeof eventYear>;

/** Events whose cues another can take over. */
export const cueSources = z.array(z.object({ id: z.number(), title: z.string() }));
export type CueSources = z.infer<typeof cueSources>;
export const cueSourceQuery = z.object({
  /** Words in the title. */
  search: z.string().max(200).default(''),
  /** One that is asked for by its number. */
  id: z.coerce.number().int().optional(),
});
export type CueSourceQuery = z.infer<typeof cueSourceQuery>;

/** A new event says who may see it; where nobody said, only who is invited. */
export const newEvent = eventFacts.extend({ reach: eventReach.default('invited') });
export const changeReach = z.object({ reach: eventReach });
/** Lists that an event is going to invite. */
export const changeToInvite = z.object({ lists: z.array(z.number().int()).max(200) });
/** Addresses that were pasted for an event; a list is made of them. */
export const pasteToInvite = z.object({ text: z.string().max(mostImported) });
export const copyRequest = z.object({ withCountdown: z.boolean() });

export const eventDetail = z.object({
  id: z.number(),
  uid: z.string(),
  status: eventStatus,
  reach: eventReach,
  version: z.number(),
  sequence: z.number(),
  facts: eventFacts,
  /** Of the next occurrence; of the last one when all are over. */
  startAt: z.iso.datetime(),
  endAt: z.iso.datetime(),
  /** Empty where the event has no page, or no feed, for all. */
  pageUrl: z.string(),
  feedUrl: z.string(),
  invited: z.number(),
  /** Lists chosen to be invited, until they were. */
  toInvite: z.array(list),
});
export type EventDetail = z.infer<typeof eventDetail>;

/** Saving says which version was being looked at, so that nobody overwrites what a colleague just changed. */
export const saveEvent = z.object({
  facts: eventFacts,
  basedOn: z.number().int(),
  scope: scope.default({ kind: 'all' }),
});
/** What saving did: with "this and following" the dates from there on are an event of their own. */
export const savedEvent = z.object({ event: eventDetail, followingId: z.number().nullable() });
export type SavedEvent = z.infer<typeof savedEvent>;

/** A date of a series that is called off, put back, or added. */
export const changeDate = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('call-off'), key: z.string().max(20) }),
  z.object({ kind: z.literal('put-back'), key: z.string().max(20) }),
  z.object({ kind: z.literal('add'), at: z.string().max(32) }),
]);
export type ChangeDate = z.infer<typeof changeDate>;
export const changeDateRequest = z.object({ change: changeDate, basedOn: z.number().int() });

/** One date of a series as the marketer sees it. */
export const occurrenceRow = z.object({
  key: z.string(),
  startAt: z.iso.datetime(),
  endAt: z.iso.datetime(),
  facts: eventFacts,
  calledOff: z.boolean(),
  isChanged: z.boolean(),
  replies: replyCounts,
});
export type OccurrenceRow = z.infer<typeof occurrenceRow>;
export const occurrenceRows = z.array(occurrenceRow);

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
export const mostPicked = 5000;
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
/** What removing did: how many are gone, who is told, and until when it can be undone. */
export const removedGuests = z.object({ id: z.number(), removed: z.number(), told: z.number() });
export type RemovedGuests = z.infer<typeof removedGuests>;
/** A draft of a cue for some guests. */
export const preparedReminder = z.object({ cueId: z.number() });

export const guestPage = z.object({
  rows: z.array(guest),
  next: z.string().nullable(),
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

/** What a person wrote in words, to one of our addresses. */
/** So many are shown, the newest first. */
export const mostLetters = 100;
export const letterRow = z.object({
  id: z.number(),
  eventId: z.number().nullable(),
  subscriberId: z.number().nullable(),
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

export const wordingText = z.object({ subject: z.string().max(500), body: z.string().max(20_000) });
export type WordingText = z.infer<typeof wordingText>;

/** Lists and people, or with none of them those who are guests and hold nothing yet. */
export const invitePlanRequest = z.object({
  lists: z.array(z.number().int()).max(200),
  /** People by hand, beside the lists. */
  people: z.array(z.number().int()).max(mostPicked).default([]),
  channel: z.enum(['email', 'text']),
});
/** The people behind a count: those who get it (no reason), or those who do not, for one reason. */
export const behindCountRequest = z.object({
  of: z.discriminatedUnion('kind', [
    cueCountRequest.extend({ kind: z.literal('cue') }),
    invitePlanRequest.extend({ kind: z.literal('invitation') }),
  ]),
  reason: z.enum(reasons).nullable(),
  /** The number of the last one seen; 0 for the first page. */
  after: z.number().int().min(0),
});
export type BehindCountRequest = z.infer<typeof behindCountRequest>;
export const behindCountPage = z.object({ rows: z.array(person), next: z.number().nullable() });
export type BehindCountPage = z.infer<typeof behindCountPage>;

/** Above a hundred recipients the count seen by the person who presses the button must come along. */
export const sendInvitations = invitePlanRequest.extend({
  wording: wordingText,
  confirmedCount: z.number().int().nullable(),
  /** Read what is odd about it, and means it. */
  isSure: z.boolean().default(false),
  /** A draft is published with it. */
  publishes: z.boolean().default(false),
});

/** One thing about an invitation that was tried before anybody gets it. */
export const triedPart = z.object({
  part: z.enum(['entry', 'mail', 'house', 'join-link', 'link', 'web-calendar']),
  name: z.string(),
  isGood: z.boolean(),
  said: z.string(),
});
export type TriedPart = z.infer<typeof triedPart>;
export const tryOut = z.object({
  parts: z.array(triedPart),
  /** Links beyond those that are asked at once. */
  unasked: z.number(),
});
export type TryOut = z.infer<typeof tryOut>;
export const tryOutRequest = z.object({ wording: wordingText });
export const publishRequest = z.object({ isSure: z.boolean().default(false) });
export const sendTest = z.object({ personId: z.number().int().nullable(), wording: wordingText.nullable() });
const linkLine = z.object({
  part: z.enum(['title', 'start', 'end', 'zone', 'place', 'description', 'link']),
  says: z.string(),
  should: z.string(),
  faults: z.array(z.string()),
});
export const linkTest = z.object({ lines: z.array(linkLine), isGood: z.boolean() });
export type TestedLink = z.infer<typeof linkTest>;
export const testLinkRequest = z.object({
  link: z.string().min(1).max(20_000),
  personId: z.number().int().nullable(),
  occurrence: z.string().max(20).default(''),
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
  /** Octets of the whole message as it is handed to the mail server. */
  messageOctets: z.number(),
  /** By the person's own clock, as their calendar shows it. */
  when: z.string(),
  /** By the clock of the event where that differs, and how it repeats; may be empty. */
  whenThere: z.string(),
  entryText: z.string(),
  links: z.array(z.object({ name: z.string(), url: z.string(), isPersonal: z.boolean() })),
  blocks: z.object({ html: z.string(), text: z.string(), details: z.string() }),
  conformance: z.array(z.object({ rule: z.string(), source: z.string(), isKept: z.boolean(), found: z.string() })),
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
