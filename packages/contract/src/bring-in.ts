import './jitless';
import * as z from 'zod';
import {
  changedParts,
  columnFacts,
  fieldTypes,
  longestField,
  mergeRules,
  writtenOrders,
  type ColumnTarget,
} from '@convite/core';
import { problem } from './problem';

/** Rows are handed in so many at a time, and so many characters of them. */
export const mostRowsAtOnce = 1000;
export const mostCharactersAtOnce = 700_000;
/** Lists and topics of one column, each once, that can be chosen to be taken. */
export const mostNamed = 500;

const rule = z.enum(mergeRules);
export const columnTarget = z.discriminatedUnion('to', [
  z.object({ to: z.literal('nothing') }),
  z.object({ to: z.enum(columnFacts), rule }),
  z.object({
    to: z.literal('field'),
    name: z.string().trim().min(1).max(longestField),
    type: z.enum(fieldTypes),
    rule,
    order: z.enum(writtenOrders).nullable(),
    isCountry: z.boolean(),
  }),
  z.object({
    to: z.enum(['lists', 'topics']),
    known: z.array(z.string().trim().min(1).max(120)).max(mostNamed).readonly(),
  }),
]) satisfies z.ZodType<ColumnTarget>;
export const columnTargets = z.array(columnTarget).min(1).max(200);

/** How people agreed, in words, and on which day; null where nobody knows. */
const consentWords = z.object({ how: z.string().trim().min(1).max(200), on: z.iso.date() }).nullable();
export type ConsentWords = z.infer<typeof consentWords>;

export const peopleImportFields = z.object({
  /** Of the file, or what was done: `members.csv`, `pasted`. */
  name: z.string().trim().min(1).max(200),
  columns: columnTargets,
  /** As they stand in the file: one of the same headings is offered the same columns, and what was not taken goes back under them. */
  headings: z.array(z.string().max(5000)).max(200),
  /** All of them go on it; null for none. */
  listId: z.number().int().nullable(),
  emailConsent: consentWords,
  textConsent: consentWords,
});
export type PeopleImportFields = z.infer<typeof peopleImportFields>;

/** Some rows of it, each with its number in the file and its cells as they stand. */
export const peopleImportRows = z.object({
  rows: z
    .array(
      z.object({
        number: z.number().int().min(0).max(100_000_000),
        cells: z.array(z.string().max(5000)).max(200).readonly(),
      }),
    )
    .min(1)
    .max(mostRowsAtOnce),
});
export type PeopleImportRows = z.infer<typeof peopleImportRows>;

/** What becomes of a row: a new person; one who is known, with changes or without; known by another spelling; not taken. */
export const rowKinds = ['new', 'changed', 'same', 'spelled', 'refused', 'twice'] as const;
export type RowKind = (typeof rowKinds)[number];
export const importStates = ['draft', 'running', 'stopped', 'done', 'undoing', 'undone'] as const;

export const peopleImport = z.object({
  id: z.number(),
  name: z.string(),
  by: z.string(),
  listId: z.number().nullable(),
  listName: z.string(),
  state: z.enum(importStates),
  startedAt: z.iso.datetime(),
  /** Rows by what becomes of them. */
  counts: z.object({
    new: z.number(),
    changed: z.number(),
    same: z.number(),
    spelled: z.number(),
    refused: z.number(),
    twice: z.number(),
  }),
  /** Rows that are known and opted out, or bounce: they stay so. */
  optedOut: z.number(),
  bounced: z.number(),
  /** Numbers that no text reaches, and zones that are a guess. */
  landlines: z.number(),
  guessedZones: z.number(),
  /** New people who are stored and not written to. */
  withoutConsent: z.number(),
  /** Rows in it, and how many of them have been taken in, or taken back. */
  total: z.number(),
  position: z.number(),
  /** Who joined a list by it. */
  joined: z.number(),
  /** Until then it can be taken back. */
  undoUntil: z.iso.datetime().nullable(),
});
export type PeopleImport = z.infer<typeof peopleImport>;
export const peopleImports = z.array(peopleImport);

export const personChangeRow = z.object({
  part: z.enum(changedParts),
  name: z.string(),
  before: z.string(),
  after: z.string(),
});
export const importRow = z.object({
  number: z.number(),
  kind: z.enum(rowKinds),
  name: z.string(),
  email: z.string(),
  mobile: z.string(),
  phone: z.string(),
  zone: z.string(),
  isZoneGuessed: z.boolean(),
  changes: z.array(personChangeRow),
  problems: z.array(problem),
  /** Whom it is about, where they are known: `spelled` is how they stand here. */
  personId: z.number().nullable(),
  spelled: z.string(),
});
export type ImportRow = z.infer<typeof importRow>;
export const importRowPage = z.object({ rows: z.array(importRow), next: z.number().nullable() });
export type ImportRowPage = z.infer<typeof importRowPage>;
export const importRowQuery = z.object({
  kind: z.enum(rowKinds).optional(),
  after: z.coerce.number().int().min(-1).default(-1),
});

/** `rows`: how many were handed in, so that none is missing. `spelled`: whom another spelling means. */
export const takeImport = z.object({ rows: z.number().int().min(1), spelled: z.enum(['known', 'new']) });
export type TakeImport = z.infer<typeof takeImport>;
export const changePeopleImport = z.object({ change: z.enum(['stop', 'go-on', 'undo', 'discard']) });
export type PeopleImportChange = z.infer<typeof changePeopleImport>['change'];
export const importProgress = z.object({ position: z.number(), total: z.number(), isOver: z.boolean() });
export type ImportProgress = z.infer<typeof importProgress>;

export const headingsRequest = z.object({ headings: z.array(z.string().max(5000)).max(200) });
export const rememberedColumns = z.object({ columns: columnTargets.nullable() });
