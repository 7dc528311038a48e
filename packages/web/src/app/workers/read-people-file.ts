import { unzipSync } from 'fflate';
import Papa from 'papaparse';
import readWorkbook from 'read-excel-file/web-worker';
import {
  hasHeadings,
  isEmail,
  readAddresses,
  readAttendees,
  readCards,
  tableBounds,
  tableOf,
  type PeopleTable,
} from '@convite/core';

/** What was read of a file: a table of people, or of each sheet one. */
export interface ReadFile {
  readonly sheets: readonly { readonly name: string; readonly table: PeopleTable }[];
}

/** Why a file cannot be read, in words for whoever dropped it. */
export class Unreadable extends Error {}

/** Octets of a file that are read, and of a workbook once it is unpacked. */
export const mostOctets = { file: 60_000_000, unpacked: 400_000_000 } as const;

/**
 * Reads people from a file, whatever it is: a workbook, an address book, a calendar, or delimited text.
 * @param tell how much of it has been read, from 0 to 1
 * @throws Unreadable
 */
export async function readPeopleFile(octets: Uint8Array, tell: (share: number) => void): Promise<ReadFile> {
  if (octets.length > mostOctets.file)
    throw new Unreadable(
      `This file is too large; up to ${mostOctets.file / 1_000_000} MB can be read. Part it into several.`,
    );
  if (octets[0] === 0x50 && octets[1] === 0x4b) return readSheets(octets);
  if (octets[0] === 0xd0 && octets[1] === 0xcf)
    throw new Unreadable('This is a workbook of the old kind (.xls). Save it as .xlsx or CSV, and drop it again.');
  return one(readPeopleText(decode(octets), tell));
}

const one = (table: PeopleTable): ReadFile => ({ sheets: [{ name: '', table }] });

/** The same from text: what was pasted, or what stands in a file of text. @throws Unreadable */
export function readPeopleText(text: string, tell: (share: number) => void): PeopleTable {
  if (/^\uFEFF?\s*BEGIN:VCARD/i.test(text)) return readCards(text);
  if (/^\uFEFF?\s*BEGIN:VCALENDAR/i.test(text)) return readAttendees(text);
  if (text.slice(0, 100_000).includes('\u0000'))
    throw new Unreadable('This is no text, workbook, address book or calendar.');
  return isTable(text) ? tableOf(parse(text, tell), hasHeadings) : tableOfAddresses(text);
}

/** Text of a file: by its mark, as UTF-8, or else as Windows-1252, which every octet is something of (WHATWG Encoding). */
export function decode(octets: Uint8Array): string {
  const marked = [
    { mark: [0xef, 0xbb, 0xbf], name: 'utf-8' },
    { mark: [0xff, 0xfe], name: 'utf-16le' },
    { mark: [0xfe, 0xff], name: 'utf-16be' },
  ].find(({ mark }) => mark.every((octet, index) => octets[index] === octet));
  if (marked) return new TextDecoder(marked.name).decode(octets);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(octets);
  } catch {
    return new TextDecoder('windows-1252').decode(octets);
  }
}

const marks = [',', ';', '\t', '|'];
/** How often a mark stands in a text outside quotes. */
const countOf = (text: string, mark: string): number => text.replace(/"[^"]*"/g, '').split(mark).length - 1;

/** The delimiter that stands most often in the first row; guessing from the data goes wrong on small files. */
function delimiterOf(text: string): string {
  const first = text.replace(/^\uFEFF?[\r\n]*/, '').split(/[\r\n]/, 1)[0] ?? '';
  return marks.reduce((most, mark) => (countOf(first, mark) > countOf(first, most) ? mark : most));
}

