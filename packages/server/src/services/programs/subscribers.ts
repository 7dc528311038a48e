import { createHash } from 'node:crypto';
import * as z from 'zod';
import {
  sayProblem,
  type LocatedProblem,
  type PeopleImportFields,
  type ProgramPerson,
  type ProgramSubscriber,
  type ProgramSubscriberQuery,
  type RowOutcome,
  type RowOutcomes,
  type TakeSubscribers,
} from '@convite/contract';
import { readFieldValue, type ColumnTarget, type Problem } from '@convite/core';
import type { Field } from '../../store/fields';
import type { StoredList } from '../../store/lists';
import { addRows, describeImport } from '../audience/bring-in';
import { takeImport, workOff } from '../audience/take-in';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';

/** People, by number, from behind one of them. */
export async function listSubscribers(
  { store }: Context,
  { after, limit, email, list }: ProgramSubscriberQuery,
): Promise<{ rows: ProgramSubscriber[]; next: number | null }> {
  const ids = await idsOf(store, { after, limit: limit + 1, email: email?.trim().toLowerCase(), list });
  const shown = ids.slice(0, limit);
  return { rows: await describe(store, shown), next: ids.length > limit ? (shown.at(-1) ?? null) : null };
}

/** Of a list its own index is read, in order: joined with people, all behind would be looked at. */
async function idsOf(
  store: Context['store'],
  { after, limit, email, list }: { after: number; limit: number; email: string | undefined; list: number | undefined },
): Promise<number[]> {
  if (email === undefined)
    return list === undefined ? store.subscribers.idsAfter(after, limit) : store.lists.membersAfter(list, after, limit);
  const [id] = await store.subscribers.idsAfter(after, 1, email);
  if (id === undefined) return [];
  return list === undefined || (await store.lists.ofPerson(id)).includes(list) ? [id] : [];
}

/** @throws Failure 404 */
export async function readSubscriber({ store }: Context, id: number): Promise<ProgramSubscriber> {
  const [found] = await describe(store, [id]);
  if (!found) throw notFound('subscriber');
  return found;
}

async function describe(store: Context['store'], ids: readonly number[]): Promise<ProgramSubscriber[]> {
  const known = await store.knownPeople.byIds(ids, false);
  const listIds = new Map((await store.lists.all()).map(({ id, name }) => [name, id]));
  const fieldNames = new Map((await store.fields.all()).map(({ name }) => [name.toLowerCase(), name]));
  return ids.flatMap((id) => {
    const one = known.get(id);
    if (!one) return [];
    const { optedOut, bounced, email, name, mobile, phone, zone, language, topics } = one;
    return [
      {
        ...{ id, email, name, mobile, phone, zone, language, optedOut, bounced },
        emailConsent: one.emailConsent && !optedOut,
        textConsent: one.textConsent,
        lists: one.lists.flatMap((list) => listIds.get(list) ?? []).sort((a, b) => a - b),
        topics: [...topics],
        fields: Object.fromEntries(
          Object.entries(one.fields).map(([field, typed]) => [fieldNames.get(field) ?? field, typed]),
        ),
      },
    ];
  });
}

/**
 * Takes people in whom another system knows, each row for itself, in the one way in which people are brought in.
 * @param key the same for the same wish: asked again, what became of it is said again
 * @throws Failure 422 for a key that came with another wish
 */
export async function takeFromProgram(
  context: Context,
  asked: TakeSubscribers,
  actor: Actor,
  key: string | null,
): Promise<RowOutcomes> {
  const { store } = context;
  const { topics } = await store.house.settings();
  const known = { lists: await store.lists.all(), fields: await store.fields.all(), topics };
  const refused = new Map<number, Problem[]>();
  asked.rows.forEach((row, index) => {
    const problems = problemsOf(row, asked, known);
    if (problems.length) refused.set(index, problems);
  });
  const rows = asked.rows.map((row, index) => ({ row, index })).filter(({ index }) => !refused.has(index));
  const columns = columnsFor(asked, known);
  if (columns.length > mostColumns)
    throw new Failure(
      422,
      'too-many-names',
      `These rows name ${columns.length - factColumns} lists, topics and fields; ${mostColumns - factColumns} at the most in one request. Send them in parts.`,
    );
  const taken = rows.length ? await takeRows(context, { asked, columns }, rows, actor, key) : [];
  const results = [
    ...taken,
    ...[...refused].map(([index, problems]): RowOutcome => ({
      index,
      id: null,
      outcome: 'refused',
      problems: problems.map(({ code, path, facts }) => said({ code, path, ...(facts && { facts: { ...facts } }) })),
    })),
  ];
  return { results: results.sort((a, b) => a.index - b.index) };
}

