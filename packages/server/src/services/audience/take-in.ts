import type { ImportProgress, TakeImport } from '@convite/contract';
import { changesBy, isSame, type BroughtPerson, type PersonChange } from '@convite/core';
import type { ConsentOrigin } from '../../store/consents';
import type { Field } from '../../store/fields';
import type { Known } from '../../store/known-people';
import type { StagedRow } from '../../store/people-import-rows';
import type { StoredImport } from '../../store/people-imports';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';
import { agreesTo, findKnown, keyOf, mainListOf, tooLate, undoDays, withMainList } from './bring-in';
import { addTo } from './add-to';
import { undoChunk } from './take-back';
import { offerTopics } from './vocabulary';

/** People taken in within one transaction. */
const chunkSize = 1000;

/**
 * Takes an import in, chunk by chunk, each with its place in one transaction: a process that dies halfway is followed by
 * another, and whoever stops reading leaves it to that one. What was seen beforehand is asked again of each person.
 * @throws Failure 409 where rows are missing that were handed in, or it is not in a state to be taken
 */
export async function takeImport(
  context: Context,
  id: number,
  { rows, spelled }: TakeImport,
  actor: Actor,
): Promise<AsyncGenerator<ImportProgress>> {
  const { store } = context;
  await store.transact(async (tx) => {
    const found = await tx.peopleImports.hold(id);
    if (!found) throw notFound('import');
    const { counts } = found;
    const there = counts.new + counts.changed + counts.same + counts.spelled + counts.refused + counts.twice;
    if (found.state !== 'draft') throw tooLate();
    if (there !== rows)
      throw new Failure(409, 'rows-missing', `Of ${rows} rows ${there} came. Look through the file again.`, {
        count: there,
      });
    await makeRoom(tx, found);
    await tx.peopleImports.chooseSpelled(id, spelled === 'known');
    await tx.peopleImports.setState(id, ['draft'], 'running');
    await tx.house.audit(nowOf(context), actor, 'people: import began', `import ${id}, ${rows} rows`);
  });
  return workOff(context, id);
}

/** Lists, topics and fields that the columns name, where they are not there yet. */
async function makeRoom(tx: StoreSubjects, { fields }: StoredImport): Promise<void> {
  const lists = new Set((await tx.lists.all()).map(({ name }) => name.toLowerCase()));
  for (const column of fields.columns) {
    if (column.to === 'lists')
      for (const name of column.known) {
        if (!lists.has(name.toLowerCase())) await tx.lists.create(name);
        lists.add(name.toLowerCase());
      }
    if (column.to === 'topics') await offerTopics(tx, column.known);
    if (column.to === 'field') await tx.fields.make(column.name, column.type);
  }
}

/** Goes on with an import until all is in or taken back, or somebody stopped it. */
export async function* workOff(context: Context, id: number): AsyncGenerator<ImportProgress> {
  const { store } = context;
  for (;;) {
    const progress = await store.transact(async (tx) => {
      const found = await tx.peopleImports.hold(id);
      if (!found || (found.state !== 'running' && found.state !== 'undoing')) return null;
      const rows = await tx.peopleImportRows.next(id, found.lastRow, chunkSize);
      const last = rows.at(-1);
      const { counts } = found;
      const total = counts.new + counts.changed + counts.same + counts.spelled;
      if (!last) return { position: total, total, isOver: true };
      const joined =
        found.state === 'running'
          ? await takeChunk(context, tx, found, rows)
          : -(await undoChunk(context, tx, found, rows));
      await tx.peopleImports.advance(id, { rows: rows.length, lastRow: last.number, joined });
      return { position: found.position + rows.length, total, isOver: false };
    });
    await store.live.touch('subscribers');
    if (!progress) return;
    if (progress.isOver) await finish(context, id);
    yield progress;
    if (progress.isOver) return;
  }
}

async function finish(context: Context, id: number): Promise<void> {
  const { store } = context;
  const isTaken = await store.peopleImports.setState(id, ['running'], 'done');
  if (!isTaken && !(await store.peopleImports.setState(id, ['undoing'], 'undone'))) return;
  const found = await store.peopleImports.find(id);
  const what = isTaken ? `import ${id}: ${found?.joined ?? 0} joined a list` : `import ${id}`;
  await store.house.audit(
    nowOf(context),
    found?.by ?? '',
    isTaken ? 'people: imported' : 'people: import taken back',
    what,
  );
  await store.live.touch('subscribers', 'board');
}

