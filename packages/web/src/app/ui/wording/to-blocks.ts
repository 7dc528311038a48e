import type { JSONContent } from '@tiptap/core';
import { only as onlyShape } from '@convite/contract';
import {
  asBlocks,
  inlinesOf,
  mergeFields,
  tones,
  type Block,
  type FieldName,
  type Inline,
  type LeafBlock,
  type Marks,
  type Only,
  type WordingDocument,
} from '@convite/core';

import { aboutKinds } from './insertions';

/** What the editor holds, as a document's blocks. Fields that were typed or pasted in braces are fields. */
export const blocksOf = ({ content = [] }: JSONContent): Block[] =>
  content.flatMap((node) => {
    const only = onlyOf(node.attrs?.['only']);
    return blockOf(node).map((block) => (only ? { ...block, only } : block));
  });

/** For whom it stands, where it is one that is offered or was stored as such. */
function onlyOf(value: unknown): Only | null {
  const parsed = onlyShape.safeParse(value);
  return parsed.success ? parsed.data : null;
}

function blockOf({ type, attrs, content = [] }: JSONContent): Block[] {
  switch (type) {
    case 'heading':
      return whole('heading', lineOf(content));
    case 'paragraph':
      return whole('paragraph', lineOf(content));
    case 'blockquote':
      return whole('quote', joined(content));
    case 'bulletList':
    case 'orderedList': {
      const items = content.map((item) => joined(item.content ?? [])).filter(({ length }) => length > 0);
      return items.length ? [{ kind: 'list', items, ...(type === 'orderedList' && { isNumbered: true }) }] : [];
    }
    case 'horizontalRule':
      return [{ kind: 'divider' }];
    case 'aboutEvent':
      return aboutOf(attrs ?? {});
    case 'table': {
      const rows = content.map((row) => (row.content ?? []).map((cell) => joined(cell.content ?? [])));
      const hasHead = content[0]?.content?.every((cell) => cell.type === 'tableHeader') ?? false;
      return rows.length ? [{ kind: 'table', rows, ...(hasHead && { hasHead }) }] : [];
    }
    case 'htmlBlock': {
      const html = said(attrs?.['html']);
      return html.trim() ? [{ kind: 'html', html }] : [];
    }
    case 'columns':
      return [
        { kind: 'columns', columns: content.map((column) => (column.content ?? []).flatMap(blockOf).filter(isLeaf)) },
      ];
    case 'pictureBlock': {
      const { digest, width, height, words, link } = attrs ?? {};
      if (typeof digest !== 'string' || digest === '') return [];
      const size = { width: Number(width) || 1, height: Number(height) || 1 };
      return [{ kind: 'picture', digest, ...size, words: said(words), ...(said(link) && { link: said(link) }) }];
    }
    case 'pressButton': {
      const [address = { kind: 'text', text: '' } as const] = inlinesOf(String(attrs?.['address'] ?? ''));
      return [{ kind: 'button', label: String(attrs?.['label'] ?? ''), address }];
    }
    default:
      return [];
  }
}

const isLeaf = (block: Block): block is LeafBlock => leafKinds.some((kind) => kind === block.kind);
const leafKinds = ['heading', 'paragraph', 'list', 'quote', 'divider', 'button', 'picture'] as const;

function aboutOf({ kind, tone, days, key, name }: Readonly<Record<string, unknown>>): Block[] {
  const inTone = tones.find((one) => one === tone) ?? 'plain';
  switch (aboutKinds.find((one) => one === kind)) {
    case undefined:
      return [];
    case 'event':
      return [{ kind: 'event' }];
    case 'calendar':
      return [{ kind: 'calendar' }];
    case 'places':
      return [{ kind: 'places' }];
    case 'reply':
      return [{ kind: 'reply', ...(inTone !== 'plain' && { tone: inTone }) }];
    case 'opening':
      return [{ kind: 'opening', tone: inTone }];
    case 'coming':
      return [{ kind: 'coming', days: Math.min(366, Math.max(1, Math.round(Number(days)) || 30)) }];
    case 'house':
      return said(key) ? [{ kind: 'house', key: said(key), name: said(name) }] : [];
  }
}

const said = (value: unknown): string => (typeof value === 'string' ? value : '');

const whole = (kind: 'heading' | 'paragraph' | 'quote', line: readonly Inline[]): Block[] =>
  line.length ? [{ kind, line }] : [];

/** Paragraphs that stand within something, as one line with breaks. */
const joined = (paragraphs: readonly JSONContent[]): Inline[] =>
  paragraphs.flatMap(({ content = [] }, index) => [
    ...(index > 0 ? [{ kind: 'break' } as const] : []),
    ...lineOf(content),
  ]);

