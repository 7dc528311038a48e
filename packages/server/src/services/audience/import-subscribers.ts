import type { ImportRequest, ImportResult, ListImportRow } from '@convite/contract';
import { isEmail, canonicalZone, readAddresses, readLanguage, readMobile, type Problem } from '@convite/core';
import type { ConsentOrigin } from '../../store/consents';
import type { NewSubscriber } from '../../store/newcomers';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound } from '../failure';
import { readTable } from '../table';

/** People taken in within one transaction. */
const chunkSize = 1000;

/**
 * Takes pasted addresses or a small CSV into a list: the good lines go in, the others come back with their reason. How far
 * it is stands in a row of its own, so that a process that dies halfway is followed by another, and what was done can be
 * undone.
 */
export async function importSubscribers(
  context: Context,
  listId: number,
  request: ImportRequest,
  actor: Actor,
): Promise<ImportResult> {
  if (!(await context.store.lists.has(listId))) throw notFound('list');
  const { region } = await context.store.house.settings();
  const read = request.kind === 'csv' ? readCsv(request.text, region) : readPasted(request.text);
  const forgotten = await context.store.erasures.forgottenAmong(read.people.map(keyOf));
  const people = read.people.filter((person) => !forgotten.has(keyOf(person)));
  const problems = [...read.problems, ...[...forgotten].map(forgottenProblem)];
  if (people.length === 0) return { added: 0, already: 0, problems };
  const id = await context.store.listImports.begin(listId, actor.name, people, nowOf(context));
  await context.store.house.audit(
    nowOf(context),
    actor,
    'list: import began',
    `${people.length} people into list ${listId}, import ${id}`,
  );
  await workOff(context, id);
  const done = await context.store.listImports.find(id);
  return { added: done?.added ?? 0, already: done?.already ?? 0, problems };
}

/** Goes on with an import until all is in, or somebody stopped it: each chunk with its place, in one transaction. */
async function workOff(context: Context, id: number): Promise<void> {
  const { store } = context;
  for (let isMore = true; isMore;) {
    isMore = await store.transact(async (tx) => {
      const chunk = await tx.listImports.nextChunk(id, chunkSize);
      if (!chunk || chunk.size === 0) return false;
      const joined = await tx.newcomers.addToList(chunk.listId, chunk.people, originOf(id), nowOf(context));
      await tx.listImports.remember(id, joined);
      const [added, already] = [joined.length, chunk.people.length - joined.length];
      await tx.listImports.advance(id, { people: chunk.size, added, already });
      return true;
    });
    await store.live.touch('subscribers');
  }
  if (!(await store.listImports.setState(id, ['running'], 'done'))) return;
  const done = await store.listImports.find(id);
  await store.house.audit(
    nowOf(context),
    done?.by ?? '',
    'list: imported',
    `${done?.added ?? 0} into list ${done?.listId ?? 0}, import ${id}`,
  );
}

const keyOf = ({ email, mobile }: NewSubscriber): string => email ?? mobile;
const forgottenProblem = (text: string): Problem => ({ code: 'was-erased', path: '', facts: { text } });

const originOf = (importId: number): ConsentOrigin => ({
  source: 'file',
  how: `a column of the file says so, import ${importId}`,
  by: '',
});

/** Goes on with an import whose process is gone. @returns whether there was one */
export async function resumeImport(context: Context): Promise<boolean> {
  const id = await context.store.listImports.takeAbandoned();
  if (id === null) return false;
  await workOff(context, id);
  return true;
}

export async function listImports({ store }: Pick<Context, 'store'>): Promise<ListImportRow[]> {
  return (await store.listImports.latest(10)).map(({ startedAt, ...row }) => ({
    ...row,
    startedAt: startedAt.toISOString(),
  }));
}

/** Stops an import between two chunks, lets it go on, or takes back what it did. */
export async function changeImport(
  context: Context,
  id: number,
  change: 'stop' | 'go-on' | 'undo',
  actor: Actor,
): Promise<void> {
  const { listImports: imports, house, live } = context.store;
  const found = await imports.find(id);
  if (!found) throw notFound('import');
  const isDone =
    change === 'stop'
      ? await imports.setState(id, ['running'], 'stopped')
      : change === 'go-on'
        ? await imports.setState(id, ['stopped'], 'running')
        : await undo(context, id);
  if (!isDone) throw new Failure(409, 'import-over', 'This import is not in a state in which that can be done.');
  await house.audit(nowOf(context), actor, `list: import ${change}`, `import ${id} into list ${found.listId}`);
  await live.touch('subscribers', 'board');
  if (change === 'go-on') await workOff(context, id);
}

async function undo(context: Context, id: number): Promise<boolean> {
  const { store } = context;
  await store.listImports.setState(id, ['running'], 'stopped');
  while ((await store.listImports.undoSome(id, chunkSize, nowOf(context))) > 0);
  return store.listImports.setState(id, ['stopped', 'done'], 'undone');
}

function readPasted(text: string): { people: NewSubscriber[]; problems: Problem[] } {
  const { addresses, problems } = readAddresses(text);
  return {
    people: addresses.map(({ name, email }) => ({ email, name, mobile: '', zone: '', textConsent: null })),
    problems,
  };
}

/** Heading names as people write them, by the field they mean. */
type KnownField = Exclude<keyof NewSubscriber, 'fields'>;

const headings: Readonly<Record<KnownField, readonly string[]>> = {
  email: ['email', 'e-mail', 'mail', 'email address', 'address'],
  name: ['name', 'full name'],
  mobile: ['mobile', 'phone', 'telephone', 'mobile number', 'tel'],
  zone: ['zone', 'time zone', 'timezone'],
  language: ['language', 'lang', 'idioma', 'langue', 'sprache', 'lingua'],
  textConsent: ['text consent', 'consent', 'texts', 'textconsent'],
};

function readCsv(text: string, region: string): { people: NewSubscriber[]; problems: Problem[] } {
  const { columns, rows } = readTable(text, headings);
  if (!columns.has('email') && !columns.has('mobile'))
    return { people: [], problems: [{ code: 'required', path: 'line 1, column email' }] };
  const people = new Map<string, NewSubscriber>();
  const problems: Problem[] = [];
  for (const { path, cell, further } of rows) {
    const read = readPerson(cell, region, path);
    if ('code' in read) problems.push(read);
    else {
      const key = read.email ?? read.mobile;
      if (people.has(key)) problems.push({ code: 'duplicate-address', path, facts: { text: key } });
      else people.set(key, { ...read, fields: further() });
    }
  }
  return { people: [...people.values()], problems };
}

function readPerson(cell: (field: KnownField) => string, region: string, path: string): NewSubscriber | Problem {
  const email = cell('email').toLowerCase();
  if (email ? !isEmail(email) : !cell('mobile'))
    return { code: 'bad-address', path, facts: { text: email.slice(0, 120) } };
  const zone = cell('zone') && canonicalZone(cell('zone'));
  if (zone === null) return { code: 'unknown-zone', path, facts: { zone: cell('zone').slice(0, 64) } };
  const mobile = cell('mobile') ? readMobile(cell('mobile'), region, path) : null;
  if (mobile && !mobile.ok) return mobile.problems[0] ?? { code: 'bad-mobile', path };
  const consent = cell('textConsent').toLowerCase();
  return {
    email: email || null,
    name: cell('name').slice(0, 200),
    mobile: mobile?.value ?? '',
    zone,
    language: readLanguage(cell('language')) ?? '',
    textConsent: consent ? ['yes', 'y', 'true', '1', 'x'].includes(consent) : null,
  };
}
