import Papa from 'papaparse';

/** A row of a table that somebody dropped or pasted. */
export interface TableRow<K extends string> {
  /** Where it stands, counting the heading as line 1: `line 7`. */
  readonly path: string;
  /** What is in a column that is known by name, without spaces around; empty where there is none. */
  cell(column: K): string;
  /** Every other column that has a name and something in it, under the file's own name. */
  further(): Record<string, string>;
}

export interface Table<K extends string> {
  /** Known columns that the heading has. */
  readonly columns: ReadonlySet<K>;
  /** Rows in which anything stands. */
  readonly rows: readonly TableRow<K>[];
}

const longest = { name: 120, value: 2000, columns: 50 };

/**
 * Reads delimited text with a heading row (RFC 4180), of any usual delimiter.
 * @param names how people write the heading of each column, in small letters
 */
export function readTable<K extends string>(text: string, names: Readonly<Record<K, readonly string[]>>): Table<K> {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { delimiter: delimiterOf(text) });
  const [heading = [], ...lines] = data;
  const places = new Map<string, number>();
  for (const column in names) {
    const place = heading.findIndex((name) => names[column].includes(name.trim().toLowerCase()));
    if (place >= 0) places.set(column, place);
  }
  const known = new Set(places.values());
  const rows = lines.map((cells, index) => ({ cells, path: `line ${index + 2}` }));
  return {
    columns: new Set(Object.keys(names).filter((column): column is K => places.has(column))),
    rows: rows
      .filter(({ cells }) => cells.some((cell) => cell.trim()))
      .map(({ cells, path }) => ({
        path,
        cell: (column) => (cells[places.get(column) ?? -1] ?? '').trim(),
        further: () => furtherOf(heading, cells, known),
      })),
  };
}

function furtherOf(
  heading: readonly string[],
  cells: readonly string[],
  known: ReadonlySet<number>,
): Record<string, string> {
  const further = heading.flatMap((name, index): [string, string][] => {
    const value = (cells[index] ?? '').trim();
    if (known.has(index) || !name.trim() || !value) return [];
    return [[name.trim().slice(0, longest.name), value.slice(0, longest.value)]];
  });
  return Object.fromEntries(further.slice(0, longest.columns));
}

/** The delimiter that stands most often in the heading row; guessing from the data goes wrong on small files. */
function delimiterOf(text: string): string {
  const heading = text.split(/[\r\n]/, 1)[0] ?? '';
  const count = (mark: string): number => heading.split(mark).length;
  return [',', ';', '\t', '|'].reduce((most, mark) => (count(mark) > count(most) ? mark : most));
}