/** A problem with its sentence: programs have no table of them. */
export const said = (problem: LocatedProblem): RowOutcome['problems'][number] => ({
  ...problem,
  message: sayProblem(problem),
});

/** A file has no more. */
const mostColumns = 200;
/** What is no list, topic or field. */
const factColumns = 7;

interface Known {
  readonly topics: readonly string[];
  readonly lists: readonly StoredList[];
  readonly fields: readonly Field[];
}

/** What cannot be meant, beside what every way of bringing people in refuses. */
function problemsOf(row: ProgramPerson, { consent }: TakeSubscribers, { lists, fields, topics }: Known): Problem[] {
  const offered = new Set(topics.map((topic) => topic.toLowerCase()));
  return [
    ...(row.lists ?? []).flatMap((id): Problem[] =>
      lists.some((list) => list.id === id) ? [] : [{ code: 'unknown-list', path: 'lists', facts: { text: id } }],
    ),
    ...(row.topics ?? []).flatMap((text): Problem[] =>
      offered.has(text.toLowerCase()) ? [] : [{ code: 'unknown-topic', path: 'topics', facts: { text } }],
    ),
    ...Object.entries(row.fields ?? {}).flatMap(([name, typed]): Problem[] => {
      const field = fields.find((one) => one.name.toLowerCase() === name.toLowerCase());
      const path = `fields.${name}`;
      if (!field) return [{ code: 'no-such-field', path, facts: { text: name } }];
      return typed === '' || readFieldValue(field.type, typed) !== null
        ? []
        : [{ code: 'bad-value', path, facts: { text: typed.slice(0, 60), type: field.type } }];
    }),
    ...(row.agreesToEmail && !consent.email ? [{ code: 'no-words', path: 'agreesToEmail' } as const] : []),
    ...(row.agreesToTexts && !consent.text ? [{ code: 'no-words', path: 'agreesToTexts' } as const] : []),
  ];
}

interface Column {
  readonly target: ColumnTarget;
  cell(row: ProgramPerson): string;
}

/** The columns of such a file: one for each list, topic and field that any row names. */
function columnsFor({ rows, rule }: TakeSubscribers, { lists, fields, topics }: Known): Column[] {
  const named = <T>(of: (row: ProgramPerson) => readonly T[]): T[] => [...new Set(rows.flatMap(of))];
  const fieldNames = named((row) => Object.keys(row.fields ?? {}).map((name) => name.toLowerCase()));
  const agree = (yes: boolean | undefined): string => (yes ? 'yes' : 'no');
  return [
    { target: { to: 'email', rule }, cell: ({ email = '' }) => email },
    { target: { to: 'mobile', rule }, cell: ({ mobile = '' }) => mobile },
    { target: { to: 'name', rule }, cell: ({ name = '' }) => name },
    { target: { to: 'zone', rule }, cell: ({ zone = '' }) => zone },
    { target: { to: 'language', rule }, cell: ({ language = '' }) => language },
    { target: { to: 'email-consent', rule: 'take' }, cell: ({ agreesToEmail }) => agree(agreesToEmail) },
    { target: { to: 'text-consent', rule: 'take' }, cell: ({ agreesToTexts }) => agree(agreesToTexts) },
    ...named((row) => row.lists ?? []).flatMap((id): Column[] => {
      const name = lists.find((list) => list.id === id)?.name;
      return name === undefined
        ? []
        : [{ target: { to: 'lists', known: [name] }, cell: (row) => (row.lists?.includes(id) ? name : '') }];
    }),
    // As the house spells them.
    ...topics
      .filter((topic) => rows.some((row) => hasTopic(row, topic)))
      .map((topic): Column => ({
        target: { to: 'topics', known: [topic] },
        cell: (row) => (hasTopic(row, topic) ? topic : ''),
      })),
    ...fields
      .filter(({ name }) => fieldNames.includes(name.toLowerCase()))
      .map(({ name, type }): Column => ({
        target: {
          to: 'field',
          name,
          type,
          rule,
          order: type === 'date' || type === 'date-time' ? 'iso' : null,
          isCountry: false,
        },
        cell: (row) =>
          Object.entries(row.fields ?? {}).find(([one]) => one.toLowerCase() === name.toLowerCase())?.[1] ?? '',
      })),
  ];
}

