import { readContentLine, unfoldLines, type ContentLine } from '../calendar/content-line';
import { readComponents, type Component } from '../calendar/read-components';
import { readMailto, readText } from '../calendar/values';
import type { PeopleTable, PeopleTableRow } from './people-table';

const cardHeadings = ['Name', 'Email', 'Mobile', 'Birthday', 'Time zone', 'Language', 'Country', 'Topics'] as const;

/**
 * People of an address book: vCard 4.0 (RFC 6350), 3.0 (RFC 2426) and 2.1 as it is still met. A card becomes a row; of several
 * addresses and numbers the preferred one is taken, or the first. What is no card is passed over.
 */
export function readCards(text: string): PeopleTable {
  const rows: PeopleTableRow[] = [];
  let card: ContentLine[] | null = null;
  for (const { number, text: line } of joinQuotedPrintable(unfoldLines(text))) {
    // `item1.EMAIL`: properties are grouped by a name in front (RFC 6350 §3.3), which says nothing here.
    const read = readContentLine(joinTypes(line.replace(/^[\w-]+\.(?=[\w-]+[;:])/, '')), number);
    if (!read.ok) continue;
    const { name, value } = read.value;
    if (name === 'BEGIN' && value.trim().toUpperCase() === 'VCARD') card = [];
    else if (name === 'END' && value.trim().toUpperCase() === 'VCARD') {
      if (card) rows.push({ number: rows.length + 1, cells: cellsOf(card) });
      card = null;
    } else card?.push(read.value);
  }
  return { headings: cardHeadings, rows };
}

function cellsOf(card: readonly ContentLine[]): string[] {
  const all = (name: string): ContentLine[] => card.filter((line) => line.name === name);
  const first = (name: string): string => valueOf(preferred(all(name)));
  const [family = '', given = '', middle = ''] = partsOf(preferred(all('N')));
  const name = first('FN') || [given, middle, family].filter(Boolean).join(' ');
  const country = partsOf(preferred(all('ADR')))[6] ?? '';
  const numbers = all('TEL').filter(({ params }) => !/fax|pager/i.test(params['TYPE'] ?? ''));
  const mobiles = numbers.filter(({ params }) => /cell|text/i.test(params['TYPE'] ?? ''));
  const birthday = /^(\d{4})-?(\d\d)-?(\d\d)/.exec(first('BDAY'));
  return [
    name,
    first('EMAIL').replace(/^mailto:/i, ''),
    valueOf(preferred(mobiles.length ? mobiles : numbers))
      .replace(/^tel:/i, '')
      .replace(/;.*$/, ''),
    birthday ? birthday.slice(1, 4).join('-') : '',
    first('TZ'),
    first('LANG'),
    country,
    all('CATEGORIES').map(valueOf).filter(Boolean).join(', '),
  ];
}

/** The one with the lowest PREF (RFC 6350 §5.3), or marked `TYPE=pref` (RFC 2426 §3.2.1); else the first. */
function preferred(lines: readonly ContentLine[]): ContentLine | undefined {
  const rank = ({ params }: ContentLine): number =>
    Number(params['PREF'] ?? (/pref/i.test(params['TYPE'] ?? '') ? 1 : 101));
  return [...lines].sort((a, b) => rank(a) - rank(b))[0];
}

const decoded = (line: ContentLine | undefined): string => {
  if (!line) return '';
  return /quoted-printable/i.test(line.params['ENCODING'] ?? '') ? readQuotedPrintable(line.value) : line.value;
};
const valueOf = (line: ContentLine | undefined): string => readText(decoded(line)).trim();
/** Parts of a structured value (RFC 6350 §3.4), between semicolons that are not escaped. */
const partsOf = (line: ContentLine | undefined): string[] =>
  (decoded(line).match(/(?:\\.|[^\\;])*(?:;|$)/gs) ?? []).map((part) => readText(part.replace(/;$/, '')).trim());

/** Several types of one property as one, and as vCard 2.1 writes them: `TEL;CELL;VOICE:` for `TEL;TYPE=CELL,VOICE:`. */
function joinTypes(line: string): string {
  const end = line.indexOf(':');
  const [name = '', ...params] = line.slice(0, end).split(';');
  if (end < 0 || params.length === 0 || /"[^"]*;/.test(line.slice(0, end))) return line;
  const isType = (param: string): boolean => /^type=/i.test(param) || (!param.includes('=') && !isEncoding(param));
  const types = params.filter(isType).map((param) => param.replace(/^type=/i, '').replace(/["]/g, ''));
  const others = params.filter((param) => !isType(param));
  const said = others.map((param) => (isEncoding(param) ? `ENCODING=${param}` : param));
  return `${[name, ...said, ...(types.length ? [`TYPE="${types.join(',')}"`] : [])].join(';')}${line.slice(end)}`;
}

const isEncoding = (param: string): boolean => /^(quoted-printable|base64)$/i.test(param);

/** A line that ends in `=` goes on in the next (RFC 2045 §6.7), where such text is said to follow. */
function joinQuotedPrintable(lines: readonly { number: number; text: string }[]): { number: number; text: string }[] {
  const joined: { number: number; text: string }[] = [];
  for (const line of lines) {
    const last = joined.at(-1);
    if (last && /quoted-printable/i.test(last.text.split(':')[0] ?? '') && last.text.endsWith('='))
      last.text = last.text.slice(0, -1) + line.text;
    else joined.push({ ...line });
  }
  return joined;
}

function readQuotedPrintable(text: string): string {
  const octets: number[] = [];
  for (let at = 0; at < text.length; at += 1) {
    const hex = /^=([0-9A-F]{2})/i.exec(text.slice(at, at + 3))?.[1];
    if (hex) {
      octets.push(Number.parseInt(hex, 16));
      at += 2;
    } else octets.push(...new TextEncoder().encode(text[at]));
  }
  return new TextDecoder().decode(new Uint8Array(octets));
}

/** Everybody whom the events of a calendar name (RFC 5545 §3.8.4.1, §3.8.4.3), each once, in the order in which they come. */
export function readAttendees(text: string): PeopleTable {
  const read = readComponents(text);
  if (!read.ok) return { headings: ['Name', 'Email'], rows: [] };
  const people = new Map<string, string>();
  const look = (component: Component): void => {
    for (const { name, value, params } of component.properties) {
      const email = name === 'ATTENDEE' ? (readMailto(value) ?? params['EMAIL']?.toLowerCase()) : undefined;
      const isPerson = !/^(room|resource|group)$/i.test(params['CUTYPE'] ?? '');
      if (email && isPerson && !people.get(email)) people.set(email, params['CN'] ?? '');
    }
    component.components.forEach(look);
  };
  read.value.forEach(look);
  return {
    headings: ['Name', 'Email'],
    rows: [...people].map(([email, name], index) => ({ number: index + 1, cells: [name, email] })),
  };
}