/** Rows and columns, rather than addresses one after the other: it has headings, or cells of a spreadsheet. */
function isTable(text: string): boolean {
  const lines = text
    .replace(/^\uFEFF/, '')
    .split(/\r\n|\n|\r/, 50)
    .filter((line) => line.trim());
  const [first = ''] = lines;
  const delimiter = delimiterOf(text);
  const cells = (line: string): string[] => line.split(delimiter).map((cell) => cell.trim().replace(/^"|"$/g, ''));
  if (lines.some((line) => line.includes('\t'))) return true;
  // A heading row of one column has to say so.
  if (cells(first).length === 1) return /^"?\s*(e-?mail|mail|mobile|phone)/i.test(first) && !first.includes('@');
  if (!first.includes('@')) return hasHeadings(cells(first));
  // Without headings: the address stands in a cell of its own, and other cells beside it are none.
  return lines.every(
    (line) => cells(line).filter((cell) => isEmail(cell.toLowerCase())).length === 1 && !/[<>]/.test(line),
  );
}

/** Delimited text (RFC 4180). */
function parse(text: string, tell: (share: number) => void): string[][] {
  const rows: string[][] = [];
  Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), {
    delimiter: delimiterOf(text),
    chunkSize: 500_000,
    chunk: ({ data, meta }: Papa.ParseResult<string[]>) => {
      for (const row of data) rows.push(row);
      if (rows.length > tableBounds.rows)
        throw new Unreadable(
          `There are more than ${tableBounds.rows.toLocaleString('en')} rows in it. Part it into several files.`,
        );
      tell(Math.min(1, meta.cursor / text.length));
    },
    complete: () => undefined,
  });
  return rows;
}

/** `Ana Lopes <ana@people.example>`, one a line or separated by commas. What is none stays a row, to be told why. */
function tableOfAddresses(text: string): PeopleTable {
  const { addresses, problems } = readAddresses(text);
  const unread = problems
    .filter(({ code }) => code === 'bad-address')
    .map(({ facts }) => ['', String(facts?.['text'] ?? '')]);
  const twice = problems
    .filter(({ code }) => code === 'duplicate-address')
    .map(({ facts }) => ['', String(facts?.['text'] ?? '')]);
  const rows = [...addresses.map(({ name, email }) => [name, email]), ...twice, ...unread];
  return { headings: ['Name', 'Email'], rows: rows.map((cells, index) => ({ number: index + 1, cells })) };
}

async function readSheets(octets: Uint8Array): Promise<ReadFile> {
  let unpacked = 0;
  try {
    // Nothing is unpacked yet: what it says it would become is asked first.
    unzipSync(octets, { filter: ({ originalSize }) => ((unpacked += originalSize), false) });
  } catch {
    throw new Unreadable('This file is damaged, or no workbook.');
  }
  if (unpacked > mostOctets.unpacked) throw new Unreadable('This workbook would be too large once it is unpacked.');
  const buffer = new ArrayBuffer(octets.length);
  new Uint8Array(buffer).set(octets);
  const sheets = await readWorkbook(buffer).catch(() => {
    throw new Unreadable('This is no workbook that can be read. Save it as .xlsx or CSV, and drop it again.');
  });
  return {
    sheets: sheets.map(({ sheet, data }) => ({
      name: sheet,
      table: tableOf(
        data.slice(0, tableBounds.rows + 1).map((row) => row.map(textOf)),
        hasHeadings,
      ),
    })),
  };
}

/** Days and times as ISO 8601: workbooks keep them as readings of a clock, without a zone. */
function textOf(cell: unknown): string {
  if (cell === null || cell === undefined) return '';
  if (cell instanceof Date) {
    if (Number.isNaN(cell.getTime())) return '';
    const [day = '', time = ''] = cell.toISOString().slice(0, 16).split('T');
    // A cell with a time alone counts from day 0 of workbooks (ECMA-376 §18.17.4.1).
    if (day < '1900-01-01' || day === '1904-01-01') return time;
    return time === '00:00' ? day : `${day}T${time}`;
  }
  if (typeof cell === 'boolean') return cell ? 'yes' : 'no';
  return typeof cell === 'number' || typeof cell === 'string' ? String(cell) : '';
}
