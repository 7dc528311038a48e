import type { BroughtPerson, PersonChange } from '@convite/core';
import type { Field } from '../../store/fields';
import type { Known } from '../../store/known-people';
import type { StagedRow } from '../../store/people-import-rows';
import type { StoredImport } from '../../store/people-imports';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Context } from '../context';
import { addTo } from './add-to';
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
    for (const list of joined.flatMap((name) => listIds.get(name.toLowerCase()) ?? [])) addTo(leaving, list, id);
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
    return one && person && isAsBrought(one, person) && alone.has(id) ? [id] : [];
  });
}

/** Nobody has changed their details, fields or topics since. Lists are looked at for themselves. */
function isAsBrought(one: Known, person: BroughtPerson): boolean {
  const brought = Object.entries(person.fields).filter(([, value]) => value);
  const topics = new Set(person.topics.map((topic) => topic.toLowerCase()));
  return (
    (['name', 'mobile', 'phone', 'zone', 'language'] as const).every((part) => one[part] === person[part]) &&
    Object.values(one.fields).filter(Boolean).length === brought.length &&
    brought.every(([name, value]) => one.fields[name.toLowerCase()] === value) &&
    one.topics.length === topics.size &&
    one.topics.every((topic) => topics.has(topic.toLowerCase()))
  );
}

/** Known people get back what the file went over, where it is still the file's. */
async function turnBack(tx: StoreSubjects, rows: readonly TakenRow[], now: Date): Promise<void> {
  const here = await tx.knownPeople.byIds(
    rows.map(({ id }) => id),
    true,
  );
  const fields = new Map((await tx.fields.all()).map((field) => [field.name.toLowerCase(), field]));
  const people = rows.flatMap(({ id, row }) => {
    const known = here.get(id);
    const changes = row.changes
      .filter((change) => known && isStill(known, change))
      .map((change): PersonChange => ({ ...change, before: change.after, after: change.before }));
    return known ? [{ known, changes, zoneFrom: '' }] : [];
  });
  await tx.knownPeople.write(people, now);
  const values: { subscriberId: number; field: Field; typed: string }[] = [];
  const [emptied, topics] = [new Map<number, number[]>(), new Map<string, number[]>()];
  for (const { known, changes } of people)
    for (const { part, name, after } of changes) {
      const field = part === 'field' ? fields.get(name.toLowerCase()) : undefined;
      if (field && after) values.push({ subscriberId: known.id, field, typed: after });
      if (field && !after) addTo(emptied, field.id, known.id);
      if (part === 'topic') addTo(topics, name, known.id);
    }
  await tx.fields.write(values);
  for (const [fieldId, ids] of emptied) await tx.fields.empty(fieldId, ids);
  for (const [topic, ids] of topics) await tx.subscribers.takeTopic(ids, topic);
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
