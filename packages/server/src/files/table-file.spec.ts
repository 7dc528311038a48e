import Papa from 'papaparse';
import { readSheet } from 'read-excel-file/node';
import type { TableFormat } from '@convite/contract';
import { writeTable } from './table-file';

async function write(
  format: TableFormat,
  rows: readonly (readonly string[])[],
  atOnce = 2,
  mostInSheet?: number,
): Promise<Buffer> {
  const pieces: Uint8Array[] = [];
  const some = async function* () {
    for (let from = 0; from < rows.length; from += atOnce) yield Promise.resolve(rows.slice(from, from + atOnce));
  };
  for await (const piece of writeTable(format, ['Name', 'Note'], some(), mostInSheet)) pieces.push(piece);
  return Buffer.concat(pieces);
}

const hard = [
  ['Inês "Estrela" Lopes', 'a, b; c'],
  ['two\nlines', 'tab\there'],
  ['=SUM(A1:A9)', '+351 900'],
  ['<b>&amp;</b>', '🌒 ليلى שלום'],
  ['@cmd', '-1'],
  ['', 'plain'],
];

describe('Tables that leave as files', () => {
  it('are workbooks that another library reads as they were, none of it a formula', async () => {
    const rows = await readSheet(await write('xlsx', hard));
    expect(rows[0]).toEqual(['Name', 'Note']);
    expect(rows.slice(1).map((row) => row.map((cell) => cell ?? ''))).toEqual(
      hard.map((row) => row.map((cell) => cell)),
    );
  });
  it('lose what no XML may hold, and nothing else', async () => {
    const rows = await readSheet(await write('xlsx', [['a\u0000b\u001Fc\uD800d', 'x']]));
    expect(rows[1]).toEqual(['abcd', 'x']);
  });
  it('go on in another sheet, under the same heading, where one is full', async () => {
    const rows = Array.from({ length: 7 }, (_, n) => [`Person ${n}`, '']);
    for (const [most, expected] of [
      [4, [3, 3, 1]],
      [8, [7]],
      [2, [1, 1, 1, 1, 1, 1, 1]],
    ] as const) {
      const file = await write('xlsx', rows, 5, most);
      const sheets: string[][] = [];
      for (let sheet = 1; sheet <= expected.length; sheet += 1) {
        const [heading, ...found] = await readSheet(file, sheet);
        expect(heading).toEqual(['Name', 'Note']);
        sheets.push(found.map(([name]) => String(name)));
      }
      expect(sheets.map(({ length }) => length)).toEqual([...expected]);
      expect(sheets.flat()).toEqual(rows.map(([name = '']) => name));
      await expectAsync(readSheet(file, expected.length + 1)).toBeRejected();
    }
  });
  it('are CSV in which no spreadsheet finds a formula', async () => {
    const text = (await write('csv', hard)).toString('utf8');
    expect(text.startsWith('\uFEFF')).toBeTrue();
    const { data } = Papa.parse<string[]>(text.slice(1).trimEnd());
    expect(data.slice(1).map(([name]) => name)).toEqual([
      'Inês "Estrela" Lopes',
      'two\nlines',
      "'=SUM(A1:A9)",
      '<b>&amp;</b>',
      "'@cmd",
      '',
    ]);
    expect(data.slice(1).map(([, note]) => note)[2]).toBe("'+351 900");
  });
  it('are whole when they are empty, and when they are long', async () => {
    expect(await readSheet(await write('xlsx', []))).toEqual([['Name', 'Note']]);
    const many = Array.from({ length: 20_000 }, (_, n) => [`Person ${n}`, 'x'.repeat(40)]);
    const rows = await readSheet(await write('xlsx', many, 1000));
    expect([rows.length, rows.at(-1)?.[0]]).toEqual([20_001, 'Person 19999']);
  });
});
