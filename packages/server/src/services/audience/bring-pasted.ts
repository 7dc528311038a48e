import { mostRowsAtOnce, type ImportResult } from '@convite/contract';
import { readAddresses, wallTimeAt, type ColumnTarget } from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { addRows, beginImport, describeImport } from './bring-in';
import { takeImport } from './take-in';

const columns: readonly ColumnTarget[] = [
  { to: 'name', rule: 'fill' },
  { to: 'email', rule: 'take' },
];

/**
 * Takes pasted addresses into a list without a look before: the good ones go in, the others come back with their reason.
 * @param how they agreed to be written to, in words; empty for nobody knows: then they are stored, and not written to
 */
export async function bringPasted(
  context: Context,
  listId: number,
  { text, how }: { readonly text: string; readonly how: string },
  actor: Actor,
): Promise<ImportResult> {
  const { addresses, problems } = readAddresses(text);
  if (addresses.length === 0)
    return { added: 0, already: 0, problems: problems.map((one) => ({ ...one, facts: { ...one.facts } })) };
  const { zone } = await context.store.house.settings();
  const on = wallTimeAt(nowOf(context).getTime(), zone).slice(0, 10);
  const fields = {
    name: 'pasted',
    columns: [...columns],
    headings: ['Name', 'Email'],
    listId,
    emailConsent: how ? { how, on } : null,
    textConsent: null,
  };
  const id = await beginImport(context, fields, actor);
  const rows = addresses.map(({ name, email }, index) => ({ number: index + 1, cells: [name, email] }));
  for (let from = 0; from < rows.length; from += mostRowsAtOnce)
    await addRows(context, id, { rows: rows.slice(from, from + mostRowsAtOnce) });
  const progress = await takeImport(context, id, { rows: rows.length, spelled: 'new' }, actor);
  for await (const _ of progress);
  const done = await describeImport(context, id);
  const refused = (await context.store.peopleImportRows.page(id, 'refused', -1, 200)).flatMap((row) => row.problems);
  return {
    added: done.joined,
    already: done.total - done.joined,
    problems: [...problems.map((one) => ({ ...one, facts: { ...one.facts } })), ...refused],
  };
}
