import Papa from 'papaparse';
import type { ImportRequest, ImportResult } from '@convite/contract';
import { isEmail, isZone, readAddresses, readMobile, type Problem } from '@convite/core';
import type { NewSubscriber } from '../store/subscribers';
import { nowOf, type Actor, type Context } from './context';
import { notFound } from './failure';

/** Takes pasted addresses or a small CSV into a list: the good lines go in, the others come back with their reason. */
export async function importSubscribers(
  context: Context,
  listId: number,
  request: ImportRequest,
  actor: Actor,
): Promise<ImportResult> {
  if (!(await context.store.subscribers.hasList(listId))) throw notFound('list');
  const { region } = await context.store.house.settings();
  const { people, problems } = request.kind === 'csv' ? readCsv(request.text, region) : readPasted(request.text);
  const { added, already } = await context.store.subscribers.addToList(listId, people, nowOf(context));
  await context.store.house.audit(nowOf(context), actor.name, 'subscribers: imported', `${added} into list ${listId}`);
  await context.store.live.touch('subscribers');
  return { added, already, problems };
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
  textConsent: ['text consent', 'consent', 'texts', 'textconsent'],
};

/** A file with a heading row, any usual delimiter (RFC 4180). Line numbers count the heading as line 1. */
function readCsv(text: string, region: string): { people: NewSubscriber[]; problems: Problem[] } {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { delimiter: delimiterOf(text) });
  const heading = (data[0] ?? []).map((cell) => cell.trim().toLowerCase());
  const column = (field: KnownField): number => heading.findIndex((name) => headings[field].includes(name));
  const columns = {
    email: column('email'),
    name: column('name'),
    mobile: column('mobile'),
    zone: column('zone'),
    textConsent: column('textConsent'),
  };
  if (columns.email < 0 && columns.mobile < 0)
    return { people: [], problems: [{ code: 'required', path: 'line 1, column email' }] };
  const people = new Map<string, NewSubscriber>();
  const problems: Problem[] = [];
  data.slice(1).forEach((cells, index) => {
    if (cells.every((cell) => !cell.trim())) return;
    const cell = (field: KnownField): string => (cells[columns[field]] ?? '').trim();
    const path = `line ${index + 2}`;
    const read = readPerson(cell, region, path);
    if ('code' in read) problems.push(read);
    else if (people.has(read.email ?? read.mobile))
      problems.push({ code: 'duplicate-address', path, facts: { text: read.email ?? read.mobile } });
    else
      people.set(read.email ?? read.mobile, {
        ...read,
        fields: furtherFields(data[0] ?? [], cells, Object.values(columns)),
      });
  });
  return { people: [...people.values()], problems };
}

/** What the file says beyond what we know by name, kept under the file's own names. */
function furtherFields(
  heading: readonly string[],
  cells: readonly string[],
  known: readonly number[],
): Record<string, string> {
  const further = heading.flatMap((name, index): [string, string][] => {
    const value = (cells[index] ?? '').trim();
    return known.includes(index) || !name.trim() || !value ? [] : [[name.trim().slice(0, 120), value.slice(0, 2000)]];
  });
  return Object.fromEntries(further.slice(0, 50));
}

/** The delimiter that stands most often in the heading row; guessing from the data goes wrong on small files. */
export function delimiterOf(text: string): string {
  const heading = text.split(/[\r\n]/, 1)[0] ?? '';
  const count = (mark: string): number => heading.split(mark).length;
  return [',', ';', '\t', '|'].reduce((most, mark) => (count(mark) > count(most) ? mark : most));
}

function readPerson(cell: (field: KnownField) => string, region: string, path: string): NewSubscriber | Problem {
  const email = cell('email').toLowerCase();
  if (email ? !isEmail(email) : !cell('mobile'))
    return { code: 'bad-address', path, facts: { text: email.slice(0, 120) } };
  const zone = cell('zone');
  if (zone && !isZone(zone)) return { code: 'unknown-zone', path, facts: { zone } };
  const mobile = cell('mobile') ? readMobile(cell('mobile'), region, path) : null;
  if (mobile && !mobile.ok) return mobile.problems[0] ?? { code: 'bad-mobile', path };
  const consent = cell('textConsent').toLowerCase();
  return {
    email: email || null,
    name: cell('name').slice(0, 200),
    mobile: mobile?.value ?? '',
    zone,
    textConsent: consent ? ['yes', 'y', 'true', '1', 'x'].includes(consent) : null,
  };
}
