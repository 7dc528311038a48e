import type { FieldName } from './fields';

/** A piece of a line. */
export type Inline =
  | { readonly kind: 'text'; readonly text: string; readonly bold?: boolean; readonly link?: string }
  /** What a merge field says of the person or the event; the fallback stands in where it says nothing. */
  | { readonly kind: 'field'; readonly field: FieldName; readonly fallback: string };

/** A part of a message, one below the other. */
export type Block =
  /** Text as it was typed, with `{{fields}}`: blank lines part paragraphs, addresses become links. */
  | { readonly kind: 'plain'; readonly text: string }
  /** What a stranger wrote: nothing in it is a field or a link. */
  | { readonly kind: 'quoted'; readonly text: string }
  | { readonly kind: 'heading'; readonly line: readonly Inline[] }
  | { readonly kind: 'paragraph'; readonly line: readonly Inline[] }
  | { readonly kind: 'list'; readonly items: readonly (readonly Inline[])[] }
  /** To be pressed. The address may be a field. */
  | { readonly kind: 'button'; readonly label: string; readonly address: Inline }
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
  readonly blocks: readonly Block[];
}

/** A message that was typed as plain text is one block. */
export const plainDocument = (subject: string, text: string): WordingDocument => ({
  subject,
  blocks: text === '' ? [] : [{ kind: 'plain', text }],
});

/** A document as whoever edits it as plain text sees it. */
export const plainTextOf = ({ blocks }: WordingDocument): string =>
  blocks.flatMap((block) => (block.kind === 'plain' || block.kind === 'quoted' ? [block.text] : [])).join('\n\n');
