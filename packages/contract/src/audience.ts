import './jitless';
import * as z from 'zod';
import { fieldTypes, languages, placeKinds, reasons, replyStates, zoneSources, type Audience } from '@convite/core';
import { zoneName } from './zone';

export const person = z.object({ id: z.number(), name: z.string(), email: z.string(), mobile: z.string() });
export type Person = z.infer<typeof person>;

/** So many people can be dealt with by hand at once. */
export const mostPicked = 5000;
export const audience = z.object({
  invitees: z.array(z.enum(replyStates)).readonly(),
  lists: z.array(z.number().int()).max(200).readonly(),
  exceptLists: z.array(z.number().int()).max(200).readonly(),
  // Cues stored before it existed leave nobody out by their answer.
  exceptReplies: z.array(z.enum(replyStates)).readonly().default([]),
  topics: z.array(z.string()).readonly().nullable(),
  // Stored before there were segments.
  segments: z.array(z.number().int()).max(50).readonly().optional(),
  exceptSegments: z.array(z.number().int()).max(50).readonly().optional(),
  // Stored before people could be picked by hand.
  people: z.array(z.number().int()).max(mostPicked).readonly().optional(),
  exceptPeople: z.array(z.number().int()).max(mostPicked).readonly().optional(),
  came: z
    .array(z.enum(['attended', 'no-show']))
    .readonly()
    .optional(),
  ofTopics: z.boolean().optional(),
  places: z.array(z.enum(placeKinds)).readonly().optional(),
  exceptTextable: z.boolean().optional(),
  onlyGuests: z.boolean().optional(),
}) satisfies z.ZodType<Audience>;

/** How many get a message, and how many do not, because. */
export const audienceCount = z.object({
  gets: z.number(),
  /** Of those who get it: in quiet hours as it goes, and so a little later. */
  waiting: z.number().default(0),
  /** Of those who get it: of whom no name is known. */
  nameless: z.number().default(0),
  without: z.array(z.object({ reason: z.enum(reasons), count: z.number() })),
});
export type AudienceCount = z.infer<typeof audienceCount>;

/** A count while it is taken: of what share of all people, and what it is so far. The last line says 1. */
export const liveCount = z.object({ share: z.number().min(0).max(1), audience: audienceCount });
export type LiveCount = z.infer<typeof liveCount>;

/** A further field of people. */
export const personField = z.object({ id: z.number(), name: z.string(), type: z.enum(fieldTypes) });
export type PersonField = z.infer<typeof personField>;
export const personFields = z.array(personField);

/** `isArchived`: offered for nothing new, and still there where it is used. */
export const list = z.object({ id: z.number(), name: z.string(), count: z.number(), isArchived: z.boolean() });
export type List = z.infer<typeof list>;
export const lists = z.array(list);
export const listFields = z.object({
  name: z.string().trim().min(1).max(120),
  description: z.string().trim().max(500),
  isArchived: z.boolean(),
});
export type ListFields = z.infer<typeof listFields>;
/** `was`: what one began with. Where something else stands there by now, nothing is saved. */
export const listChange = listFields.extend({ was: listFields.optional() });
export type ListChange = z.infer<typeof listChange>;
export const listDetail = listFields.extend({
  id: z.number(),
  count: z.number(),
  /** Twelve months, this one last: who came, went, and began to bounce. */
  growth: z.array(z.object({ month: z.string(), came: z.number(), went: z.number(), bounced: z.number() })),
  /** What would miss it. */
  cues: z.array(z.object({ id: z.number(), name: z.string(), eventId: z.number() })),
  /** The newest cues are named; there are others. */
  hasMoreCues: z.boolean(),
  digests: z.array(z.object({ id: z.number(), name: z.string() })),
});
export type ListDetail = z.infer<typeof listDetail>;
/** All members of one list onto another: a new one of that name, or one that there is, after which the one is put away. */
export const pourList = z.discriminatedUnion('into', [
  z.object({ into: z.literal('copy'), name: z.string().trim().min(1).max(120) }),
  z.object({ into: z.literal('list'), listId: z.number().int() }),
]);
export type PourList = z.infer<typeof pourList>;
export const pourProgress = z.object({
  done: z.number(),
  total: z.number(),
  joined: z.number(),
  isOver: z.boolean(),
  listId: z.number(),
});
export type PourProgress = z.infer<typeof pourProgress>;