/** @returns how many joined a list */
async function takeChunk(
  context: Context,
  tx: StoreSubjects,
  found: StoredImport,
  rows: readonly StagedRow[],
): Promise<number> {
  const now = nowOf(context);
  const mainList = await mainListOf(tx, found);
  const staged = rows.flatMap((row) => (row.person ? [{ row, person: withMainList(row.person, mainList) }] : []));
  // Who asked to be forgotten since it was looked at does not come in.
  const forgotten = await tx.erasures.forgottenSince(
    staged.map(({ person }) => keyOf(person)),
    found.startedAt,
  );
  const people = staged.filter(({ person }) => !forgotten.has(keyOf(person)));
  const known = await findKnown(
    tx,
    people.map(({ person }) => person),
    true,
  );
  const spelled = found.takesSpelled
    ? await tx.knownPeople.byIds(
        people.flatMap(({ row }) => (row.kind === 'spelled' ? (row.personId ?? []) : [])),
        true,
      )
    : new Map<number, Known>();
  const knownOf = ({ row, person }: (typeof people)[number]): Known | undefined =>
    known.get(keyOf(person)) ?? (row.kind === 'spelled' ? spelled.get(row.personId ?? 0) : undefined);
  const fresh = people.filter((one) => knownOf(one) === undefined).map(({ person }) => person);
  const ids = await tx.newcomers.addFresh(
    fresh.map((person) => ({
      ...person,
      emailConsent: agreesTo('email', found.fields, person),
      textConsent: agreesTo('text', found.fields, person),
    })),
    now,
  );
  const changed: { readonly known: Known; readonly changes: readonly PersonChange[]; readonly zoneFrom: string }[] = [];
  const others: Pick<StagedRow, 'number' | 'kind' | 'personId' | 'changes'>[] = [];
  for (const one of people) {
    const { row, person } = one;
    const here = knownOf(one);
    const changes = here ? changesBy(found.fields.columns, person, here) : [];
    const kind = here ? (changes.length ? 'changed' : 'same') : 'new';
    if (here && changes.length) changed.push({ known: here, changes, zoneFrom: person.zoneFrom });
    const personId = here?.id ?? null;
    if (kind !== row.kind || personId !== row.personId || !isSame(changes, row.changes))
      others.push({ number: row.number, kind, personId, changes });
  }
  await tx.peopleImportRows.turnedOut(found.id, others);
  await tx.knownPeople.write(changed, now);
  const all = people.flatMap((one) => {
    const personId = knownOf(one)?.id ?? ids.get(keyOf(one.person));
    return personId === undefined ? [] : [{ personId, person: one.person, isNew: !knownOf(one) }];
  });
  await writeFields(tx, found, [
    ...fresh.flatMap((person) =>
      fieldsOf(person).map((field) => ({ personId: ids.get(keyOf(person)) ?? 0, ...field })),
    ),
    ...changed.flatMap(({ known: { id }, changes }) =>
      changes.filter(({ part }) => part === 'field').map(({ name, after }) => ({ personId: id, name, typed: after })),
    ),
  ]);
  await tx.subscribers.giveTopics(
    all.flatMap(({ personId, person }) => person.topics.map((topic) => ({ id: personId, topic }))),
  );
  await grant(tx, found, all, now);
  return joinLists(tx, all, now);
}

const fieldsOf = ({ fields }: BroughtPerson): { name: string; typed: string }[] =>
  Object.entries(fields).map(([name, typed]) => ({ name, typed }));

async function writeFields(
  tx: StoreSubjects,
  { fields }: StoredImport,
  values: readonly { readonly personId: number; readonly name: string; readonly typed: string }[],
): Promise<void> {
  if (values.length === 0) return;
  const made = new Map<string, Field>();
  for (const column of fields.columns)
    if (column.to === 'field') made.set(column.name.toLowerCase(), await tx.fields.make(column.name, column.type));
  await tx.fields.write(
    values.flatMap(({ personId, name, typed }) => {
      const field = made.get(name.toLowerCase());
      return field ? [{ subscriberId: personId, field, typed }] : [];
    }),
  );
}

