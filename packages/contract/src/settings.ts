import './jitless';
import * as z from 'zod';
import {
  clocks,
  dayOrders,
  designs,
  faces,
  languages,
  noPace,
  noPressure,
  type HousePressure,
  type HouseQuiet,
} from '@convite/core';
import { pictureShown } from './picture';
import { role } from './session';
import { zoneName } from './zone';

const bound = z.number().int().min(1).max(10_000_000).nullable();
/** How many messages a channel lets out; null for no bound. */
export const pace = z.object({ perSecond: bound, perHour: bound, perDay: bound });

/** How often one person is written to at most. */
export const housePressure = z.object({
  perWeek: z.number().int().min(1).max(50).nullable(),
  sparesComers: z.boolean(),
}) satisfies z.ZodType<HousePressure>;

const clockTime = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/);
/** When people are not written to, on each one's own clock; over midnight where the end is the earlier. */
export const houseQuiet = z
  .object({
    from: clockTime,
    until: clockTime,
    channels: z
      .array(z.enum(['email', 'text']))
      .min(1)
      .max(2)
      .readonly(),
    manner: z.enum(['wait', 'out', 'before']).optional(),
  })
  .refine(({ from, until }) => from !== until, {
    path: ['until'],
    error: 'They end as they begin.',
  }) satisfies z.ZodType<HouseQuiet>;

