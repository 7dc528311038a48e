import './jitless';
import * as z from 'zod';
import { languages } from '@convite/core';
import { problem } from './problem';

/** What a key is for. A program that has none of these may do nothing. */
export const programScopes = [
  'times:write',
  'subscribers:read',
  'subscribers:write',
  'lists:read',
  'lists:write',
  'consents:read',
  'consents:write',
] as const;
export type ProgramScope = (typeof programScopes)[number];

/** Rows in one request of a program. */
export const mostProgramRows = 500;
const pageOf = <T extends z.ZodType>(row: T) =>
  z.object({
    rows: z.array(row),
    next: z.number().nullable().describe('The `after` of the page behind it; null when there is none.'),
  });
const page = {
  after: z.coerce.number().int().min(0).default(0).describe('Rows behind this one; 0 for the first page.'),
  limit: z.coerce.number().int().min(1).max(200).default(50),
};
const atMost = <T extends z.ZodType>(row: T) => z.array(row).min(1).max(mostProgramRows);

export const programSubscriber = z
  .object({
    id: z.number().int(),
    email: z.string().describe('Empty where there is none.'),
    name: z.string(),
    mobile: z.string().describe('E.164; empty where there is none.'),
    phone: z.string().describe('A number that no text reaches; E.164.'),
    zone: z.string().describe('A name of the IANA tz database; empty where it is not known.'),
    language: z.string().describe('Empty where it is not known.'),
    emailConsent: z.boolean().describe('Is written to by email.'),
    textConsent: z.boolean().describe('Is sent texts.'),
    optedOut: z.boolean(),
    bounced: z.boolean(),
    lists: z.array(z.number().int()),
    topics: z.array(z.string()).describe('None in particular when there are none.'),
    fields: z.record(z.string(), z.string()).describe('Further fields by name; days as 2026-11-27.'),
  })
  .meta({ id: 'Subscriber' });
export type ProgramSubscriber = z.infer<typeof programSubscriber>;
export const programSubscriberPage = pageOf(programSubscriber);
export const programSubscriberQuery = z.object({
  ...page,
  email: z.string().max(254).optional().describe('Only who has this very address.'),
  list: z.coerce.number().int().positive().optional().describe('Only members of this list.'),
});
export type ProgramSubscriberQuery = z.infer<typeof programSubscriberQuery>;

const words = z
  .object({
    how: z.string().trim().min(1).max(200).describe('How they agreed, in words.'),
    on: z.iso.date().describe('On which day.'),
  })
  .meta({ id: 'ConsentWords' });
export const programPerson = z
  .object({
    email: z.string().max(254).optional(),
    mobile: z.string().max(60).optional().describe('In E.164, or as it is written in the house’s region.'),
    name: z.string().max(200).optional(),
    zone: z.string().max(64).optional().describe('A zone, or a city.'),
    language: z.enum(languages).optional(),
    lists: z.array(z.number().int()).max(20).optional().describe('Goes on these, and stays on others.'),
    topics: z.array(z.string().max(60)).max(50).optional(),
    fields: z.record(z.string().max(60), z.string().max(1000)).optional().describe('Fields that the house has.'),
    agreesToEmail: z.boolean().optional().describe('Agreed as `consent.email` says.'),
    agreesToTexts: z.boolean().optional().describe('Agreed as `consent.text` says.'),
  })
  .meta({ id: 'Person' });
export type ProgramPerson = z.infer<typeof programPerson>;
export const takeSubscribers = z.object({
  rows: atMost(programPerson),
  rule: z
    .enum(['fill', 'take', 'keep'])
    .default('fill')
    .describe('Of somebody who is known: fill what is empty, take what stands here, or keep what is there.'),
  consent: z
    .object({ email: words.optional(), text: words.optional() })
    .default({})
    .describe('Without it nobody is written to who was not before. Who opted out, or took it back, stays so.'),
});
export type TakeSubscribers = z.infer<typeof takeSubscribers>;
/** What became of one row. */
export const rowOutcome = z
  .object({
    index: z.number().int().describe('The row’s place in the request, from 0.'),
    id: z.number().int().nullable().describe('Whom it is about; null where the row was refused.'),
    outcome: z.enum(['new', 'changed', 'same', 'twice', 'noted', 'refused']),
    problems: z.array(problem.extend({ message: z.string() })),
  })
  .meta({ id: 'RowOutcome' });
export type RowOutcome = z.infer<typeof rowOutcome>;
export const rowOutcomes = z.object({ results: z.array(rowOutcome) });
export type RowOutcomes = z.infer<typeof rowOutcomes>;

export const programList = z
  .object({
    id: z.number().int(),
    name: z.string(),
    members: z.number().int(),
    isArchived: z.boolean(),
  })
  .meta({ id: 'List' });
export const programLists = z.object({ rows: z.array(programList) });
export const newProgramList = z.object({ name: z.string().trim().min(1).max(120) });
export const madeProgramList = z.object({ id: z.number().int() });
export const memberQuery = z.object(page);
export const memberPage = pageOf(z.number().int().describe('Numbers of subscribers.'));
const some = z.array(z.number().int()).max(5000).default([]);
export const changeMembers = z.object({ add: some, remove: some });
export type ChangeMembers = z.infer<typeof changeMembers>;
export const changedMembers = z.object({
  joined: z.array(z.number().int()),
  left: z.array(z.number().int()),
  unknown: z.array(z.number().int()).describe('Nobody of ours has these numbers.'),
});
export type ChangedMembers = z.infer<typeof changedMembers>;

const consentEntry = z
  .object({
    id: z.number().int(),
    subscriberId: z.number().int(),
    channel: z.enum(['email', 'text']),
    isGiven: z.boolean(),
    how: z.string(),
    source: z.string(),
    at: z.iso.datetime(),
  })
  .meta({ id: 'Consent' });
export type ProgramConsent = z.infer<typeof consentEntry>;
export const consentPage = pageOf(consentEntry);
export const consentQuery = z.object({
  ...page,
  subscriber: z.coerce.number().int().positive().optional().describe('Only what this person said.'),
});
export const noteConsents = z.object({
  rows: atMost(
    z
      .object({
        subscriberId: z.number().int().optional(),
        email: z.string().max(254).optional().describe('Instead of `subscriberId`.'),
        channel: z.enum(['email', 'text']),
        isGiven: z.boolean(),
        how: z.string().trim().min(1).max(200).describe('How they said so, in words.'),
        at: z.iso.datetime().describe('When; an instant that has been.'),
      })
      .meta({ id: 'ConsentSaid' }),
  ),
});
export type NoteConsents = z.infer<typeof noteConsents>;
