import './jitless';
import * as z from 'zod';
import { span } from './event';
import { pictureShown } from './picture';
import {
  designs,
  languages,
  mayBePressed,
  mergeFields,
  purposes,
  replyStates,
  tones,
  type Block,
  type FieldName,
  type Inline,
  type Only,
  type Version,
  type WordingDocument,
} from '@convite/core';

const isField = (name: string): name is FieldName => Object.hasOwn(mergeFields, name);

/** So much a message may say; more is a file, not a letter. */
const mostText = 20_000;
const mostBlocks = 300;
const mostHtml = 60_000;
const mostPieces = 500;

/** Of a wording that is kept: a word of ours for those that come with Convite, `own-…` for all others. */
const wordingKey = z.string().regex(/^[a-zA-Z0-9-]{1,40}$/);

const marks = { bold: z.boolean().optional(), italic: z.boolean().optional() };
const text = z.string().max(mostText);
const address = z.string().max(2000);
const inline = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('text'), text, link: address.optional(), ...marks }),
  z.object({
    kind: z.literal('field'),
    field: z.string().max(60).refine(isField),
    fallback: z.string().max(200),
    ...marks,
  }),
  z.object({ kind: z.literal('break') }),
]) satisfies z.ZodType<Inline>;
const line = z.array(inline).max(mostPieces).readonly();

/** For whom a block stands. */
export const only = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('reply'), replies: z.array(z.enum(replyStates)).min(1).max(4).readonly() }),
  z.object({ kind: z.enum(['online', 'in-place', 'elsewhere']) }),
  z.object({ kind: z.literal('topic'), topic: z.string().min(1).max(60) }),
]) satisfies z.ZodType<Only>;
const forSome = { only: only.optional() };

const leaves = [
  z.object({ ...forSome, kind: z.literal('heading'), line }),
  z.object({ ...forSome, kind: z.literal('paragraph'), line }),
  z.object({ ...forSome, kind: z.literal('quote'), line }),
  z.object({ ...forSome, kind: z.literal('divider') }),
  z.object({
    ...forSome,
    kind: z.literal('list'),
    items: z.array(line).max(200).readonly(),
    isNumbered: z.boolean().optional(),
  }),
  z.object({ ...forSome, kind: z.literal('button'), label: z.string().max(120), address: inline }),
  z.object({ ...forSome, kind: z.literal('picture'), ...pictureShown, link: address.optional() }),
] as const;
/** Stored beside where an event is coming up; what is sent in one's place is looked up anew. */
const comingEvent = z.object({
  title: z.string().max(mostText),
  url: address,
  facts: z.object({ span, zone: z.string(), endZone: z.string() }),
});

const block = z.discriminatedUnion('kind', [
  ...leaves,
  z.object({ ...forSome, kind: z.literal('plain'), text }),
  z.object({ ...forSome, kind: z.literal('quoted'), text }),
  z.object({
    ...forSome,
    kind: z.literal('html'),
    html: z.string().max(mostHtml),
    text: z.string().max(mostHtml).optional(),
  }),
  z.object({
    ...forSome,
    kind: z.literal('columns'),
    columns: z
      .array(z.array(z.discriminatedUnion('kind', leaves)).max(50).readonly())
      .min(1)
      .max(3)
      .readonly(),
  }),
  z.object({
    ...forSome,
    kind: z.literal('table'),
    rows: z.array(z.array(line).min(1).max(8).readonly()).min(1).max(60).readonly(),
    hasHead: z.boolean().optional(),
  }),
  z.object({ ...forSome, kind: z.enum(['event', 'calendar', 'places']) }),
  z.object({ ...forSome, kind: z.literal('reply'), tone: z.enum(tones).optional() }),
  z.object({ ...forSome, kind: z.literal('opening'), tone: z.enum(tones) }),
  z.object({
    ...forSome,
    kind: z.literal('coming'),
    days: z.number().int().min(1).max(366),
    events: z.array(comingEvent).max(50).readonly().optional(),
  }),
  z.object({ ...forSome, kind: z.literal('house'), key: wordingKey, name: z.string().max(120) }),
  z.object({
    ...forSome,
    kind: z.literal('entry'),
    title: text,
    url: address,
    about: text,
    lead: text,
  }),
]) satisfies z.ZodType<Block>;

const version = z.object({
  subject: z.string().max(500),
  preheader: z.string().max(300).optional(),
  blocks: z.array(block).max(mostBlocks).readonly(),
  plain: z.object({ text, of: z.string().max(10 * mostText) }).optional(),
}) satisfies z.ZodType<Version>;

/** Characters in all its languages: three times what mail programs cut off. Each message of it is composed for each person. */
const mostLength = 300_000;

/** A wording as it is stored, and frozen with what goes out: also one from before what may be written had these bounds. */
export const wordingDocument = version.extend({
  design: z.enum(designs).optional(),
  languages: z.partialRecord(z.enum(languages), version).optional(),
  from: wordingKey.optional(),
}) satisfies z.ZodType<WordingDocument>;

