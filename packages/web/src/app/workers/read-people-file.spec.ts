import { strToU8, zipSync } from 'fflate';
import { decode, mostOctets, readPeopleFile, readPeopleText } from './read-people-file';

const nothing = (): void => undefined;
const people = (text: string) => readPeopleText(text, nothing);
const cellsOf = (text: string): (readonly string[])[] => people(text).rows.map(({ cells }) => cells);

/** A workbook (ECMA-376) of one sheet, with the cells as they are written in it. */
function workbook(cells: string, { is1904 = false, merged = '' } = {}): Uint8Array {
  const xml = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>';
  const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
  const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  const packaged = 'http://schemas.openxmlformats.org/package/2006';
  const parts = {
    '[Content_Types].xml': `${xml}<Types xmlns="${packaged}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/></Types>`,
    '_rels/.rels': `${xml}<Relationships xmlns="${packaged}/relationships"><Relationship Id="rId1" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    'xl/workbook.xml': `${xml}<workbook xmlns="${main}" xmlns:r="${office}"><workbookPr date1904="${is1904 ? 1 : 0}"/><sheets><sheet name="Members" sheetId="1" r:id="rId1"/></sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': `${xml}<Relationships xmlns="${packaged}/relationships"><Relationship Id="rId1" Type="${office}/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="rId2" Type="${office}/styles" Target="styles.xml"/></Relationships>`,
    'xl/styles.xml': `${xml}<styleSheet xmlns="${main}"><cellXfs count="2"><xf numFmtId="0"/><xf numFmtId="14" applyNumberFormat="1"/></cellXfs></styleSheet>`,
    'xl/worksheets/sheet1.xml': `${xml}<worksheet xmlns="${main}"><sheetData>${cells}</sheetData>${merged}</worksheet>`,
  };
  return zipSync(Object.fromEntries(Object.entries(parts).map(([name, text]) => [name, strToU8(text)])));
}
const text = (at: string, value: string): string => `<c r="${at}" t="inlineStr"><is><t>${value}</t></is></c>`;

