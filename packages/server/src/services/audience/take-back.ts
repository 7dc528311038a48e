import type { PersonChange } from '@convite/core';
import type { Known } from '../../store/known-people';
import type { StagedRow } from '../../store/people-import-rows';
import type { StoredImport } from '../../store/people-imports';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Context } from '../context';
import { findKnown, mainListOf, withMainList } from './bring-in';

/**
 * Takes back what an import did to some people. What others changed since stays: a person with whom anything was done, a value
 * that is not the file's any more, a consent that somebody spoke of since.
 * @returns how many left a list by it
 */
export async function undoChunk(
  context: Context,
  tx: StoreSubjects,
  found: StoredImport,
  rows: readonly StagedRow[],
): Promise<number> {
  const now = nowOf(context);
  const taken = await whomTaken(tx, found, rows);
  const listIds = new Map((await tx.lists.all()).map(({ id, name }) => [name.toLowerCase(), id]));
  const mainList = await mainListOf(tx, found);
  const leaving = new Map<number, number[]>();
  for (const { id, row } of taken) {
    const joined =
      row.kind === 'new'
        ? listsOf(row, mainList)
        : row.changes.flatMap(({ part, name }) => (part === 'list' ? name : []));
    for (const list of joined.flatMap((name) => listIds.get(name.toLowerCase()) ?? []))
      leaving.set(list, [...(leaving.get(list) ?? []), id]);
  }
  const gone = new Set(await untouched(tx, taken, [...leaving.keys()]));
  const left = new Set<number>();
  for (const [listId, ids] of [...leaving].sort(([a], [b]) => a - b))
    for (const id of await tx.lists.leave(listId, ids, now)) left.add(id);
  await tx.newcomers.remove([...gone]);
  const staying = taken.filter(({ id }) => !gone.has(id));
  await turnBack(
    tx,
    staying.filter(({ row }) => row.kind === 'changed'),
    now,
  );
  for (const channel of ['email', 'text'] as const)
    await tx.consents.takeBack(
      staying.map(({ id }) => id),
      channel,
      found.id,
      now,
    );
  return left.size;
}

interface TakenRow {
  readonly id: number;
  readonly row: StagedRow;
}

/** Who the rows became. New people are known by their addresses: one that was changed since is left as it is. */
async function whomTaken(tx: StoreSubjects, found: StoredImport, rows: readonly StagedRow[]): Promise<TakenRow[]> {
  const taken = rows.filter(({ number }) => number <= found.takenTo);
  const people = taken.flatMap(({ kind, person }) => (kind === 'new' && person ? [person] : []));
  const fresh = await findKnown(tx, people, true);
  return taken.flatMap((row) => {
    const id = row.kind === 'new' ? fresh.get(row.knownBy)?.id : row.personId;
    return id ? [{ id, row }] : [];
  });
}

const listsOf = ({ person }: StagedRow, mainList: string | null): readonly string[] =>
  person ? withMainList(person, mainList).lists : [];

/** New people with whom nothing was done since, and who are as the file said. */
async function untouched(tx: StoreSubjects, taken: readonly TakenRow[], lists: readonly number[]): Promise<number[]> {
  const fresh = taken.filter(({ row }) => row.kind === 'new');
  const ids = fresh.map(({ id }) => id);
  const alone = new Set(await tx.knownPeople.untouched(ids, lists));
  const here = await tx.knownPeople.byIds(ids, true);
  return fresh.flatMap(({ id, row: { person } }) => {
    const one = here.get(id);
    const isAsWas =
      one && person && one.name === person.name && one.mobile === person.mobile && one.zone === person.zone;
    return isAsWas && alone.has(id) ? [id] : [];
  });
}

/** Known people get back what the file went over, where it is still the file's. */
async function turnBack(tx: StoreSubjects, rows: readonly TakenRow[], now: Date): Promise<void> {
  const here = await tx.knownPeople.byIds(
    rows.map(({ id }) => id),
    true,
  );
  const fields = new Map((await tx.fields.all()).map((field) => [field.name.toLowerCase(), field]));
  for (const {
    id,
    row: { changes },
  } of rows) {
    const one = here.get(id);
    if (!one) continue;
    const back = changes
      .filter((change) => isStill(one, change))
      .map((change): PersonChange => ({ ...change, before: change.after, after: change.before }));
    await tx.knownPeople.write([{ known: one, changes: back, zoneFrom: '' }], now);
    for (const { part, name, after } of back) {
      const field = fields.get(name.toLowerCase());
      if (part === 'field' && field && after) await tx.fields.write([{ subscriberId: one.id, field, typed: after }]);
      if (part === 'field' && field && !after) await tx.fields.empty(field.id, [one.id]);
      if (part === 'topic') await tx.subscribers.takeTopic([one.id], name);
    }
  }
}

function isStill(one: Known, { part, name, after }: PersonChange): boolean {
  switch (part) {
    case 'list':
      return false;
    case 'topic':
      return one.topics.includes(name);
    case 'field':
      return (one.fields[name.toLowerCase()] ?? '') === after;
    default:
      return one[part] === after;
  }
}
