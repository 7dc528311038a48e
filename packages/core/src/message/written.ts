import type { Block, Inline, WordingDocument } from './document';
import { webAddress } from './html';
import { readWording } from './wording';

/** A message as whoever edits it as plain text sees it: fields in their braces, blocks about the event by fields that say the same. */
export const plainTextOf = ({ blocks }: Pick<WordingDocument, 'blocks'>): string =>
  blocks.map(textOfBlock).filter(Boolean).join('\n\n');

function textOfBlock(block: Block): string {
  switch (block.kind) {
    case 'plain':
    case 'quoted':
      return block.text;
    case 'html':
      return (
        block.text ??
        block.html
          .replace(/<[^>]{0,2000}>/g, ' ')
          .replace(/\s+/g, ' ')
          .trim()
      );
    case 'heading':
    case 'paragraph':
    case 'quote':
      return textOfLine(block.line);
    case 'list':
      return block.items
        .map((item, index) => `${block.isNumbered ? `${index + 1}.` : '-'} ${textOfLine(item)}`)
        .join('\n');
    case 'button':
      return `${block.label}: ${textOfLine([block.address])}`;
    case 'picture':
      return block.words && `[${block.words}]`;
    case 'divider':
      return '---';
    case 'entry':
      return block.lead;
    case 'table':
      return block.rows.map((row) => row.map(textOfLine).join(' | ')).join('\n');
    case 'columns':
      return block.columns.flat().map(textOfBlock).filter(Boolean).join('\n\n');
    case 'event':
      return '{{event.when}}\n{{event.place}}';
    case 'calendar':
      return '{{link.calendar}}';
    case 'reply':
      return '{{link.reply}}';
    case 'opening':
      return 'Dear {{person.firstName|friend}},';
    case 'house':
      return `[${block.name}]`;
    case 'places':
    case 'coming':
      return '';
  }
}

/** The plain text was written apart, and the blocks say something else since. */
export const hasDrifted = ({ blocks, plain }: Pick<WordingDocument, 'blocks' | 'plain'>): boolean =>
  plain !== undefined && plain.of !== plainTextOf({ blocks });

const textOfLine = (line: readonly Inline[]): string =>
  line
    .map((piece) => {
      if (piece.kind === 'break') return '\n';
      if (piece.kind === 'field') return `{{${piece.field}${piece.fallback ? `|${piece.fallback}` : ''}}}`;
      return piece.link && piece.link !== piece.text ? `${piece.text} (${piece.link})` : piece.text;
    })
    .join('');

/** A letter that was typed as plain text, as blocks: paragraphs, lists of lines that begin with `- `, fields and addresses. */
export const blocksOfText = (text: string): Block[] =>
  text
    .split(/\n{2,}/)
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part): Block => {
      const lines = part.split('\n');
      return lines.every((line) => line.startsWith('- '))
        ? { kind: 'list', items: lines.map((line) => inlinesOf(line.slice(2))) }
        : { kind: 'paragraph', line: inlinesOf(part) };
    });

/** The same of what is a document already: only what was typed as plain text becomes blocks. */
export const asBlocks = (document: WordingDocument): WordingDocument => ({
  ...document,
  blocks: document.blocks.flatMap((block) => (block.kind === 'plain' ? blocksOfText(block.text) : [block])),
});

/** Typed text as pieces: fields, addresses, and what stands between them. A field that cannot be read stays as it was typed. */
export const inlinesOf = (text: string): Inline[] =>
  readWording(text, '').nodes.flatMap((node): Inline[] =>
    'field' in node ? [{ kind: 'field', ...node }] : linesOf(node.text),
  );

const linesOf = (text: string): Inline[] =>
  text
    .split('\n')
    .flatMap((line, index): Inline[] => [...(index > 0 ? [{ kind: 'break' } as const] : []), ...addressesIn(line)]);

const addressesIn = (line: string): Inline[] =>
  line
    .split(webAddress)
    .map((piece, index): Inline =>
      index % 2 ? { kind: 'text', text: piece, link: piece } : { kind: 'text', text: piece },
    )
    .filter((piece) => piece.kind !== 'text' || piece.text !== '');

/** A letter of the house: what was typed, with blocks between. */
export const letter = (subject: string, ...parts: readonly (string | Block)[]): WordingDocument => ({
  subject,
  blocks: parts.flatMap((part) => (typeof part === 'string' ? blocksOfText(part) : [part])),
});
