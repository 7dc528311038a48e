import type { OwnRequest, OwnResult } from '@convite/contract';
import { checkOwn, isEmail, readMobile, type Own, type Problem } from '@convite/core';
import type { OwnOfPerson } from '../../store/personal';
import { nowOf, type Actor, type Context } from '../context';
import { readTable } from '../table';
import { getEvent } from './get-event';
import { Failure } from '../failure';
import { planCues } from '../countdown/plan-firings';

/** One person's own facts as they come in, with where they stood. */
interface OwnInput extends Omit<Own, 'revision'> {
  readonly email: string;
  readonly mobile: string;
  readonly name: string;
  readonly path: string;
}

const pageSize = 1000;

/**
 * Gives people their own time, place or note at an event, such as a booked slot: from a program's data, a file, or
 * further columns that their files had. New people become subscribers; all become guests of the event, without an entry
 * until they are invited. Each bad row is named; the good ones are saved.
 */
export async function takePersonal(
  context: Context,
  eventId: number,
  request: OwnRequest,
  actor: Actor,
): Promise<OwnResult> {
  const event = await getEvent(context, eventId);
  if (!event.version.facts.isPersonal)
    throw new Failure(409, 'not-personal', 'Say in Details first that everybody has their own time at this event.');
  if (request.kind === 'fields') return takeFields(context, eventId, request, actor);
  const inputs =
    request.kind === 'csv'
      ? readOwnCsv(request.text)
      : request.rows.map((row, index) => ({ ...row, path: `row ${index + 1}` }));
  const problems: Problem[] = 'problem' in inputs ? [inputs.problem] : [];
  const people: OwnOfPerson[] = [];
  for (const input of 'problem' in inputs ? [] : inputs) {
    const read = await readInput(context, input);
    if ('code' in read) problems.push(read);
    else people.push(read);
  }
  return { ...(await savePersonal(context, eventId, people, actor)), problems };
}

/** Writes people's own facts, makes them guests, and plans the cues for the times they have. */
export async function savePersonal(
  context: Context,
  eventId: number,
  people: readonly OwnOfPerson[],
  actor: Actor,
): Promise<{ saved: number; guests: number }> {
  const now = nowOf(context);
  const guests = await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    if (!event) return 0;
    for (let from = 0; from < people.length; from += pageSize)
      await tx.personal.markBehind(eventId, await tx.personal.save(eventId, people.slice(from, from + pageSize)));
    const added = await tx.invitees.addGuests(
      people.map(({ subscriberId }) => ({ eventId, subscriberId, reply: 'needs-action', holdsVersion: null })),
      now,
    );
    await planCues(tx, event, await tx.cues.ofEvent(eventId), context.clock.now());
    return added;
  });
  await context.store.house.audit(now, actor, 'event: own times saved', `${people.length} people of event ${eventId}`);
  await context.store.live.touch('board', 'subscribers', `event:${eventId}`);
  return { saved: people.length, guests };
}

/** From further columns of the people of some lists; `start` names the column that holds the start, and so on. */
async function takeFields(
  context: Context,
  eventId: number,
  columns: Extract<OwnRequest, { kind: 'fields' }>,
  actor: Actor,
): Promise<OwnResult> {
  const problems: Problem[] = [];
  const people: OwnOfPerson[] = [];
  for (let after = 0; ;) {
    const rows = await context.store.fields.ofLists(columns.lists, after, pageSize);
    for (const { id, email, fields } of rows) {
      const value = (name: string): string => (name ? (fields[name] ?? '').trim() : '');
      const own = {
        start: readStart(value(columns.start)),
        end: readStart(value(columns.end)),
        place: value(columns.place),
        notes: value(columns.notes),
      };
      const found = checkOwn({ ...own, revision: 0 }, email);
      if (found.length) problems.push(...found);
      else if (own.start || own.place || own.notes) people.push({ subscriberId: id, ...own });
    }
    const last = rows.at(-1);
    if (!last || rows.length < pageSize) break;
    after = last.id;
  }
  return { ...(await savePersonal(context, eventId, people, actor)), problems: problems.slice(0, 200) };
}

async function readInput(context: Context, input: OwnInput): Promise<OwnOfPerson | Problem> {
  const { path, name } = input;
  const email = input.email.trim().toLowerCase();
  const own = {
    start: readStart(input.start),
    end: readStart(input.end),
    place: input.place.trim(),
    notes: input.notes.trim(),
  };
  const [problem] = checkOwn({ ...own, revision: 0 }, path);
  if (problem) return problem;
  if (!isEmail(email)) return { code: 'bad-address', path, facts: { text: input.email.slice(0, 120) } };
  const { region } = await context.store.house.settings();
  const mobile = input.mobile.trim() ? readMobile(input.mobile, region, path) : null;
  if (mobile && !mobile.ok) return mobile.problems[0] ?? { code: 'bad-mobile', path };
  const subscriberId = await context.store.newcomers.ensure(
    { email, name: name.trim(), mobile: mobile?.value ?? '', zone: '', textConsent: null, emailConsent: false },
    { source: 'api', how: 'given with a time of their own', by: '' },
    nowOf(context),
  );
  if (subscriberId === 0) return { code: 'was-erased', path, facts: { text: email } };
  return { subscriberId, ...own };
}

/** A start as people and programs write it: `2026-11-27 20:30`, `2026-11-27T20:30:00`. */
const readStart = (text: string): string => {
  const [, day, time] = /^\s*(\d{4}-\d{2}-\d{2})[T ](\d{2}:\d{2})(?::\d{2})?\s*$/.exec(text) ?? [];
  return day && time ? `${day}T${time}` : text.trim();
};

/** Heading names as people write them, by what they mean. */
const headings = {
  email: ['email', 'e-mail', 'mail', 'address', 'email address'],
  mobile: ['mobile', 'phone', 'telephone'],
  name: ['name', 'full name'],
  start: ['start', 'starts', 'from', 'time', 'slot'],
  end: ['end', 'ends', 'until', 'to'],
  place: ['place', 'venue', 'where', 'location'],
  notes: ['notes', 'note', 'text'],
} as const;

function readOwnCsv(text: string): OwnInput[] | { problem: Problem } {
  const { columns, rows } = readTable(text, headings);
  if (!columns.has('email')) return { problem: { code: 'required', path: 'line 1, column email' } };
  return rows.map(({ path, cell }) => ({
    path,
    email: cell('email'),
    mobile: cell('mobile'),
    name: cell('name'),
    start: cell('start'),
    end: cell('end'),
    place: cell('place'),
    notes: cell('notes'),
  }));
}
