import { createHash } from 'node:crypto';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { domainToASCII, domainToUnicode } from 'node:url';
import type {
  ImportRow,
  ImportRowPage,
  LocatedProblem,
  PeopleImport,
  PeopleImportFields,
  PeopleImportRows,
  RowKind,
} from '@convite/contract';
import { changesBy, cut, readPerson, type BroughtPerson, type ColumnTarget, type Problem } from '@convite/core';
import { phoneReader } from '../../files/read-phone';
import type { Known } from '../../store/known-people';
import type { StagedRow } from '../../store/people-import-rows';
import type { ImportCounts, StoredImport } from '../../store/people-imports';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';

const dayMs = 86_400_000;
/** So long an import can be taken back; then its rows are forgotten. */
export const undoDays = 30;
const shownAtOnce = 50;
/** Rows read before others of this process have their turn. */
const readAtOnce = 100;

/** Begins to bring people in. Nothing happens to anybody before it is taken. @throws Failure 404 for a list that is not there */
export async function beginImport(context: Context, fields: PeopleImportFields, actor: Actor): Promise<number> {
  if (fields.listId !== null && !(await context.store.lists.has(fields.listId))) throw notFound('list');
  if (!fields.columns.some(({ to }) => to === 'email' || to === 'mobile'))
    throw new Failure(422, 'no-address-column', 'Say which column holds the email address, or the mobile number.');
  return context.store.peopleImports.begin(fields, shapeOf(fields.headings), actor.name, nowOf(context));
}

/**
 * Looks at some rows of the file: who is new, who is known and what would change, and what cannot be taken. Handing the same
 * rows in again changes nothing, so that a connection that broke loses none.
 */
export async function addRows(context: Context, id: number, { rows }: PeopleImportRows): Promise<PeopleImport> {
  const { store } = context;
  const { region } = await store.house.settings();
  const readPhone = phoneReader(region);
  const begun = await store.peopleImports.find(id);
  if (!begun) throw notFound('import');
  // Read and looked up before it is held: chunks that come at once are, beside each other.
  const read: ReadRow[] = [];
  for (const { number, cells } of rows) {
    read.push({ number, cells, read: readPerson(begun.fields.columns, cells, readPhone) });
    if (read.length % readAtOnce === 0) await nextTurn();
  }
  const people = read.flatMap((one) => (one.read.ok ? [one.read.value] : []));
  const keys = people.map(keyOf);
  const around = await lookAround(store, begun, people);
  await store.transact(async (tx) => {
    const found = await tx.peopleImports.hold(id);
    if (!found) throw notFound('import');
    if (found.state !== 'draft') throw tooLate();
    const absent = new Set(
      await tx.peopleImportRows.absentAmong(
        id,
        rows.map(({ number }) => number),
      ),
    );
    const staged = stage(
      found,
      around,
      await tx.peopleImportRows.takenAmong(id, keys),
      read.filter(({ number }) => absent.delete(number)),
    );
    await tx.peopleImportRows.add(
      id,
      staged.map(({ row }) => row),
    );
    await tx.peopleImports.addCounts(id, countsOf(found, staged));
  });
  return describeImport(context, id);
}

export const tooLate = (): Failure =>
  new Failure(409, 'import-over', 'This import is not in a state in which that can be done.');

/** Everybody in it goes on this list; null for none, or where it is gone. */
export const mainListOf = async (store: StoreSubjects, { listId }: StoredImport): Promise<string | null> =>
  listId === null ? null : ((await store.lists.find(listId))?.name ?? null);

/** As the row says, and on the list that all go on. */
export const withMainList = (person: BroughtPerson, list: string | null): BroughtPerson =>
  list === null || person.lists.includes(list) ? person : { ...person, lists: [...person.lists, list] };

/** Which person a row is about: their address, or the number of who has none. */
export const keyOf = ({ email, mobile }: BroughtPerson): string => email ?? mobile;

/** Those of some people who are known, by their keys. @param isHeld nobody else changes them until the transaction is over */
export const findKnown = (
  store: StoreSubjects,
  people: readonly BroughtPerson[],
  isHeld: boolean,
): Promise<Map<string, Known>> =>
  store.knownPeople.byKeys(
    people.flatMap(({ email }) => email ?? []),
    people.flatMap(({ email, mobile }) => (email === null ? [mobile] : [])),
    isHeld,
  );

/**
 * The same mailbox as it may be written otherwise: without what stands behind a plus (RFC 5233), and its domain in either
 * of the ways of internationalised names (RFC 5890).
 */
