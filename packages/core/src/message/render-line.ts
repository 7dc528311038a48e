import type { Problem } from '../problem';
import type { Inline } from './document';
import type { FieldName, FieldValues } from './fields';
import { escapeHtml, lineToHtml, linkToHtml, mayBePressed, type Dress } from './html';
import { readWording, type WordingNode } from './wording';

type Lines = readonly (readonly Inline[])[];

/** Fields that a text asks for, and those of them that have nothing to stand in for them. */
export const fieldsOf = (nodes: readonly WordingNode[]): FieldName[] =>
  nodes.flatMap((node) => ('field' in node ? [node.field] : []));
export const neededOf = (nodes: readonly WordingNode[]): FieldName[] =>
  nodes.flatMap((node) => ('field' in node && !node.fallback ? [node.field] : []));

/** The same of lines, with what was typed in them as a field or a link and is none. */
export const aboutLines = (lines: Lines) => ({
  fields: lines.flat().flatMap((piece) => (piece.kind === 'field' ? [piece.field] : [])),
  needed: lines.flat().flatMap((piece) => (piece.kind === 'field' && !piece.fallback ? [piece.field] : [])),
  problems: lines.flat().flatMap((piece): Problem[] => {
    if (piece.kind !== 'text') return [];
    const isBad = piece.link !== undefined && !mayBePressed(piece.link);
    return [...readWording(piece.text, 'body').problems, ...(isBad ? [leadsNowhere(piece.link)] : [])];
  }),
});

export const leadsNowhere = (address = ''): Problem => ({ code: 'bad-press', path: 'body', facts: { text: address } });

const valueOf = (piece: Extract<Inline, { kind: 'field' }>, values: FieldValues): string =>
  values[piece.field] || piece.fallback;

/** A line as plain text: a link says its address, where that is not what it says anyway. */
export const sayLine = (line: readonly Inline[], values: FieldValues): string =>
  line
    .map((piece) => say(piece, values))
    .join('')
    // An empty field leaves no empty line.
    .replace(/\n\s*\n/g, '\n')
    .trim();

function say(piece: Inline, values: FieldValues): string {
  if (piece.kind === 'break') return '\n';
  if (piece.kind === 'field') return valueOf(piece, values);
  const { text, link } = piece;
  return link && mayBePressed(link) && link !== text ? `${text} (${link})` : text;
}

/** The same line as HTML. */
export const showLine = (line: readonly Inline[], values: FieldValues, dress: Dress): string =>
  line
    .map((piece) => show(piece, values, dress))
    .join('')
    .replace(/^(?:<br \/>)+|(?:<br \/>)+$/g, '')
    .replace(/(?:<br \/>){2,}/g, '<br />');

function show(piece: Inline, values: FieldValues, dress: Dress): string {
  if (piece.kind === 'break') return '<br />';
  const shown =
    piece.kind === 'field'
      ? valueOf(piece, values)
          .split('\n')
          .map((line) => lineToHtml(line, dress))
          .join('<br />')
      : piece.link && mayBePressed(piece.link)
        ? linkToHtml(piece.link, piece.text, dress)
        : escapeHtml(piece.text);
  const strong = piece.bold ? `<b>${shown}</b>` : shown;
  return piece.italic ? `<i>${strong}</i>` : strong;
}
