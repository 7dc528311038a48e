import './jitless';
import * as z from 'zod';
import {
  plainEntry,
  replyStates,
  type Entry,
  type EventFacts,
  type Registration,
  type Scope,
  type Series,
} from '@convite/core';
import { list, mostImported } from './audience';
import { zoneName } from './zone';

const wall = z.string().max(32);
export const span = z.discriminatedUnion('kind', [
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
  waitlist: z.boolean().optional(),
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
export const replyCounts = z.record(z.enum(replyStates), z.number());
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
  /** There are more dates, or clashes, than are drawn. */
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

/** Cues of any event, by words of their names. */
export const cueSearchQuery = z.object({ search: z.string().trim().min(1).max(200) });
export const foundCue = z.object({ id: z.number(), name: z.string(), eventId: z.number(), eventTitle: z.string() });
export type FoundCue = z.infer<typeof foundCue>;
export const foundCues = z.array(foundCue);

/** A new event says who may see it; where nobody said, only who is invited. */
export const newEvent = eventFacts.extend({ reach: eventReach.default('invited') });
/** Five minutes to two days; null for the usual hour. */
export const changeGrace = z.object({ minutes: z.number().int().min(5).max(2880).nullable() });
export const changeReach = z.object({ reach: eventReach });
/** Lists and segments that an event is going to invite. */
export const changeToInvite = z.object({
  lists: z.array(z.number().int()).max(200),
  segments: z.array(z.number().int()).max(50).default([]),
});
/** Addresses that were pasted for an event; a list is made of them. */
export const pasteToInvite = z.object({
  text: z.string().max(mostImported),
  /** How they agreed to be written to. */
  how: z.string().trim().min(1).max(200),
});
export const copyRequest = z.object({ withCountdown: z.boolean() });

export const eventDetail = z.object({
  id: z.number(),
  uid: z.string(),
  status: eventStatus,
  reach: eventReach,
  /** As whom it is written of; null for the house. */
  senderId: z.number().nullable(),
  /** Who holds all of its countdown; null where nobody does. */
  heldBy: z.string().nullable(),
  /** So many minutes late its cues may still go; null for the usual hour. */
  graceMinutes: z.number().nullable(),
  /** Who is told of what stands by, in place of the house's contact; both empty for that. */
  contact: z.object({ email: z.string(), mobile: z.string() }),
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
  /** Segments, the same; who is in one is asked when it is sent. */
  toInviteSegments: z.array(z.object({ id: z.number(), name: z.string() })),
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

/** Who is told of what stands by of an event. */
export const changeContact = z.object({
  email: z.union([z.email().max(254), z.literal('')]),
  mobile: z.string().trim().max(30),
});
export type ChangeContact = z.infer<typeof changeContact>;