export function spellingsOf(email: string): string[] {
  const [local = '', domain = ''] = email.split('@');
  const bare = local.split('+')[0] ?? local;
  // What is plain ASCII, and stands for nothing else, is written in one way.
  if (/^[\w.-]+$/.test(domain) && !domain.includes('xn--')) return [`${bare}@${domain}`];
  return [...new Set([domain, domainToASCII(domain), domainToUnicode(domain)])]
    .filter(Boolean)
    .map((one) => `${bare}@${one.toLowerCase()}`);
}

const located = ({ code, path, facts }: Problem): LocatedProblem => ({
  code,
  path,
  ...(facts && { facts: { ...facts } }),
});

interface Looked {
  readonly row: StagedRow;
  readonly known: Known | null;
}
interface ReadRow {
  readonly number: number;
  readonly cells: readonly string[];
  readonly read: ReturnType<typeof readPerson>;
}

/** What is known here of the people of some rows. */
interface Around {
  readonly mainList: string | null;
  readonly forgotten: ReadonlySet<string>;
  readonly known: ReadonlyMap<string, Known>;
  /** By what remains of their addresses without what stands behind a plus. */
  readonly spelled: ReadonlyMap<string, Known>;
}

async function lookAround(
  store: StoreSubjects,
  found: StoredImport,
  people: readonly BroughtPerson[],
): Promise<Around> {
  const [known, forgotten, mainList] = await Promise.all([
    findKnown(store, people, false),
    store.erasures.forgottenAmong(people.map(keyOf)),
    mainListOf(store, found),
  ]);
  const others = people.flatMap(({ email }) => (email && !known.has(email) ? spellingsOf(email) : []));
  return {
    mainList,
    forgotten,
    known,
    spelled: await store.knownPeople.bySpelling(others),
  };
}

/** What becomes of each row. @param before whom other rows of the file are about */
function stage(
  { fields }: StoredImport,
  { mainList, forgotten, known, spelled }: Around,
  before: ReadonlySet<string>,
  rows: readonly ReadRow[],
): Looked[] {
  const taken = new Set(before);
  return rows.map(({ number, cells, read }): Looked => {
    const blank = {
      number,
      knownBy: '',
      personId: null,
      person: null,
      changes: [],
      problems: [],
      cells: [],
    };
    const refused = (problems: readonly Problem[], knownBy: string): Looked => ({
      row: { ...blank, kind: 'refused', knownBy, problems: problems.map(located), cells },
      known: null,
    });
    if (!read.ok) return refused(read.problems, findKey(fields.columns, cells));
    const person = read.value;
    const knownBy = keyOf(person);
    if (forgotten.has(knownBy)) return refused([{ code: 'was-erased', path: '', facts: { text: knownBy } }], '');
    if (taken.has(knownBy)) return { row: { ...blank, kind: 'twice', knownBy, cells }, known: null };
    taken.add(knownBy);
    const same = known.get(knownBy);
    if (same) {
      const changes = changesBy(fields.columns, withMainList(person, mainList), same);
      const kind = changes.length ? 'changed' : 'same';
      return { row: { ...blank, kind, knownBy, personId: same.id, person, changes }, known: same };
    }
    const other = person.email ? spellingsOf(person.email).flatMap((key) => spelled.get(key) ?? [])[0] : undefined;
    if (other) return { row: { ...blank, kind: 'spelled', knownBy, personId: other.id, person }, known: other };
    return { row: { ...blank, kind: 'new', knownBy, person }, known: null };
  });
}

/** Whom a row that is not taken seems to be about, so that it is found when they are erased. */
function findKey(columns: readonly ColumnTarget[], cells: readonly string[]): string {
  const place = columns.findIndex(({ to }) => to === 'email');
  return cut((cells[place] ?? '').trim().toLowerCase(), 254);
}

function countsOf({ fields }: StoredImport, looked: readonly Looked[]): Partial<ImportCounts> {
  const count = (is: (one: Looked) => boolean): number => looked.filter(is).length;
  const ofKind = (kind: RowKind): number => count(({ row }) => row.kind === kind);
  return {
    new: ofKind('new'),
    changed: ofKind('changed'),
    same: ofKind('same'),
    spelled: ofKind('spelled'),
    refused: ofKind('refused'),
    twice: ofKind('twice'),
    optedOut: count(({ known }) => known?.optedOut === true),
    bounced: count(({ known }) => known?.bounced === true),
    landlines: count(({ row }) => Boolean(row.person?.phone)),
    guessedZones: count(({ row }) => Boolean(row.person?.zoneFrom)),
    withoutConsent: count(
      ({ row }) => row.kind === 'new' && row.person !== null && !agreesTo('email', fields, row.person),
    ),
  };
}

/** Does a file say, with where it comes from, that somebody agreed? A column that says no, or nothing, is no consent. */
export function agreesTo(channel: 'email' | 'text', fields: PeopleImportFields, person: BroughtPerson): boolean {
  const [words, said] =
    channel === 'email' ? [fields.emailConsent, person.emailConsent] : [fields.textConsent, person.textConsent];
  return words !== null && said !== false && (channel === 'email' ? person.email !== null : person.mobile !== '');
}

