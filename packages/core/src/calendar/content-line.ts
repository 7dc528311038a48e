import { bad, good, type Read } from '../problem';

/** One line of iCalendar text: `NAME;PARAM=VALUE:value` (RFC 5545 §3.1). Names are upper case, values as they stand. */
export interface ContentLine {
  readonly name: string;
  readonly params: Readonly<Record<string, string>>;
  readonly value: string;
  /** Where it begins, from 1. */
  readonly lineNumber: number;
}

/** RFC 5545 §3.1: lines should not be longer than this, without the line break. */
const widthOctets = 75;

/** Writes one line: parameters quoted and encoded where they must be, folded, with its CRLF. */
export function writeContentLine(name: string, value: string, params: Readonly<Record<string, string>> = {}): string {
  let text = name;
  for (const [key, param] of Object.entries(params)) text += `;${key}=${writeParam(param)}`;
  return foldLine(`${text}:${value}`);
}

/** Folds at 75 octets with CRLF and one space, never inside a UTF-8 sequence, and ends with CRLF (RFC 5545 §3.1). */
export function foldLine(line: string): string {
  if (line.length <= widthOctets / 3) return `${line}\r\n`;
  if (printableAscii.test(line)) return foldAscii(line);
  let folded = '';
  let from = 0;
  let octets = 0;
  for (let at = 0; at < line.length;) {
    const codePoint = line.codePointAt(at) ?? 0;
    const width = codePoint < 0x80 ? 1 : codePoint < 0x800 ? 2 : codePoint < 0x10000 ? 3 : 4;
    if (octets + width > widthOctets) {
      folded += `${line.slice(from, at)}\r\n `;
      from = at;
      octets = 1;
    }
    octets += width;
    at += codePoint > 0xffff ? 2 : 1;
  }
  return `${folded}${line.slice(from)}\r\n`;
}

const printableAscii = /^[ -~]*$/;

/** One character is one octet here, and most lines are of this kind: cut without looking. */
function foldAscii(line: string): string {
  let folded = line.slice(0, widthOctets);
  for (let at = widthOctets; at < line.length; at += widthOctets - 1)
    folded += `\r\n ${line.slice(at, at + widthOctets - 1)}`;
  return `${folded}\r\n`;
}

/**
 * Octets of a calendar as UTF-8 that can be decoded: writers that fold by octets part a character over two lines
 * (RFC 5545 §3.1). What of it stands after the fold goes before it, so that every line keeps its number.
 */
export function joinCharacters(octets: Uint8Array): Uint8Array {
  const isRest = (at: number): boolean => ((octets[at] ?? 0) & 0xc0) === 0x80;
  let joined: Uint8Array | null = null;
  for (let at = octets.indexOf(codes.newline); at >= 0; at = octets.indexOf(codes.newline, at + 1)) {
    const space = octets[at + 1];
    if ((space !== codes.space && space !== codes.tab) || !isRest(at + 2)) continue;
    const from = octets[at - 1] === codes.return ? at - 1 : at;
    let end = at + 2;
    while (end < at + 5 && isRest(end)) end += 1;
    joined ??= octets.slice();
    joined.set(octets.subarray(at + 2, end), from);
    joined.set(octets.subarray(from, at + 2), from + end - at - 2);
  }
  return joined ?? octets;
}

/** The logical lines of a text, folds undone, each with the number of its first physical line. LF alone is accepted. */
export function unfoldLines(text: string): { number: number; text: string }[] {
  const lines: { number: number; text: string }[] = [];
  const whole = loneReturn.test(text) ? text.replace(/\r\n?/g, '\n') : text;
  let last: { number: number; text: string } | undefined;
  let number = 0;
  for (let from = whole.startsWith('\uFEFF') ? 1 : 0; from <= whole.length;) {
    const found = whole.indexOf('\n', from);
    const end = found < 0 ? whole.length : found;
    const to = end > from && whole.charCodeAt(end - 1) === codes.return ? end - 1 : end;
    number += 1;
    const first = whole.charCodeAt(from);
    if (last && (first === codes.space || first === codes.tab)) last.text += whole.slice(from + 1, to);
    else if (to > from) lines.push((last = { number, text: whole.slice(from, to) }));
    from = end + 1;
  }
  return lines;
}

const loneReturn = /\r(?!\n)/;

/** Reads one logical line, by character codes: a file has a hundred thousand of them. Problem code: calendar-bad-line. */
export function readContentLine(text: string, lineNumber: number): Read<ContentLine> {
  let at = endOfName(text, 0);
  const name = text.slice(0, at).toUpperCase();
  let params: Record<string, string> | null = null;
  while (text.charCodeAt(at) === codes.semicolon) {
    const equals = endOfName(text, at + 1);
    const end = text.charCodeAt(equals) === codes.equals ? endOfParam(text, equals + 1) : -1;
    if (end < 0 || equals === at + 1) return badLine(text, lineNumber);
    (params ??= {})[text.slice(at + 1, equals).toUpperCase()] = readParam(text.slice(equals + 1, end));
    at = end;
  }
  if (!name || text.charCodeAt(at) !== codes.colon) return badLine(text, lineNumber);
  return good({ name, params: params ?? noParams, value: text.slice(at + 1), lineNumber });
}

const codes = {
  tab: 9,
  newline: 10,
  return: 13,
  space: 32,
  quote: 34,
  dash: 45,
  colon: 58,
  semicolon: 59,
  equals: 61,
} as const;
const noParams: ContentLine['params'] = Object.freeze({});

const badLine = (text: string, lineNumber: number) =>
  bad({ code: 'calendar-bad-line', path: `line ${lineNumber}`, facts: { text: text.slice(0, 80) } });

/** Index after the letters, digits and dashes that begin here. */
function endOfName(text: string, from: number): number {
  for (let at = from; at < text.length; at += 1) {
    const code = text.charCodeAt(at);
    const isLetter = (code | 32) >= 97 && (code | 32) <= 122;
    if (!isLetter && !(code >= 48 && code <= 57) && code !== codes.dash) return at;
  }
  return text.length;
}

/** Index of the `;` or `:` after a parameter's value(s), quotes respected; -1 when a quote or the line does not end. */
function endOfParam(text: string, from: number): number {
  let quoted = false;
  for (let at = from; at < text.length; at += 1) {
    const code = text.charCodeAt(at);
    if (code === codes.quote) quoted = !quoted;
    else if (!quoted && (code === codes.semicolon || code === codes.colon)) return at;
  }
  return -1;
}

/** RFC 6868: newline, quote and caret as `^n`, `^'`, `^^`; RFC 5545 §3.2: quoted when it holds `:` `;` or `,`. */
export function writeParam(value: string): string {
  if (!/[^ !#-+\--9<-\]_-~\u0080-\uffff]/.test(value)) return value;
  // eslint-disable-next-line no-control-regex -- control characters are exactly what must not reach the text
  const safe = value.replace(/\r\n?|\n/g, '\n').replace(/[\u0000-\u0009\u000b-\u001f\u007f]/g, '');
  const encoded = safe.replaceAll('^', '^^').replaceAll('\n', '^n').replaceAll('"', "^'");
  return /[:;,]/.test(encoded) ? `"${encoded}"` : encoded;
}

function readParam(raw: string): string {
  const bare = raw.length > 1 && raw.startsWith('"') && raw.endsWith('"') ? raw.slice(1, -1) : raw;
  if (!bare.includes('^')) return bare;
  return bare.replace(/\^(n|'|\^)/g, (_, mark: string) => (mark === 'n' ? '\n' : mark === "'" ? '"' : '^'));
}
