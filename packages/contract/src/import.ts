import './jitless';
import * as z from 'zod';
import { eventFacts } from './event';
import { problem } from './problem';
import { programScopes } from './programs';

/** A calendar file goes over as it is (text/calendar); larger ones are refused. */
export const mostCalendarOctets = 10_000_000;

const foundEvent = z.object({
  uid: z.string(),
  line: z.number(),
  facts: eventFacts,
  when: z.string(),
  repeats: z.string(),
  calledOff: z.boolean(),
  attendees: z.number(),
  /** The event of ours that an earlier import made from it. */
  knownAs: z.number().nullable(),
});
export const foundCalendar = z.object({
  name: z.string(),
  events: z.array(foundEvent),
  total: z.number(),
  problems: z.array(problem),
});
export type FoundCalendar = z.infer<typeof foundCalendar>;

const yesOrNo = z.enum(['yes', 'no']).transform((word) => word === 'yes');
/** Said beside the file. `leaveOut`: lines of the file at which events begin that are not wanted. */
export const importCalendarChoice = z.object({
  leaveOut: z
    .string()
    .regex(/^(\d{1,8}(,\d{1,8}){0,499})?$/)
    .transform((lines) => new Set(lines.split(',').filter(Boolean).map(Number))),
  takeGuests: yesOrNo,
  publish: yesOrNo,
});
export const importedCalendar = z.object({
  added: z.number(),
  changed: z.number(),
  same: z.number(),
  guests: z.number(),
  /** Of a watched calendar: events to come that are not in it any more. They stay as they are. */
  gone: z.number().default(0),
  problems: z.array(problem),
});
export type ImportedCalendar = z.infer<typeof importedCalendar>;

/** A calendar elsewhere that is looked at again and again. */
export const watchFields = z.object({
  name: z.string().trim().min(1).max(120),
  url: z.string().trim().min(1).max(2000),
  /** Only events whose title or description holds this; empty for all. */
  search: z.string().trim().max(120),
  everyMinutes: z.number().int().min(5).max(10_080),
  /** Telephone numbers and addresses in the description become guests. */
  takesPeople: z.boolean(),
  /** Those people agreed to texts about this. */
  textConsent: z.boolean(),
  /** The event whose cues new events get; null for none. */
  cuesOfEvent: z.number().int().nullable(),
  publish: z.boolean(),
  isOn: z.boolean(),
});
export type WatchFields = z.infer<typeof watchFields>;
export const watchRow = watchFields.extend({
  id: z.number(),
  lookedAt: z.iso.datetime().nullable(),
  nextAt: z.iso.datetime(),
  outcome: z.string(),
  isFailing: z.boolean(),
});
export type WatchRow = z.infer<typeof watchRow>;
export const watchRows = z.array(watchRow);

/** People's own times, places and notes: by address, or by number. */
export const ownRow = z.object({
  email: z.string().max(254),
  mobile: z.string().max(30).default(''),
  name: z.string().max(200).default(''),
  start: z.string().max(40).default(''),
  end: z.string().max(40).default(''),
  place: z.string().max(1000).default(''),
  notes: z.string().max(10_000).default(''),
});
export const ownRequest = z.discriminatedUnion('kind', [
  /** From a program: rows as data. */
  z.object({ kind: z.literal('rows'), rows: z.array(ownRow).max(5000) }),
  /** A file with the columns email, start, end, place, notes (and name, mobile). */
  z.object({ kind: z.literal('csv'), text: z.string().max(2_000_000) }),
  /** From further columns that people's files had. */
  z.object({
    kind: z.literal('fields'),
    lists: z.array(z.number().int()).min(1).max(200),
    start: z.string().max(120),
    end: z.string().max(120),
    place: z.string().max(120),
    notes: z.string().max(120),
  }),
]);
export type OwnRequest = z.infer<typeof ownRequest>;
export const ownResult = z.object({ saved: z.number(), guests: z.number(), problems: z.array(problem) });
export type OwnResult = z.infer<typeof ownResult>;

export const apiKeys = z.array(
  z.object({
    id: z.number(),
    name: z.string(),
    /** The one event it is for; null for all. */
    eventId: z.number().nullable(),
    eventTitle: z.string(),
    scopes: z.array(z.enum(programScopes)),
    createdAt: z.iso.datetime(),
    usedAt: z.iso.datetime().nullable(),
    expiresAt: z.iso.datetime(),
  }),
);
export type ApiKeys = z.infer<typeof apiKeys>;
export const keyDays = [30, 90, 365] as const;
export const newApiKey = z.object({
  name: z.string().trim().min(1).max(120),
  eventId: z.number().int().nullable(),
  days: z.literal(keyDays),
  scopes: z.array(z.enum(programScopes)).min(1),
});
export type NewApiKey = z.infer<typeof newApiKey>;
export const madeApiKey = z.object({ key: z.string() });

/** What the house runs on, for Settings. */
export const about = z.object({ zoneData: z.string(), zones: z.number() });
export type About = z.infer<typeof about>;
