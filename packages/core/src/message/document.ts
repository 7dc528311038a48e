import type { Language } from '../time/language';
import type { Tone } from './block-words';
import type { FieldName, WhenFacts } from './fields';
import type { Design } from './look';
import type { Only } from './only';

/** How a piece of a line stands out. */
export interface Marks {
  readonly bold?: boolean | undefined;
  readonly italic?: boolean | undefined;
}

/** A piece of a line. */
export type Inline =
  | ({ readonly kind: 'text'; readonly text: string; readonly link?: string | undefined } & Marks)
  /** What a merge field says of the person or the event; the fallback stands in where it says nothing. */
  | ({ readonly kind: 'field'; readonly field: FieldName; readonly fallback: string } & Marks)
  | { readonly kind: 'break' };

/** Blocks that say something of the event, each in the reader's own time and language. */
export const eventBlocks = ['event', 'calendar', 'reply', 'places'] as const;
export type EventBlock = (typeof eventBlocks)[number];

/** A part of a message, one below the other; for everybody, or only for some. */
export type Block = Shape & { readonly only?: Only | undefined };

/** Blocks that may stand side by side. */
export type LeafBlock =
  | { readonly kind: 'heading'; readonly line: readonly Inline[] }
  | { readonly kind: 'paragraph'; readonly line: readonly Inline[] }
  | { readonly kind: 'list'; readonly items: readonly (readonly Inline[])[]; readonly isNumbered?: boolean | undefined }
  /** Words of our own that stand apart. */
  | { readonly kind: 'quote'; readonly line: readonly Inline[] }
  | { readonly kind: 'divider' }
  /** To be pressed. The address may be a field. */
  | { readonly kind: 'button'; readonly label: string; readonly address: Inline }
  /** A picture of the house, named by what it is; in pixels. The words are read where it is not seen. */
  | {
      readonly kind: 'picture';
      readonly digest: string;
      readonly width: number;
      readonly height: number;
      readonly words: string;
      readonly link?: string | undefined;
    };

type Shape =
  | LeafBlock
  /** Text as it was typed, with `{{fields}}`: blank lines part paragraphs, addresses become links. What a text message is. */
  | { readonly kind: 'plain'; readonly text: string }
  /** Markup of the house's own, with `{{fields}}`; made harmless as a message goes, with what it says in plain text. */
  | { readonly kind: 'html'; readonly html: string; readonly text?: string | undefined }
  /** What a stranger wrote: nothing in it is a field or a link. */
  | { readonly kind: 'quoted'; readonly text: string }
  /** Two beside each other where there is room. */
  | { readonly kind: 'columns'; readonly columns: readonly (readonly LeafBlock[])[] }
  | {
      readonly kind: 'table';
      readonly rows: readonly (readonly (readonly Inline[])[])[];
      /** The first row says what the columns are. */
      readonly hasHead?: boolean | undefined;
    }
  /** When and where the event is; where to put it into a calendar; what the reader is down for. */
  | { readonly kind: 'event' | 'calendar' | 'places' }
  /** Yes, perhaps and no to press. */
  | { readonly kind: 'reply'; readonly tone?: Tone | undefined }
  /** How the message begins: by name, in a tone. */
  | { readonly kind: 'opening'; readonly tone: Tone }
  /** What else is coming up within so many days; which these are is looked up as the message goes. */
  | { readonly kind: 'coming'; readonly days: number; readonly events?: readonly ComingEvent[] | undefined }
  /** Blocks of the house that stand in many messages, by the key of the wording that they are. */
  | { readonly kind: 'house'; readonly key: string; readonly name: string }
  /** One of several things that are coming up: what it is called, where it is found, and a line about it. */
  | {
      readonly kind: 'entry';
      readonly title: string;
      readonly url: string;
      readonly about: string;
      readonly lead: string;
    };

export interface ComingEvent {
  readonly title: string;
  /** Its page. */
  readonly url: string;
  readonly facts: WhenFacts;
}

/** What a message says in one language. */
export interface Version {
  /** With `{{fields}}`; empty for a text message. */
  readonly subject: string;
  /** What mail programs show beside the subject, with `{{fields}}`; left out, they show how the message begins. */
  readonly preheader?: string | undefined;
  readonly blocks: readonly Block[];
  /** Its plain text where somebody wrote that apart, with `{{fields}}`, and what the blocks said at the time. */
  readonly plain?: { readonly text: string; readonly of: string } | undefined;
}

/** A message before it is filled for anybody. */
export interface WordingDocument extends Version {
  /** How it is laid out; left out, as the house does. */
  readonly design?: Design | undefined;
  /** The same in other languages. Who reads none of them gets the first. */
  readonly languages?: Readonly<Partial<Record<Language, Version>>> | undefined;
  /** Which kept wording it was begun from, by its key; absent where from none. */
  readonly from?: string | undefined;
}

/** A message that was typed as plain text is one block. */
export const plainDocument = (subject: string, text: string): WordingDocument => ({
  subject,
  blocks: text === '' ? [] : [{ kind: 'plain', text }],
});