/** What somebody does not get any more for what was changed of them. */
export const leftOut = z.object({ leftOut: z.array(z.object({ name: z.string(), eventTitle: z.string() })) });
export type LeftOut = z.infer<typeof leftOut>;
export const newList = z.object({ name: z.string().trim().min(1).max(120) });

/** Numbers of people, to be named: `12,7`. */
export const namedQuery = z.object({
  ids: z
    .string()
    .max(4000)
    .regex(/^\d{1,15}(,\d{1,15}){0,199}$/)
    .transform((text) => text.split(',').map(Number)),
});
export const people = z.array(person);

export const subscriber = person.extend({
  zone: z.string(),
  textConsent: z.boolean(),
  /** `no-consent`: nobody said that they agreed, and they are not written to. */
  state: z.enum(['subscribed', 'opted-out', 'no-consent', 'bounced']),
  bounceText: z.string(),
  lists: z.array(z.string()),
});
export type Subscriber = z.infer<typeof subscriber>;
export const subscriberPage = z.object({
  rows: z.array(subscriber),
  next: z.number().nullable(),
  /** Of the list that is shown, where all of it is. */ total: z.number().nullable(),
});
export type SubscriberPage = z.infer<typeof subscriberPage>;
export const subscriberQuery = z.object({
  search: z.string().max(200).default(''),
  list: z.coerce.number().int().optional(),
  /** Those who are in it now; goes before the others. */
  segment: z.coerce.number().int().optional(),
  after: z.coerce.number().int().default(0),
  limit: z.coerce.number().int().min(1).max(200).default(50),
});

/** That somebody reads; empty where it is not known. */
const readerLanguage = z.union([z.enum(languages), z.literal('')]);

/** One person, with the lists they are on and what was taken down of their consent, newest first. */
export const personDetail = person.extend({
  zone: z.string(),
  language: readerLanguage,
  textConsent: z.boolean(),
  /** A number that no text reaches; empty for none. */
  phone: z.string(),
  /** How the zone is known. */
  zoneFrom: z.enum(zoneSources),
  /** False for who opted out, and for whom nobody said that they agreed. */
  emailConsent: z.boolean(),
  /** Said no, which is more than to have said nothing. */
  optedOut: z.boolean(),
  /** Asked for quiet until then; null for not. */
  pausedUntil: z.iso.datetime().nullable(),
  /** So many messages a week they want at most; null where they said nothing. */
  mostPerWeek: z.number().nullable(),
  /** Wants nothing noted of the pages that they open. */
  mindsNoting: z.boolean(),
  bounced: z.boolean(),
  bounceText: z.string(),
  lists: z.array(z.number()),
  topics: z.array(z.string()),
  /** Every further field, with what stands in it; empty for nothing. */
  fields: z.array(personField.extend({ typed: z.string() })),
  consents: z.array(
    z.object({
      channel: z.enum(['email', 'text']),
      isGiven: z.boolean(),
      how: z.string(),
      by: z.string(),
      at: z.iso.datetime(),
    }),
  ),
});
export type PersonDetail = z.infer<typeof personDetail>;
export const personEdit = z.object({
  name: z.string().max(200),
  email: z.string().max(254),
  mobile: z.string().max(40),
  zone: zoneName,
  language: readerLanguage,
  lists: z.array(z.number().int()).max(200),
  topics: z.array(z.string().trim().min(1).max(60)).max(100),
  /** By the fields’ numbers. */
  fields: z.record(z.string().regex(/^\d+$/), z.string().max(1000)),
  textConsent: z.boolean(),
  emailConsent: z.boolean(),
  /** The address is written to again, although it bounced. */
  liftBounce: z.boolean(),
  /** How the person said so; needed where a consent or a suppression changes. */
  how: z.string().max(300),
});
export type PersonEdit = z.infer<typeof personEdit>;
/** `was`: what one began with. Where something else stands there by now, nothing is saved. */
export const personChange = personEdit.extend({ was: personEdit.optional() });
export type PersonChange = z.infer<typeof personChange>;

/** What can be changed of somebody, as it stands; nothing is said yet of how. */
export const editOf = ({
  name,
  email,
  mobile,
  zone,
  language,
  lists,
  topics,
  fields,
  textConsent,
  emailConsent,
}: PersonDetail): PersonEdit => ({
  name,
  email,
  mobile,
  zone,
  language,
  lists,
  topics,
  fields: Object.fromEntries(fields.map(({ id, typed }) => [String(id), typed])),
  textConsent,
  emailConsent,
  liftBounce: false,
  how: '',
});

/** Characters that are taken in at once. */
export const mostImported = 2_000_000;
