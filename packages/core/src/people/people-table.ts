import { cut } from '../cut';

/** People as rows of text, whatever kind of file they stood in. */
export interface PeopleTable {
  /** Empty for a column without a name. */
  readonly headings: readonly string[];
  readonly rows: readonly PeopleTableRow[];
}

export interface PeopleTableRow {
  /** The row as a spreadsheet counts it, or the card or line that it stands for; from 1. */
  readonly number: number;
  readonly cells: readonly string[];
}

/** More is never read of one file. */
export const tableBounds = { rows: 1_000_000, columns: 200, cell: 5000 } as const;

/** Rows with something in them, under headings; without headings where the first row names nothing. */
export function tableOf(
  rows: readonly (readonly string[])[],
  isHeading: (first: readonly string[]) => boolean,
): PeopleTable {
  const filled = rows
    .map((cells, index) => ({
      number: index + 1,
      cells: cells.slice(0, tableBounds.columns).map((cell) => cut(cell.trim(), tableBounds.cell)),
    }))
    .filter(({ cells }) => cells.some(Boolean));
  const [first] = filled;
  const hasHeadings = first !== undefined && isHeading(first.cells);
  const body = hasHeadings ? filled.slice(1) : filled;
  const width = filled.reduce((most, { cells }) => Math.max(most, cells.length), 0);
  const named = hasHeadings ? first.cells : [];
  return { headings: Array.from({ length: width }, (_, index) => named[index] ?? ''), rows: body };
}