describe('a file of people', () => {
  const accents = 'Email;Name\na@x.example;João “Ção”\n';
  const windows = new Uint8Array(
    [...accents].map((letter) => ({ ã: 0xe3, Ç: 0xc7, '“': 0x93, '”': 0x94 })[letter] ?? letter.charCodeAt(0)),
  );
  const encodings: [string, Uint8Array][] = [
    ['UTF-8', new TextEncoder().encode(accents)],
    ['UTF-8 with a mark', new Uint8Array([0xef, 0xbb, 0xbf, ...new TextEncoder().encode(accents)])],
    ['Windows-1252', windows],
    [
      'UTF-16, little end first',
      new Uint8Array([
        0xff,
        0xfe,
        ...[...accents].flatMap((letter) => [letter.charCodeAt(0) & 255, letter.charCodeAt(0) >> 8]),
      ]),
    ],
    [
      'UTF-16, big end first',
      new Uint8Array([
        0xfe,
        0xff,
        ...[...accents].flatMap((letter) => [letter.charCodeAt(0) >> 8, letter.charCodeAt(0) & 255]),
      ]),
    ],
  ];
  const delimiters = [',', ';', '\t', '|'];
  const breaks = ['\n', '\r\n', '\r'];
  for (const [name, octets] of encodings)
    it(`in ${name} reads as it was written, whatever stands between its cells and rows (RFC 4180)`, () => {
      expect(decode(octets)).toBe(accents);
      for (const delimiter of delimiters)
        for (const end of breaks)
          for (const quoted of [true, false])
            for (const last of [true, false])
              for (const blank of [true, false]) {
                const quote = (cell: string): string => (quoted ? `"${cell}"` : cell);
                const rows = [
                  ['Email', 'Name', 'Seat'],
                  ['a@x.example', 'João “Ção”', '1'],
                  ...(blank ? [['', '', '']] : []),
                  ['b@x.example', 'Bo', '2'],
                ];
                const file = rows.map((cells) => cells.map(quote).join(delimiter)).join(end) + (last ? end : '');
                const read = people(file);
                expect([read.headings, read.rows.map(({ cells }) => cells), read.rows.at(-1)?.number])
                  .withContext(JSON.stringify(file))
                  .toEqual([
                    ['Email', 'Name', 'Seat'],
                    [
                      ['a@x.example', 'João “Ção”', '1'],
                      ['b@x.example', 'Bo', '2'],
                    ],
                    blank ? 4 : 3,
                  ]);
              }
    });

  const odd: [string, string, readonly (readonly string[])[]][] = [
    [
      'a line break and a delimiter in quotes',
      'Email,Note\na@x.example,"two\nlines, ""one"" cell"\n',
      [['a@x.example', 'two\nlines, "one" cell']],
    ],
    [
      'rows of unequal length',
      'Email,Name\na@x.example\nb@x.example,Bo,more\n',
      [['a@x.example'], ['b@x.example', 'Bo', 'more']],
    ],
    ['a heading with commas in quotes', 'Email;"Name, first, last, all"\na@x.example;Ana\n', [['a@x.example', 'Ana']]],
    [
      'no headings',
      'Ana,a@x.example\nBo,b@x.example\n',
      [
        ['Ana', 'a@x.example'],
        ['Bo', 'b@x.example'],
      ],
    ],
    [
      'cells of a spreadsheet',
      'First Name\tLast Name\tE-mail\nAna\tLopes\ta@x.example',
      [['Ana', 'Lopes', 'a@x.example']],
    ],
    ['one column with its heading', 'Email\na@x.example\nb@x.example', [['a@x.example'], ['b@x.example']]],
    [
      'addresses one after the other',
      'Ana <a@x.example>, b@x.example; a@x.example\nnope',
      [
        ['Ana', 'a@x.example'],
        ['', 'b@x.example'],
        ['', 'a@x.example'],
        ['', 'nope'],
      ],
    ],
    ['names with commas before addresses', '"Lopes, Ana" <a@x.example>', [['Lopes, Ana', 'a@x.example']]],
    [
      'an address book',
      'BEGIN:VCARD\nFN:Ana\nEMAIL:a@x.example\nEND:VCARD',
      [['Ana', 'a@x.example', '', '', '', '', '', '']],
    ],
    [
      'a calendar',
      'BEGIN:VCALENDAR\nBEGIN:VEVENT\nATTENDEE;CN=Ana:mailto:a@x.example\nEND:VEVENT\nEND:VCALENDAR',
      [['Ana', 'a@x.example']],
    ],
    ['nothing', ' \n\n', []],
  ];
  for (const [what, file, rows] of odd) it(`with ${what}`, () => expect(cellsOf(file)).toEqual(rows));

  it('that is a workbook: merged cells, days as days, numbers as they are', async () => {
    const cells =
      `<row r="1">${text('A1', 'Email')}${text('B1', 'Born')}${text('C1', 'Member')}${text('D1', 'Joined')}</row>` +
      `<row r="3">${text('A3', 'a@x.example')}<c r="B3" s="1"><v>38406</v></c><c r="C3" t="b"><v>1</v></c><c r="D3"><v>38406</v></c></row>` +
      `<row r="4">${text('A4', 'b@x.example')}</row>`;
    for (const [is1904, day] of [
      [false, '2005-02-23'],
      [true, '2009-02-24'],
    ] as const) {
      const { sheets } = await readPeopleFile(
        workbook(cells, { is1904, merged: '<mergeCells count="1"><mergeCell ref="B3:B4"/></mergeCells>' }),
        nothing,
      );
      expect(sheets.map(({ name }) => name)).toEqual(['Members']);
      expect(sheets[0]?.table.headings).toEqual(['Email', 'Born', 'Member', 'Joined']);
      const rows = sheets[0]?.table.rows ?? [];
      expect(rows.map((row) => [row.number, ...row.cells])).toEqual([
        [3, 'a@x.example', day, 'yes', '38406'],
        [4, 'b@x.example', '', '', ''],
      ]);
    }
  });

  it('is refused in words: damaged, of the old kind, none at all, too large', async () => {
    const refused = (octets: Uint8Array): Promise<string> =>
      readPeopleFile(octets, nothing).then(
        () => 'read',
        (error: unknown) => String(error),
      );
    expect(await refused(new Uint8Array([0x50, 0x4b, 1, 2, 3]))).toContain('damaged');
    expect(await refused(zipSync({ 'a.txt': strToU8('a') }))).toContain('no workbook');
    expect(await refused(new Uint8Array([0xd0, 0xcf, 0x11, 0xe0]))).toContain('.xls');
    expect(await refused(new Uint8Array([0x89, 0x50, 0x4e, 0x47, 0, 0, 0, 0]))).toContain('no text');
    expect(await refused(new Uint8Array(mostOctets.file + 1))).toContain('too large');
    // A small file that says it would unpack to gigabytes is not unpacked.
    const bomb = zipSync({ 'xl/worksheets/sheet1.xml': new Uint8Array(1000) });
    const claim = new DataView(bomb.buffer);
    for (let at = 0; at < bomb.length - 4; at += 1)
      if (claim.getUint32(at, true) === 0x02014b50) claim.setUint32(at + 24, 2_000_000_000, true);
    expect(await refused(bomb)).toContain('too large once it is unpacked');
  });
});
