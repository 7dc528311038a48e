import { strToU8, Zip, ZipDeflate } from 'fflate';
import Papa from 'papaparse';
import type { TableFormat } from '@convite/contract';

/** A table as rows of text, the heading first, as it leaves the house: piece by piece, however long it is. */
export type TextRows = AsyncIterable<readonly (readonly string[])[]>;

export const mediaTypes: Readonly<Record<TableFormat, string>> = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
};

/** Spreadsheets open no sheet with more rows. Common practice. */
const mostRows = 1_048_576;

/** The file, piece by piece. @param mostInSheet rows of a sheet of a workbook, the heading among them; the next sheet goes on */
export const writeTable = (
  format: TableFormat,
  heading: readonly string[],
  rows: TextRows,
  mostInSheet = mostRows,
): AsyncGenerator<Uint8Array> => (format === 'csv' ? writeCsv(heading, rows) : writeXlsx(heading, rows, mostInSheet));

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
 * A workbook (ECMA-376, SpreadsheetML), of as many sheets as it takes. Every cell is a text of its own (`inlineStr`), so that no table of all
 * texts is held, and nothing in it is ever a formula.
 */
async function* writeXlsx(heading: readonly string[], rows: TextRows, mostInSheet: number): AsyncGenerator<Uint8Array> {
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
  let sheets = 0;
  let row = 0;
  const begin = (): ZipDeflate => {
    const part = new ZipDeflate(sheetPath((sheets += 1)), { level: 6 });
    zip.add(part);
    part.push(strToU8(`${declaration}<worksheet xmlns="${main}"><sheetData>${rowXml(heading, (row = 1))}`));
    return part;
  };
  const end = (part: ZipDeflate): void => part.push(strToU8('</sheetData></worksheet>'), true);
  let sheet = begin();
  for await (const some of rows) {
    for (let from = 0; from < some.length;) {
      if (row === mostInSheet) {
        end(sheet);
        sheet = begin();
      }
      const fitting = some.slice(from, from + mostInSheet - row);
      sheet.push(strToU8(fitting.map((cells) => rowXml(cells, (row += 1))).join('')));
      from += fitting.length;
    }
    yield* drain();
  }
  end(sheet);
  for (const [name, text] of Object.entries(partsAround(sheets))) {
    const part = new ZipDeflate(name);
    zip.add(part);
    part.push(strToU8(text), true);
  }
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
const sheetPath = (sheet: number): string => `xl/worksheets/sheet${sheet}.xml`;

/** What makes a workbook of the sheets. */
function partsAround(sheets: number): Readonly<Record<string, string>> {
  const each = (xml: (sheet: number) => string): string =>
    Array.from({ length: sheets }, (_, index) => xml(index + 1)).join('');
  const types = each((sheet) => `<Override PartName="/${sheetPath(sheet)}" ContentType="${sheetType}.worksheet+xml"/>`);
  const named = each((sheet) => `<sheet name="Sheet ${sheet}" sheetId="${sheet}" r:id="rId${sheet}"/>`);
  const related = each(
    (sheet) =>
      `<Relationship Id="rId${sheet}" Type="${office}/worksheet" Target="${sheetPath(sheet).replace('xl/', '')}"/>`,
  );
  return {
    '[Content_Types].xml': `${declaration}<Types xmlns="${packaged}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="${sheetType}.sheet.main+xml"/>${types}</Types>`,
    '_rels/.rels': `${declaration}<Relationships xmlns="${packaged}/relationships"><Relationship Id="rId1" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    'xl/workbook.xml': `${declaration}<workbook xmlns="${main}" xmlns:r="${office}"><sheets>${named}</sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': `${declaration}<Relationships xmlns="${packaged}/relationships">${related}</Relationships>`,
  };
}