const lineOf = (pieces: readonly JSONContent[]): Inline[] =>
  pieces.flatMap((piece): Inline[] => {
    if (piece.type === 'hardBreak') return [{ kind: 'break' }];
    const marks = marksOf(piece);
    if (piece.type === 'mergeField') {
      const field = fieldNamed(piece.attrs?.['field']);
      return field ? [{ kind: 'field', field, fallback: String(piece.attrs?.['fallback'] ?? ''), ...marks }] : [];
    }
    const link: unknown = piece.marks?.find(({ type }) => type === 'link')?.attrs?.['href'];
    if (typeof link === 'string') return [{ kind: 'text', text: piece.text ?? '', link, ...marks }];
    return inlinesOf(piece.text ?? '').map((one) => (one.kind === 'break' ? one : { ...one, ...marks }));
  });

function marksOf({ marks = [] }: JSONContent): Marks {
  const has = (name: string): boolean => marks.some(({ type }) => type === name);
  return { ...(has('bold') && { bold: true }), ...(has('italic') && { italic: true }) };
}

const names = Object.keys(mergeFields);
const isField = (name: unknown): name is FieldName => typeof name === 'string' && names.includes(name);
const fieldNamed = (name: unknown): FieldName | null => (isField(name) ? name : null);

/** A document as the editor holds it. */
export function contentOf(wording: WordingDocument): JSONContent {
  const content = asBlocks(wording).blocks.flatMap((block) => {
    const nodes = nodeOf(block);
    const { only } = block;
    return only ? nodes.map((node) => ({ ...node, attrs: { ...node.attrs, only } })) : nodes;
  });
  return { type: 'doc', content: orEmpty(content) };
}

const orEmpty = (content: readonly JSONContent[]): JSONContent[] =>
  content.length ? [...content] : [{ type: 'paragraph' }];
const rowOf = (row: readonly (readonly Inline[])[], isHead: boolean): JSONContent => ({
  type: 'tableRow',
  content: row.map((line) => ({ type: isHead ? 'tableHeader' : 'tableCell', content: [paragraphOf(line)] })),
});

function nodeOf(block: Block): JSONContent[] {
  switch (block.kind) {
    case 'heading':
      return [{ type: 'heading', attrs: { level: 2 }, content: piecesOf(block.line) }];
    case 'paragraph':
      return [paragraphOf(block.line)];
    case 'quote':
      return [{ type: 'blockquote', content: [paragraphOf(block.line)] }];
    case 'list':
      return [
        {
          type: block.isNumbered ? 'orderedList' : 'bulletList',
          content: block.items.map((item) => ({ type: 'listItem', content: [paragraphOf(item)] })),
        },
      ];
    case 'divider':
      return [{ type: 'horizontalRule' }];
    case 'event':
    case 'calendar':
    case 'reply':
    case 'places':
    case 'opening':
    case 'coming':
    case 'house': {
      const { only: _, ...attrs } = block;
      return [{ type: 'aboutEvent', attrs }];
    }
    case 'html':
      return [{ type: 'htmlBlock', attrs: { html: block.html } }];
    case 'table':
      return [
        { type: 'table', content: block.rows.map((row, index) => rowOf(row, Boolean(block.hasHead) && index === 0)) },
      ];
    case 'columns':
      return [
        {
          type: 'columns',
          content: block.columns.map((column) => ({ type: 'column', content: orEmpty(column.flatMap(nodeOf)) })),
        },
      ];
    case 'picture': {
      const { kind: _, only: __, ...attrs } = block;
      return [{ type: 'pictureBlock', attrs }];
    }
    case 'button':
      return [{ type: 'pressButton', attrs: { label: block.label, address: addressOf(block.address) } }];
    default:
      return [];
  }
}

const paragraphOf = (line: readonly Inline[]): JSONContent => ({ type: 'paragraph', content: piecesOf(line) });

const addressOf = (piece: Inline): string => {
  if (piece.kind === 'break') return '';
  return piece.kind === 'field' ? `{{${piece.field}}}` : piece.text;
};

const piecesOf = (line: readonly Inline[]): JSONContent[] =>
  line.flatMap((piece): JSONContent[] => {
    if (piece.kind === 'break') return [{ type: 'hardBreak' }];
    const marks = [
      ...(piece.bold ? [{ type: 'bold' }] : []),
      ...(piece.italic ? [{ type: 'italic' }] : []),
      ...(piece.kind === 'text' && piece.link ? [{ type: 'link', attrs: { href: piece.link } }] : []),
    ];
    if (piece.kind === 'field')
      return [{ type: 'mergeField', attrs: { field: piece.field, fallback: piece.fallback }, marks }];
    return piece.text === '' ? [] : [{ type: 'text', text: piece.text, marks }];
  });