/** Where the events in a block lead. */
const addressesIn = (one: Block): readonly string[] =>
  one.kind === 'entry' ? [one.url] : one.kind === 'coming' ? (one.events ?? []).map(({ url }) => url) : [];

/** A wording as somebody writes it: asked of whoever sends one, by the edge alone. */
export const writtenWording = wordingDocument
  .refine(
    (document) => JSON.stringify(document).length <= mostLength,
    'The message is too long: all its languages together take more than 300,000 characters. Shorten it, or link to a page.',
  )
  .refine(
    // The same rule as when it is rendered; empty for nowhere.
    ({ blocks, languages: others }) =>
      [blocks, ...Object.values(others ?? {}).map((one) => one.blocks)]
        .flat()
        .flatMap(addressesIn)
        .every((url) => url === '' || mayBePressed(url)),
    'An event in the message has an address that is not a web address.',
  ) satisfies z.ZodType<WordingDocument>;

/** What a text message is: one block of typed text. */
export const noWording: WordingDocument = { subject: '', blocks: [] };

/** What can be said of a wording that is kept, and changed. */
export const keptFields = z.object({
  name: z.string().trim().min(1).max(120),
  purpose: z.enum(purposes),
  channel: z.enum(['email', 'text']),
  wording: wordingDocument,
});
export type KeptFields = z.infer<typeof keptFields>;
/** `was`: what one began with. Where something else stands there by now, nothing is saved. */
export const keptChange = keptFields.extend({ wording: writtenWording, was: keptFields.optional() });
export type KeptChange = z.infer<typeof keptChange>;

/** What came of a wording: what was sent, and who answered or opted out within a week of it. */
export const came = z.object({ sent: z.number(), replies: z.number(), optOuts: z.number() });
export type Came = z.infer<typeof came>;
export const noneCame: Came = { sent: 0, replies: 0, optOuts: 0 };

export const keptRow = z.object({
  key: z.string(),
  name: z.string(),
  purpose: z.enum(purposes),
  channel: z.enum(['email', 'text']),
  /** Its subject, or how a text begins. */
  says: z.string(),
  /** When it goes by itself, in words; empty for one that only people use. */
  goes: z.string(),
  /** In which it is said beside its first. */
  languages: z.array(z.enum(languages)),
  /** Comes with Convite. */
  isShipped: z.boolean(),
  /** Says something else by now than what came. */
  isChanged: z.boolean(),
  isArchived: z.boolean(),
  /** Null for one as it came. */
  changedAt: z.iso.datetime().nullable(),
  changedBy: z.string(),
  /** When a cue or a digest was last written from it; null for never. */
  usedAt: z.iso.datetime().nullable(),
  /** What came of messages that were begun from it; all 0 where none went. */
  came,
});
export const keptRows = z.array(keptRow);
export type KeptRow = z.infer<typeof keptRow>;

/** One of them: what it says, what it said before, and what says it. */
export const keptWording = keptRow.extend({
  version: z.number(),
  wording: wordingDocument,
  /** As it came with Convite; null for one of the house's own. */
  original: wordingDocument.nullable(),
  /** The newest first. */
  versions: z.array(z.object({ number: z.number(), at: z.iso.datetime(), by: z.string() })),
  usedBy: z.array(z.object({ cueId: z.number(), name: z.string(), eventId: z.number(), eventTitle: z.string() })),
  /** Digests and other wordings that say it, where it is a block of the house. */
  alsoIn: z.array(z.string()),
  /** There are more that say it than those named. */
  hasMoreUses: z.boolean(),
});
export type KeptWording = z.infer<typeof keptWording>;

/** Blocks of the house that stand in many messages: changed once, changed in all that is not sent yet. */
export const houseBlocks = z.array(z.object({ key: wordingKey, name: z.string() }));
export type HouseBlock = z.infer<typeof houseBlocks>[number];

/** What somebody may begin from: a kept wording, or a cue of any event (`cue-12`). */
export const offeredWordings = z.array(z.object({ key: z.string(), name: z.string(), about: z.string() }));
export type OfferedWording = z.infer<typeof offeredWordings>[number];
export const offeredQuery = z.object({
  search: z.string().max(120).default(''),
  channel: z.enum(['email', 'text']),
  ofEvent: z.stringbool().default(true),
});
export type OfferedQuery = z.infer<typeof offeredQuery>;
export const begunWording = z.object({ wording: wordingDocument });

/** A kept wording as somebody would read it of an event; the next of the house where none is named. */
export const keptPreviewRequest = z.object({
  channel: z.enum(['email', 'text']),
  wording: writtenWording,
  eventId: z.number().int().positive().nullable(),
  personId: z.number().int().positive().nullable(),
});
export type KeptPreviewRequest = z.infer<typeof keptPreviewRequest>;
