import Papa from 'papaparse';
import { mostRowsAtOnce, type ConsentWords, type PeopleImport, type PeopleImportFields } from '@convite/contract';
import { guessColumns, hasHeadings, tableOf, type ColumnTarget } from '@convite/core';
import type { Context } from '../services/context';
import { addRows, beginImport, describeImport } from '../services/audience/bring-in';
import { takeImport } from '../services/audience/take-in';
import { actor } from './stage';

export const agreed: ConsentWords = { how: 'on the paper form', on: '2026-11-01' };

/** What a browser hands in of a delimited text, its columns guessed; `over` says otherwise. */
export async function lookAtCsv(
  context: Context,
  text: string,
  over: Partial<PeopleImportFields> & { readonly change?: (column: ColumnTarget) => ColumnTarget } = {},
): Promise<{ id: number; rows: number; seen: PeopleImport }> {
  const { change = (column) => column, ...fields } = over;
  const { headings, rows } = tableOf(Papa.parse<string[]>(text).data, hasHeadings);
  const columns = guessColumns(
    headings.map((heading, index) => ({ heading, values: rows.map(({ cells }) => cells[index] ?? '') })),
    'day-first',
  ).map(({ target }) => change(target));
  const begun = {
    name: 'spec.csv',
    columns,
    headings: [...headings],
    listId: null,
    emailConsent: agreed,
    textConsent: agreed,
  };
  const id = await beginImport(context, { ...begun, ...fields }, actor);
  for (let from = 0; from < rows.length; from += mostRowsAtOnce)
    await addRows(context, id, { rows: rows.slice(from, from + mostRowsAtOnce) });
  return { id, rows: rows.length, seen: await describeImport(context, id) };
}

/** The same, taken in at once. */
export async function bringCsv(
  context: Context,
  text: string,
  over: Parameters<typeof lookAtCsv>[2] = {},
): Promise<PeopleImport> {
  const { id, rows } = await lookAtCsv(context, text, over);
  for await (const _ of await takeImport(context, id, { rows, spelled: 'known' }, actor));
  return describeImport(context, id);
}