/** Where the file's consent comes from, in the words that were given for it. */
export const originOf = ({ id, by }: StoredImport, words: { how: string; on: string }): ConsentOrigin => ({
  source: 'file',
  how: `${words.how}, on ${words.on} (import ${id})`,
  by,
});

type Taken = readonly { readonly personId: number; readonly person: BroughtPerson; readonly isNew: boolean }[];

async function grant(tx: StoreSubjects, found: StoredImport, all: Taken, now: Date): Promise<void> {
  for (const channel of ['email', 'text'] as const) {
    const words = channel === 'email' ? found.fields.emailConsent : found.fields.textConsent;
    if (!words) continue;
    const origin = originOf(found, words);
    const agreeing = all.filter(({ person }) => agreesTo(channel, found.fields, person));
    const idsOf = (isNew: boolean): number[] =>
      agreeing.filter((one) => one.isNew === isNew).map(({ personId }) => personId);
    await tx.consents.noteFresh(idsOf(true), channel, origin, now);
    if (channel === 'email') await tx.consents.grantEmails(idsOf(false), origin, now);
    else await tx.consents.grantTexts(idsOf(false), origin, now);
  }
}

async function joinLists(tx: StoreSubjects, all: Taken, now: Date): Promise<number> {
  const members = new Map<string, number[]>();
  for (const { personId, person } of all) for (const list of person.lists) addTo(members, list, personId);
  if (members.size === 0) return 0;
  // Names are the same whatever their case, as the lists' own are.
  const ids = new Map((await tx.lists.all()).map(({ id, name }) => [name.toLowerCase(), id]));
  const joined = new Set<number>();
  // In the order of their numbers, so that two who fill the same lists do not wait for each other.
  const lists = [...members].flatMap(([name, who]) =>
    ids.has(name.toLowerCase()) ? [{ listId: ids.get(name.toLowerCase()) ?? 0, who }] : [],
  );
  for (const { listId, who } of lists.sort((a, b) => a.listId - b.listId))
    for (const one of await tx.lists.join(listId, who, now)) joined.add(one);
  return joined.size;
}

/** Stops an import between two chunks, lets it go on, or takes back what it did. @throws Failure 404, 409 */
export async function changeImport(
  context: Context,
  id: number,
  change: 'stop' | 'go-on' | 'undo',
  actor: Actor,
): Promise<void> {
  const { peopleImports: imports, house, live } = context.store;
  if (!(await imports.find(id))) throw notFound('import');
  const isDone =
    change === 'stop'
      ? await imports.setState(id, ['running'], 'stopped')
      : change === 'go-on'
        ? await imports.setState(id, ['stopped'], 'running')
        : (await isWithinUndo(context, id)) && (await imports.setState(id, ['running', 'stopped', 'done'], 'undoing'));
  if (!isDone) throw tooLate();
  await house.audit(nowOf(context), actor, `people: import ${change}`, `import ${id}`);
  await live.touch('subscribers', 'board');
  if (change !== 'stop') for await (const _ of workOff(context, id));
}

async function isWithinUndo(context: Context, id: number): Promise<boolean> {
  const found = await context.store.peopleImports.find(id);
  return found !== null && context.clock.now() < found.startedAt.getTime() + undoDays * 86_400_000;
}

/** Goes on with an import whose process is gone. @returns whether there was one */
export async function resumeImport(context: Context): Promise<boolean> {
  const id = await context.store.peopleImports.takeAbandoned();
  if (id === null) return false;
  for await (const _ of workOff(context, id));
  return true;
}

/** What nobody took for a day, and rows of what can be taken back no more, are forgotten. @returns whether there may be more */
export function forgetImports(context: Context): Promise<boolean> {
  const daysAgo = (days: number): Date => new Date(context.clock.now() - days * 86_400_000);
  return context.store.peopleImports.forget(
    { untaken: daysAgo(1), asked: daysAgo(3), taken: daysAgo(undoDays + 1) },
    5000,
  );
}