export async function describeImport({ store }: Pick<Context, 'store'>, id: number): Promise<PeopleImport> {
  const found = await store.peopleImports.find(id);
  if (!found) throw notFound('import');
  return describe(found, await mainListOf(store, found));
}

export async function latestImports({ store }: Pick<Context, 'store'>): Promise<PeopleImport[]> {
  const found = await store.peopleImports.latest(10);
  const names = new Map((await store.lists.all()).map(({ id, name }) => [id, name]));
  return found.map((one) => describe(one, names.get(one.listId ?? 0) ?? null));
}

function describe(found: StoredImport, listName: string | null): PeopleImport {
  const { counts } = found;
  const undoUntil = new Date(found.startedAt.getTime() + undoDays * dayMs);
  return {
    id: found.id,
    name: found.fields.name,
    by: found.by,
    listId: found.listId,
    listName: listName ?? '',
    state: found.state,
    startedAt: found.startedAt.toISOString(),
    counts: {
      new: counts.new,
      changed: counts.changed,
      same: counts.same,
      spelled: counts.spelled,
      refused: counts.refused,
      twice: counts.twice,
    },
    optedOut: counts.optedOut,
    bounced: counts.bounced,
    landlines: counts.landlines,
    guessedZones: counts.guessedZones,
    withoutConsent: counts.withoutConsent,
    total: counts.new + counts.changed + counts.same + counts.spelled,
    position: found.position,
    joined: found.joined,
    undoUntil: found.state === 'done' || found.state === 'stopped' ? undoUntil.toISOString() : null,
  };
}

/** Rows of one kind, or of all, in the order of the file. */
export async function pageRows(
  { store }: Pick<Context, 'store'>,
  id: number,
  kind: RowKind | undefined,
  after: number,
): Promise<ImportRowPage> {
  const rows = await store.peopleImportRows.page(id, kind, after, shownAtOnce + 1);
  const shown = rows.slice(0, shownAtOnce);
  const known = await store.knownPeople.byIds(
    shown.flatMap(({ kind: one, personId }) => (one === 'spelled' ? (personId ?? []) : [])),
    false,
  );
  return {
    rows: shown.map((row) => rowShown(row, row.personId === null ? undefined : known.get(row.personId))),
    next: rows.length > shownAtOnce ? (shown.at(-1)?.number ?? null) : null,
  };
}

const rowShown = (row: StagedRow, spelled: Known | undefined): ImportRow => ({
  number: row.number,
  kind: row.kind,
  name: row.person?.name ?? '',
  email: row.person?.email ?? row.knownBy,
  mobile: row.person?.mobile ?? '',
  phone: row.person?.phone ?? '',
  zone: row.person?.zone ?? '',
  isZoneGuessed: Boolean(row.person?.zoneFrom),
  changes: [...row.changes],
  problems: [...row.problems],
  personId: row.personId,
  spelled: spelled?.email ?? '',
});

/** Rows that were not taken, as they stood, with the reason behind: to be mended and dropped again. */
export async function* refusedRows(
  { store }: Pick<Context, 'store'>,
  id: number,
  say: (problems: readonly LocatedProblem[], isTwice: boolean) => string,
): AsyncGenerator<string[][]> {
  for (const kind of ['refused', 'twice'] as const)
    for (let after = -1; ;) {
      const rows = await store.peopleImportRows.page(id, kind, after, 1000);
      const last = rows.at(-1);
      if (!last) break;
      yield rows.filter(({ cells }) => cells.length).map((row) => [...row.cells, say(row.problems, kind === 'twice')]);
      after = last.number;
    }
}

/** Drops what was handed in and not taken. */
export async function discardImport({ store }: Context, id: number): Promise<void> {
  const found = await store.peopleImports.find(id);
  if (!found) return;
  if (found.state !== 'draft') throw tooLate();
  await store.peopleImports.remove(id);
}

/** The headings of its file. */
export async function headingsOf({ store }: Context, id: number): Promise<readonly string[]> {
  const found = await store.peopleImports.find(id);
  if (!found) throw notFound('import');
  return found.fields.headings;
}

/** Where the columns of a file with these headings went the last time; null when none came. */
export const rememberedColumns = (
  { store }: Context,
  headings: readonly string[],
): Promise<readonly ColumnTarget[] | null> => store.peopleImports.remembered(shapeOf(headings));

/** Of files with the same headings in the same order; empty where nothing is named. */
function shapeOf(headings: readonly string[]): string {
  const words = headings.map((heading) => heading.trim().toLowerCase());
  return words.some(Boolean) ? createHash('sha256').update(JSON.stringify(words)).digest('hex') : '';
}
