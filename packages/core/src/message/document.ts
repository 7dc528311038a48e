import type { FieldName } from './fields';
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
export const eventBlocks = ['event', 'calendar', 'reply'] as const;
export type EventBlock = (typeof eventBlocks)[number];

/** A part of a message, one below the other; for everybody, or only for some. */
export type Block = Shape & { readonly only?: Only | undefined };

type Shape =
  /** Text as it was typed, with `{{fields}}`: blank lines part paragraphs, addresses become links. What a text message is. */
  | { readonly kind: 'plain'; readonly text: string }
  /** What a stranger wrote: nothing in it is a field or a link. */
  | { readonly kind: 'quoted'; readonly text: string }
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
    }
  /** When and where the event is; where to put it into a calendar; yes, perhaps and no to press. */
  | { readonly kind: EventBlock }
  /** One of several things that are coming up: what it is called, where it is found, and a line about it. */
  | {
      readonly kind: 'entry';
      readonly title: string;
      readonly url: string;
      readonly about: string;
      readonly lead: string;
    };

/** A message before it is filled for anybody. */
export interface WordingDocument {
  /** With `{{fields}}`; empty for a text message. */
  readonly subject: string;
  /** What mail programs show beside the subject, with `{{fields}}`; left out, they show how the message begins. */
  readonly preheader?: string | undefined;
  readonly blocks: readonly Block[];
  /** Which kept wording it was begun from, by its key; absent where from none. */
  readonly from?: string | undefined;
}

/** A message that was typed as plain text is one block. */
export const plainDocument = (subject: string, text: string): WordingDocument => ({
  subject,
  blocks: text === '' ? [] : [{ kind: 'plain', text }],
});