const hasTopic = ({ topics = [] }: ProgramPerson, topic: string): boolean =>
  topics.some((one) => one.toLowerCase() === topic.toLowerCase());

async function takeRows(
  context: Context,
  { asked, columns }: { readonly asked: TakeSubscribers; readonly columns: readonly Column[] },
  rows: readonly { readonly row: ProgramPerson; readonly index: number }[],
  actor: Actor,
  key: string | null,
): Promise<RowOutcome[]> {
  const { store } = context;
  const fields: PeopleImportFields = {
    name: actor.name,
    columns: columns.map(({ target }) => target),
    headings: [],
    listId: null,
    emailConsent: asked.consent.email ?? null,
    textConsent: asked.consent.text ?? null,
  };
  const id = await beginOnce(context, fields, actor, key, digestOf(asked));
  if ((await describeImport(context, id)).state === 'draft') {
    try {
      await addRows(context, id, {
        rows: rows.map(({ row, index }) => ({ number: index, cells: columns.map(({ cell }) => cell(row)) })),
      });
      for await (const _ of await takeImport(context, id, { rows: rows.length, spelled: 'new' }, actor));
    } catch (error) {
      // The same wish came twice at once, and the other is at it.
      if (!(error instanceof Failure) || error.code !== 'import-over') throw error;
    }
  }
  for await (const _ of workOff(context, id));
  return outcomesOf(store, id);
}

/** Begins it, or finds what was begun for the same key. */
async function beginOnce(
  context: Context,
  fields: PeopleImportFields,
  actor: Actor,
  key: string | null,
  digest: string,
): Promise<number> {
  const now = nowOf(context);
  return context.store.transact(async (tx) => {
    const before = key === null ? null : await tx.requests.take(key, now);
    if (before) {
      const { id, digest: of } = begun.parse(before.answer);
      if (of !== digest) throw keyReused();
      return id;
    }
    const id = await tx.peopleImports.begin(fields, '', actor.name, now, true);
    if (key !== null) await tx.requests.keep(key, { id, digest });
    return id;
  });
}

const begun = z.object({ id: z.number(), digest: z.string() });

export const keyReused = (): Failure =>
  new Failure(422, 'key-reused', 'This Idempotency-Key came with another request before. Give each its own.');

export const digestOf = (asked: unknown): string => createHash('sha256').update(JSON.stringify(asked)).digest('hex');

async function outcomesOf(store: Context['store'], id: number): Promise<RowOutcome[]> {
  const rows = await store.peopleImportRows.page(id, undefined, -1, 1000);
  const people = rows.flatMap(({ person }) => person ?? []);
  const known = await store.knownPeople.byKeys(
    people.flatMap(({ email }) => email ?? []),
    people.flatMap(({ email, mobile }) => (email === null ? [mobile] : [])),
    false,
  );
  return rows.map(({ number, kind, personId, knownBy, problems }) => ({
    index: number,
    id: kind === 'refused' ? null : (personId ?? known.get(knownBy)?.id ?? null),
    outcome: kind === 'spelled' ? 'new' : kind,
    problems: problems.map(said),
  }));
}
