import { strToU8, Zip, ZipDeflate } from 'fflate';
import Papa from 'papaparse';
import type { TableFormat } from '@convite/contract';

/** A table as rows of text, the heading first, as it leaves the house: piece by piece, however long it is. */
export type TextRows = AsyncIterable<readonly (readonly string[])[]>;

export const mediaTypes: Readonly<Record<TableFormat, string>> = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
};

/** The file, piece by piece. */
export const writeTable = (
  format: TableFormat,
  heading: readonly string[],
  rows: TextRows,
): AsyncGenerator<Uint8Array> => (format === 'csv' ? writeCsv(heading, rows) : writeXlsx(heading, rows));

/** CSV (RFC 4180) in UTF-8 with a mark, as spreadsheets want it; what they would take for a formula is made text. */
async function* writeCsv(heading: readonly string[], rows: TextRows): AsyncGenerator<Uint8Array> {
  const linesOf = (some: readonly (readonly string[])[]): string =>
    `${Papa.unparse(
      some.map((row) => [...row]),
      { escapeFormulae: true, newline: '\r\n' },
    )}\r\n`;
  yield strToU8(`\uFEFF${linesOf([heading])}`);
  for await (const some of rows) if (some.length) yield strToU8(linesOf(some));
}

/**
 * A workbook of one sheet (ECMA-376, SpreadsheetML). Every cell is a text of its own (`inlineStr`), so that no table of all
 * texts is held, and nothing in it is ever a formula.
 */
async function* writeXlsx(heading: readonly string[], rows: TextRows): AsyncGenerator<Uint8Array> {
  const pieces: Uint8Array[] = [];
  let failure: Error | null = null;
  const zip = new Zip((error, piece) => {
    if (error) failure = error;
    else pieces.push(piece);
  });
  const drain = function* (): Generator<Uint8Array> {
    if (failure) throw failure;
    yield* pieces.splice(0);
  };
  for (const [name, text] of Object.entries(fixedParts)) {
    const part = new ZipDeflate(name);
    zip.add(part);
    part.push(strToU8(text), true);
  }
  const sheet = new ZipDeflate('xl/worksheets/sheet1.xml', { level: 6 });
  zip.add(sheet);
  sheet.push(strToU8(`${declaration}<worksheet xmlns="${main}"><sheetData>${rowXml(heading, 1)}`));
  let row = 1;
  yield* drain();
  for await (const some of rows) {
    if (some.length) sheet.push(strToU8(some.map((cells) => rowXml(cells, (row += 1))).join('')));
    yield* drain();
  }
  sheet.push(strToU8('</sheetData></worksheet>'), true);
  zip.end();
  yield* drain();
}

const longestCell = 32_767;
// Control characters and halves of surrogate pairs may not stand in XML at all (XML 1.0 §2.2).
const unwritable = /[^\P{Cc}\t\n\r]|[\uFFFE\uFFFF]|\p{Cs}/gu;
/** Some readers find no cell without its name. */
const cellXml = (text: string, name: string): string =>
  `<c r="${name}" t="inlineStr"><is><t xml:space="preserve">${text
    .slice(0, longestCell)
    .replace(unwritable, '')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')}</t></is></c>`;
const rowXml = (cells: readonly string[], row: number): string =>
  `<row r="${row}">${cells.map((text, column) => cellXml(text, `${columnName(column)}${row}`)).join('')}</row>`;

/** A to Z, AA and on. */
const columnName = (index: number): string =>
  (index >= 26 ? columnName(Math.floor(index / 26) - 1) : '') + String.fromCharCode(65 + (index % 26));

const declaration = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const packaged = 'http://schemas.openxmlformats.org/package/2006';
const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const sheetType = 'application/vnd.openxmlformats-officedocument.spreadsheetml';
const fixedParts: Readonly<Record<string, string>> = {
  '[Content_Types].xml': `${declaration}<Types xmlns="${packaged}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="${sheetType}.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="${sheetType}.worksheet+xml"/></Types>`,
  '_rels/.rels': `${declaration}<Relationships xmlns="${packaged}/relationships"><Relationship Id="rId1" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
  'xl/workbook.xml': `${declaration}<workbook xmlns="${main}" xmlns:r="${office}"><sheets><sheet name="Sheet 1" sheetId="1" r:id="rId1"/></sheets></workbook>`,
  'xl/_rels/workbook.xml.rels': `${declaration}<Relationships xmlns="${packaged}/relationships"><Relationship Id="rId1" Type="${office}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
};
