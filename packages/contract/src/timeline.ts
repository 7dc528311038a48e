import './jitless';
import * as z from 'zod';
import { lane } from './countdown';
import { messageRow } from './messages';

/** Something that was between the house and one person. */
export const timelineKinds = [
  'message',
  'invited',
  'answered',
  'registered',
  'came',
  'did-not-come',
  'opened',
  'agreed',
  'said-no',
] as const;
export const timelineRow = z.object({
  key: z.string(),
  at: z.iso.datetime(),
  kind: z.enum(timelineKinds),
  /** Of the event that it is about; empty for none. */
  eventId: z.number().nullable(),
  eventTitle: z.string(),
  /** The answer, the state of the place, the page, or how they said so. */
  text: z.string(),
  channel: z.enum(['email', 'text']).nullable(),
  message: messageRow.nullable(),
});
export type TimelineRow = z.infer<typeof timelineRow>;
/** Latest first. `next` names where the page behind it begins. */
export const timelinePage = z.object({ rows: z.array(timelineRow), next: z.string().nullable() });
export type TimelinePage = z.infer<typeof timelinePage>;
export const timelineQuery = z.object({
  after: z
    .string()
    .regex(/^(\d{1,16}:\d{1,16})?$/)
    .default(''),
});

/** What is planned for somebody within four weeks, and why not, where they are asked for and do not get it. */
export const comingRow = z.object({
  firingId: z.number(),
  dueAt: z.iso.datetime(),
  channel: lane,
  name: z.string(),
  eventId: z.number().nullable(),
  eventTitle: z.string(),
});
export const coming = z.object({
  rows: z.array(comingRow),
  /** Messages that they were sent in the last seven days, and are to be sent in the next seven. */
  lastWeek: z.number(),
  nextWeek: z.number(),
  /** Four weeks of days from today, in the house's zone, each with the messages that are planned for them. */
  days: z.array(z.object({ day: z.string(), value: z.number() })),
  /** Of those of the last seven days so many count, and so many may within a week; null for no limit. */
  counted: z.number(),
  most: z.number().nullable(),
  /** More is planned than was looked at. */
  hasMore: z.boolean(),
});
export type Coming = z.infer<typeof coming>;

export const personNote = z.object({ id: z.number(), text: z.string(), by: z.string(), at: z.iso.datetime() });
export const personNotes = z.array(personNote);
export type PersonNote = z.infer<typeof personNote>;
export const newNote = z.object({ text: z.string().trim().min(1).max(2000) });