const colour = z.string().regex(/^#[0-9a-f]{6}$/i);
/** Whether pressed links are counted: not at all, by message without saying who, or by person. */
export const linkCounting = ['not', 'by-message', 'by-person'] as const;

/** How the house's mails look. */
export const houseLook = z.object({
  /** Of what says no other. */
  design: z.enum(designs),
  face: z.enum(faces),
  /** Stands at the top in place of the house's name; null for none. */
  mark: z.object(pictureShown).nullable(),
  /** A line under the house's name. */
  header: z.string().trim().max(160),
  /** Under every message, before the line that parts it from the rest. */
  signature: z.string().trim().max(500),
  /** Above the postal address. */
  footer: z.string().trim().max(500),
  /** Pictures come inside each mail; else programs fetch them. */
  carriesPictures: z.boolean().default(false),
});
export type HouseLook = z.infer<typeof houseLook>;
export const plainLook: HouseLook = {
  ...{ design: 'letter', face: 'bookish', mark: null, header: '', signature: '', footer: '' },
  carriesPictures: false,
};

/** How a mail would look. */
export const lookPreviewRequest = z.object({ look: houseLook, colour });
export type LookPreviewRequest = z.infer<typeof lookPreviewRequest>;

export const settings = z.object({
  organisation: z.string().trim().min(1).max(120),
  /** Empty until somebody fills it in: until then nothing goes out. */
  postalAddress: z
    .string()
    .trim()
    .max(500)
    .transform((text) => (text === 'Fill in your postal address in Settings' ? '' : text)),
  zone: zoneName,
  /** In which order a day stands that is typed in numbers. */
  dayOrder: z.enum(dayOrders).default('day-first'),
  /** How the house looks on its public pages. */
  page: z
    .object({
      /** `#rrggbb`, of links and buttons. */
      colour,
      /** Where a place is found on a map (RFC 6570, `place`); empty for nowhere. */
      mapPattern: z.string().trim().max(500),
    })
    .default({ colour: '#4a2545', mapPattern: '' }),
  /** How its mails look, beside its colour. */
  look: houseLook.default(plainLook),
  /** Hours of the day, or of each half of it. */
  clock: z.enum(clocks).default('24'),
  /** In which days and times are said to subscribers whose own language is not known. */
  language: z.enum(languages).default('en'),
  /** On which day a week begins: 1 is Monday, 7 is Sunday. */
  firstWeekday: z.union([z.literal(1), z.literal(7)]).default(1),
  /** So long before it goes a firing announces itself, and may be stopped; and who is told of it. */
  standby: z
    .object({
      minutes: z.number().int().min(2).max(60),
      email: z.union([z.email(), z.literal('')]),
      mobile: z.string().trim().max(30),
    })
    .default({ minutes: 10, email: '', mobile: '' }),
  /** What goes to more people asks once more. */
  askAbove: z.number().int().min(1).max(1_000_000).default(100),
  /** On which weekdays the house works: 1 is Monday. */
  workdays: z.array(z.number().int().min(1).max(7)).max(7).default([1, 2, 3, 4, 5]),
  /** Days on which it does not. */
  holidays: z.array(z.iso.date()).max(1000).default([]),
  /** ISO 3166 code that national telephone numbers are read in. */
  region: z.string().regex(/^[A-Z]{2}$/),
  sender: z.object({
    name: z.string().trim().min(1).max(120),
    email: z.email(),
    replyTo: z.union([z.email(), z.literal('')]),
  }),
  /** Where letters of people are handed on to; empty for nowhere. */
  lettersTo: z.union([z.email(), z.literal('')]).default(''),
  textSender: z.string().trim().min(1).max(20),
  /** What the mail server and the text gateway allow. */
  pace: z.object({ email: pace, text: pace }).default({ email: noPace, text: noPace }),
  webCalendars: z
    .array(z.object({ name: z.string().trim().min(1).max(60), pattern: z.string().trim().min(1).max(2000) }))
    .max(10),
  /** What went out longer ago is dropped, month by month; null for never. */
  keepMonths: z.number().int().min(3).max(240).nullable().default(null),
  topics: z.array(z.string().trim().min(1).max(60)).max(50),
  /** Watched calendars may stand inside the house's own network. */
  allowPrivateAddresses: z.boolean().default(false),
  /** How often one person is written to (core's `HousePressure`). */
  pressure: housePressure.default(noPressure),
  /** When people are not disturbed (core's `HouseQuiet`); null for never. */
  quiet: houseQuiet.nullable().default(null),
  /** Which typed links of emails are pressed is counted: by message alone, or of each who does not mind. */
  countsLinks: z.enum(linkCounting).default('not'),
  /** Which mails are opened is counted, by a picture that nobody sees, of who does not mind. */
  countsOpens: z.boolean().default(false),
  /** What somebody writes goes only once a second member has read it. */
  asksRelease: z.boolean().default(false),
  /** Which pages people open by their own links is noted, of who does not mind. */
  notesPages: z.boolean().default(false),
  /** Words that messages are not to say. */
  avoidWords: z.array(z.string().trim().min(1).max(60)).max(100).default([]),
  /** What the text gateway asks for each part of a text; null where nobody said. */
  textPrice: z
    .object({ perPart: z.number().min(0).max(100), currency: z.string().regex(/^[A-Z]{3}$/) })
    .nullable()
    .default(null),
  /** Everybody on the team signs in with a second factor. */
  requiresSecondFactor: z.boolean().default(false),
});
export type Settings = z.infer<typeof settings>;

/** `was`: what one began with. Where something else stands there by now, nothing is saved. */
export const settingsChange = settings.extend({ was: settings.optional() });
export type SettingsChange = z.infer<typeof settingsChange>;

export const member = z.object({ id: z.number(), name: z.string(), email: z.string(), role });
/** `isInvited`: has not set a password yet. */
export const teamMember = member.extend({ isInvited: z.boolean(), hasSecondFactor: z.boolean() });
export type TeamMember = z.infer<typeof teamMember>;
export type Member = z.infer<typeof member>;
export const members = z.array(teamMember);
export const newMember = z.object({
  name: z.string().trim().min(1).max(120),
  email: z.email(),
  role,
});
export type NewMember = z.infer<typeof newMember>;
export const changeMember = z.object({ role });

export const auditRow = z.object({
  id: z.number(),
  at: z.iso.datetime(),
  by: z.string(),
  action: z.string(),
  what: z.string(),
  /** Where it came from, as far as that is known; empty otherwise. */
  address: z.string(),
});
export const auditPage = z.object({ rows: z.array(auditRow), next: z.number().nullable() });
export type AuditPage = z.infer<typeof auditPage>;
/** Kinds of actions, by the word that they begin with. */
export const auditKinds = [
  'sign-in',
  'account',
  'team',
  'key',
  'settings',
  'sender',
  'event',
  'invitation',
  'cue',
  'digest',
  'message',
  'wording',
  'notice',
  'sending',
  'list',
  'people',
  'person',
  'consents',
  'contact pressure',
  'webhook',
  'registration',
  'opt-out',
  'bounce',
  'calendar',
  'answer',
  'export',
  'links',
] as const;
const day = z.string().regex(/^\d{4}-\d{2}-\d{2}$/);
export const auditQuery = z.object({
  kind: z.enum(auditKinds).optional(),
  member: z.coerce.number().int().positive().optional(),
  /** Days in the house's zone, both included. */
  from: day.optional(),
  to: day.optional(),
  /** Rows older than this one. */
  before: z.coerce.number().int().positive().optional(),
});
export type AuditQuery = z.infer<typeof auditQuery>;
export type AuditRow = z.infer<typeof auditRow>;
