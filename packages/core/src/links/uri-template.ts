import { bad, good, type Problem, type Read } from '../problem';

/** What a variable may hold: nothing, a text, a list, or named texts (RFC 6570 §2.3). */
export type TemplateValue = string | number | readonly string[] | Readonly<Record<string, string>> | null | undefined;

interface Variable {
  readonly name: string;
  readonly explode: boolean;
  /** Characters to keep, or null for all. */
  readonly prefix: number | null;
}
type Part = { readonly literal: string } | { readonly operator: string; readonly variables: readonly Variable[] };

/** A checked RFC 6570 pattern. */
export interface UriTemplate {
  readonly parts: readonly Part[];
  readonly variableNames: readonly string[];
}

interface Operator {
  readonly first: string;
  readonly separator: string;
  readonly named: boolean;
  /** What stands after the name of an empty value. */
  readonly ifEmpty: string;
  readonly reserved: boolean;
}

/** RFC 6570 appendix A, the table of expression behaviour. */
const operators: Readonly<Record<string, Operator>> = {
  '': { first: '', separator: ',', named: false, ifEmpty: '', reserved: false },
  '+': { first: '', separator: ',', named: false, ifEmpty: '', reserved: true },
  '#': { first: '#', separator: ',', named: false, ifEmpty: '', reserved: true },
  '.': { first: '.', separator: '.', named: false, ifEmpty: '', reserved: false },
  '/': { first: '/', separator: '/', named: false, ifEmpty: '', reserved: false },
  ';': { first: ';', separator: ';', named: true, ifEmpty: '', reserved: false },
  '?': { first: '?', separator: '&', named: true, ifEmpty: '=', reserved: false },
  '&': { first: '&', separator: '&', named: true, ifEmpty: '=', reserved: false },
};

/** Reads a pattern, RFC 6570 level 4. Problem code: bad-pattern, with the place (1-based character) and the text there. */
export function readUriTemplate(pattern: string): Read<UriTemplate> {
  const parts: Part[] = [];
  let at = 0;
  while (at < pattern.length) {
    const open = pattern.indexOf('{', at);
    const literal = pattern.slice(at, open < 0 ? undefined : open);
    const stray = literal.search(/[}\s]/);
    if (stray >= 0) return bad(fault(at + stray, literal.slice(stray, stray + 20)));
    if (literal) parts.push({ literal: encode(literal, true) });
    if (open < 0) break;
    const close = pattern.indexOf('}', open);
    const inner = pattern.slice(open + 1, close < 0 ? undefined : close);
    const part = close < 0 ? null : readExpression(inner);
    if (!part) return bad(fault(open, `{${inner.slice(0, 40)}`));
    parts.push(part);
    at = close + 1;
  }
  const names = parts.flatMap((part) => ('variables' in part ? part.variables.map((variable) => variable.name) : []));
  return good({ parts, variableNames: [...new Set(names)] });
}

/** Writes the address (RFC 6570 §3). A variable that is missing or null leaves no trace. */
export function expandUriTemplate(template: UriTemplate, values: Readonly<Record<string, TemplateValue>>): string {
  return template.parts.map((part) => ('literal' in part ? part.literal : expandExpression(part, values))).join('');
}

/** Percent-encodes all but the unreserved characters (RFC 3986 §2.3), or all but unreserved and reserved ones. */
export function encode(text: string, keepReserved: boolean): string {
  // A lone surrogate has no UTF-8 form; with the u flag, only lone ones match.
  const well = text.replace(/\p{Surrogate}/gu, '\uFFFD');
  if (keepReserved) {
    // RFC 6570 §3.2.1: what is already percent-encoded stays as it is.
    return well
      .split(/(%[0-9A-Fa-f]{2})/)
      .map((piece, index) => (index % 2 ? piece : encodeURI(piece).replace(/%5B/g, '[').replace(/%5D/g, ']')))
      .join('');
  }
  return encodeURIComponent(well).replace(/[!'()*]/g, (mark) => `%${mark.charCodeAt(0).toString(16).toUpperCase()}`);
}

function readExpression(inner: string): Part | null {
  const operator = /^[+#./;?&]/.exec(inner)?.[0] ?? '';
  const variables: Variable[] = [];
  for (const spec of inner.slice(operator.length).split(',')) {
    const match = /^((?:\w|%[0-9A-Fa-f]{2})(?:\.?(?:\w|%[0-9A-Fa-f]{2}))*)(\*|:([1-9]\d{0,3}))?$/.exec(spec);
    if (!match?.[1]) return null;
    variables.push({ name: match[1], explode: match[2] === '*', prefix: match[3] ? Number(match[3]) : null });
  }
  return { operator, variables };
}

function expandExpression(
  part: { operator: string; variables: readonly Variable[] },
  values: Readonly<Record<string, TemplateValue>>,
): string {
  const operator = operators[part.operator] as Operator;
  const pieces = part.variables
    .map((variable) => expandVariable(variable, values[variable.name], operator))
    .filter((piece) => piece !== null);
  return pieces.length ? operator.first + pieces.join(operator.separator) : '';
}

function expandVariable({ name, explode, prefix }: Variable, value: TemplateValue, operator: Operator): string | null {
  const { separator, named, ifEmpty, reserved } = operator;
  const write = (text: string): string => encode(text, reserved);
  const pair = (key: string, text: string): string => key + (text === '' ? ifEmpty : `=${text}`);
  if (value === null || value === undefined) return null;
  if (typeof value === 'string' || typeof value === 'number') {
    const whole = String(value);
    const text = write(prefix === null ? whole : [...whole].slice(0, prefix).join(''));
    return named ? pair(name, text) : text;
  }
  if (isList(value)) {
    if (value.length === 0) return null;
    if (explode) return value.map((item) => (named ? pair(name, write(item)) : write(item))).join(separator);
    const text = value.map(write).join(',');
    return named ? pair(name, text) : text;
  }
  const entries = Object.entries(value);
  if (entries.length === 0) return null;
  if (explode)
    return entries
      .map(([key, item]) => (named ? pair(write(key), write(item)) : `${write(key)}=${write(item)}`))
      .join(separator);
  const text = entries.flatMap(([key, item]) => [write(key), write(item)]).join(',');
  return named ? pair(name, text) : text;
}

// Array.isArray alone does not narrow a readonly array.
const isList = (value: readonly string[] | Readonly<Record<string, string>>): value is readonly string[] =>
  Array.isArray(value);

const fault = (index: number, text: string): Problem => ({
  code: 'bad-pattern',
  path: '',
  facts: { at: index + 1, text },
});
