import type { Problem } from '../problem';
import type { Block, Inline, WordingDocument } from './document';
import type { FieldName, FieldValues } from './fields';
import { escapeHtml, lineToHtml, linkToHtml, mailDress, quotedDress, textToHtml } from './html';
import { tidyText } from './tidy-text';
import { fillWording, readWording } from './wording';

/** A message filled for one person: the same said in HTML, and in plain text, which is also what a text message says. */
export interface Rendered {
  readonly subject: string;
  readonly html: string;
  readonly text: string;
}

/** A document made ready to be filled for one person after another: what it says of fields is read once. */
export interface PreparedDocument {
  readonly problems: readonly Problem[];
  /** Those that it asks for: what costs something to make is made only then. */
  readonly fields: ReadonlySet<FieldName>;
  fill(values: FieldValues): Rendered;
}

interface PreparedBlock {
  readonly problems: readonly Problem[];
  readonly fields: readonly FieldName[];
  fill(values: FieldValues): { readonly html: string; readonly text: string };
}

/** The one renderer: everything that reaches people by mail or text comes through here. */
export function prepareDocument({ subject, blocks }: WordingDocument): PreparedDocument {
  const title = readWording(subject, 'subject');
  const parts = blocks.map(prepareBlock);
  return {
    problems: [...title.problems, ...parts.flatMap(({ problems }) => problems)],
    fields: new Set([...fieldsOf(title.nodes), ...parts.flatMap(({ fields }) => fields)]),
    fill(values) {
      const filled = parts.map((part) => part.fill(values)).filter(({ text }) => text !== '');
      return {
        // One line whatever a title holds: no CR or LF from data ever reaches a header.
        subject: fillWording(title, values).replace(/\s+/g, ' ').trim(),
        html: filled.map(({ html }) => html).join(''),
        text: filled.map(({ text }) => text).join('\n\n'),
      };
    },
  };
}

const fieldsOf = (nodes: readonly ({ readonly text: string } | { readonly field: FieldName })[]): FieldName[] =>
  nodes.flatMap((node) => ('field' in node ? [node.field] : []));

function prepareBlock(block: Block): PreparedBlock {
  switch (block.kind) {
    case 'plain': {
      const wording = readWording(block.text, 'body');
      return {
        problems: wording.problems,
        fields: fieldsOf(wording.nodes),
        fill(values) {
          const text = tidyText(fillWording(wording, values));
          return { text, html: textToHtml(text, mailDress) };
        },
      };
    }
    case 'quoted': {
      const text = block.text.trim();
      return same({ text, html: textToHtml(text, quotedDress) });
    }
    case 'heading':
      return ofLines([block.line], ([line = '']) => ({
        text: line,
        html: `<h2 style="font-size:17px;color:#4A2545;margin:20px 0 6px">${escapeHtml(line)}</h2>`,
      }));
    case 'paragraph':
      return {
        ...noProblems,
        fields: fieldsIn([block.line]),
        fill: (values) => ({
          text: block.line.map((piece) => say(piece, values)).join(''),
          html: `<p${mailDress.paragraph}>${block.line.map((piece) => show(piece, values)).join('')}</p>`,
        }),
      };
    case 'list':
      return {
        ...noProblems,
        fields: fieldsIn(block.items),
        fill: (values) => ({
          text: block.items.map((item) => `- ${item.map((piece) => say(piece, values)).join('')}`).join('\n'),
          html: `<ul style="margin:0 0 16px;padding-left:22px">${block.items
            .map((item) => `<li>${item.map((piece) => show(piece, values)).join('')}</li>`)
            .join('')}</ul>`,
        }),
      };
    case 'button':
      return ofLines([[block.address]], ([url = '']) => ({
        text: `${block.label}: ${url}`,
        html: `<p style="margin:8px 0 16px"><a href="${escapeHtml(url)}" style="${buttonStyle}">${escapeHtml(block.label)}</a></p>`,
      }));
    case 'entry': {
      const { title, url, about, lead } = block;
      const html =
        `<p style="margin:0 0 10px">${linkToHtml(url, title, mailDress)}` +
        `<br /><span style="color:#5A5F6B">${escapeHtml(about)}</span></p>`;
      return same({ text: `  ${lead}\n  ${url}`, html });
    }
  }
}

const buttonStyle =
  'display:inline-block;padding:12px 22px;border-radius:4px;background:#4A2545;color:#FBF8F3;text-decoration:none';

const noProblems = { problems: [] } as const;

/** A block that says the same to everybody. */
const same = (said: { readonly html: string; readonly text: string }): PreparedBlock => ({
  ...noProblems,
  fields: [],
  fill: () => said,
});

const ofLines = (
  lines: readonly (readonly Inline[])[],
  write: (said: readonly string[]) => { readonly html: string; readonly text: string },
): PreparedBlock => ({
  ...noProblems,
  fields: fieldsIn(lines),
  fill: (values) => write(lines.map((line) => line.map((piece) => say(piece, values)).join(''))),
});

const fieldsIn = (lines: readonly (readonly Inline[])[]): FieldName[] =>
  lines.flat().flatMap((piece) => (piece.kind === 'field' ? [piece.field] : []));

const valueOf = (piece: Extract<Inline, { kind: 'field' }>, values: FieldValues): string =>
  values[piece.field] || piece.fallback;

/** In plain text: a link says its address, where that is not what it says anyway. */
function say(piece: Inline, values: FieldValues): string {
  if (piece.kind === 'field') return valueOf(piece, values);
  const { text, link } = piece;
  return link && link !== text ? `${text} (${link})` : text;
}

function show(piece: Inline, values: FieldValues): string {
  if (piece.kind === 'field') return lineToHtml(valueOf(piece, values), mailDress);
  const shown = piece.link ? linkToHtml(piece.link, piece.text, mailDress) : escapeHtml(piece.text);
  return piece.bold ? `<b>${shown}</b>` : shown;
}
