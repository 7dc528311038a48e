import type { LogPage, LogQuery, LogRow, MessageRow } from '@convite/contract';
import { beginningOfFiring, type LoggedDelivery, type PlaceInFiring } from '../../store/delivery-log';
import type { StoredFiring } from '../../store/firings';
import type { TextRows } from '../../files/table-file';
import { nowOf, type Actor, type Context } from '../context';
import { kindWords } from '../countdown/kind-words';
import { notFound } from '../failure';
import { adviceOn } from './advice';

const pageSize = 50;
const exportedAtOnce = 500;
/** So many people that a search finds are looked at. */
const mostFound = 50;
const notReached: readonly MessageRow['state'][] = ['failed', 'bounced', 'skipped'];

/** One page of the log: of a firing, of somebody who is searched for, or of all that went out, the latest first. */
export async function readLog(context: Context, query: LogQuery, limit = pageSize): Promise<LogPage> {
  const { store } = context;
  const { zone } = await store.house.settings();
  const states = statesOf(query);
  const firing = query.firing ? await store.firings.find(query.firing) : null;
  if (query.firing && !firing) throw notFound('sending');
  const found = query.search.trim()
    ? await ofPeople(context, query, limit)
    : firing
      ? await ofOneFiring(context, firing, states, query.after, limit)
      : await ofAll(context, query, limit);
  const [first] = firing ? await namesOf(context, [firing]) : [];
  return { zone, title: first?.title ?? '', eventTitle: first?.eventTitle ?? '', hasMorePeople: false, ...found };
}

const statesOf = ({ state }: Pick<LogQuery, 'state'>): readonly MessageRow['state'][] =>
  state === '' ? [] : state === 'not-reached' ? notReached : [state];

type Found = Pick<LogPage, 'rows' | 'next'> & Partial<Pick<LogPage, 'hasMorePeople'>>;

async function ofOneFiring(
  context: Context,
  firing: StoredFiring,
  states: readonly MessageRow['state'][],
  after: string,
  limit: number,
): Promise<Found> {
  const { rows, next } = await context.store.deliveryLog.ofFiring(firing.id, states, placeOf(after.split(':')), limit);
  return { rows: await described(context, rows, [firing]), next: next && sayPlace(next) };
}

/** Firing by firing, until the page is full. */
async function ofAll(context: Context, query: LogQuery, limit: number): Promise<Found> {
  const { store, clock } = context;
  const [dueMs, id, ...place] = query.after ? query.after.split(':') : [];
  const rows: LoggedDelivery[] = [];
  const firings: StoredFiring[] = [];
  const states = statesOf(query);
  const filter = { channel: query.channel || undefined, eventId: query.event || undefined, states };
  // The firing that the page before ended in goes on first: it is the first before one with a higher number.
  let before = { dueMs: Number(dueMs ?? clock.now()), id: Number(id ?? Number.MAX_SAFE_INTEGER) };
  let from = placeOf(place);
  for (;;) {
    const some = await store.deliveryLog.expandedBefore(before, filter, limit);
    for (const firing of some) {
      const found = await store.deliveryLog.ofFiring(firing.id, states, from, limit - rows.length);
      from = beginningOfFiring;
      rows.push(...found.rows);
      if (found.rows.length) firings.push(firing);
      if (found.next)
        return {
          rows: await described(context, rows, firings),
          // One more than its own number: it is looked at once more.
          next: `${firing.dueMs}:${firing.id + 1}:${sayPlace(found.next)}`,
        };
      if (rows.length >= limit)
        return { rows: await described(context, rows, firings), next: `${firing.dueMs}:${firing.id}` };
      before = { dueMs: firing.dueMs, id: firing.id };
    }
    if (some.length < limit) return { rows: await described(context, rows, firings), next: null };
  }
}

/** What went to those whom a search finds, the latest first. */
async function ofPeople(context: Context, query: LogQuery, limit: number): Promise<Found> {
  const { store } = context;
  const people = await store.subscribers.page({ search: query.search, after: 0, limit: mostFound });
  const ids = people.rows.map(({ id }) => id);
  if (ids.length === 0) return { rows: [], next: null };
  const states = statesOf(query);
  const isWanted = (one: {
    state: MessageRow['state'];
    channel: string;
    eventId: number | null;
    firingId: number;
  }): boolean =>
    (states.length === 0 || states.includes(one.state)) &&
    (!query.channel || one.channel === query.channel) &&
    (!query.event || one.eventId === query.event) &&
    (!query.firing || one.firingId === query.firing);
  const hasMorePeople = people.next !== null;
  let before: number | null = Number(query.after || 0);
  const wanted: Awaited<ReturnType<typeof store.messages.ofPerson>>['rows'] = [];
  // A page on which nothing is wanted is no end.
  while (before !== null && wanted.length === 0) {
    const page = await store.messages.ofPerson(ids, before, limit);
    wanted.push(...page.rows.filter(isWanted));
    before = page.next;
  }
  const firings = await store.firings.findMany([...new Set(wanted.map(({ firingId }) => firingId))]);
  const deliveries = wanted.map(({ deliveryId, ...one }): LoggedDelivery => ({ ...one, id: deliveryId }));
  return {
    rows: await described(context, deliveries, firings),
    next: before === null ? null : String(before),
    hasMorePeople,
  };
}

/** Rows as people read them: who it was, what it was of, and what every server said. */
async function described(
  context: Context,
  rows: readonly LoggedDelivery[],
  firings: readonly StoredFiring[],
): Promise<LogRow[]> {
  const { store } = context;
  const [people, attempts, names] = await Promise.all([
    store.subscribers.findMany(rows.map(({ personId }) => personId)),
    store.deliveryLog.attemptsOf(rows.map(({ id }) => id)),
    namesOf(context, firings),
  ]);
  const known = new Map(names.map((one) => [one.firing.id, one]));
  return rows.flatMap((row): LogRow[] => {
    const of = known.get(row.firingId);
    const person = people.get(row.personId);
    if (!of) return [];
    const { firing, title, eventTitle } = of;
    return [
      {
        deliveryId: row.id,
        firingId: firing.id,
        kind: firing.kind,
        channel: firing.channel,
        title,
        eventTitle,
        person: {
          id: row.personId,
          name: person?.name ?? '',
          email: person?.email ?? '',
          mobile: person?.mobile ?? '',
        },
        dueAt: new Date(firing.dueMs).toISOString(),
        sentAt: row.sentAt?.toISOString() ?? null,
        state: row.state,
        answer: row.answer,
        attempts: attempts.get(row.id) ?? [],
        advice: notReached.includes(row.state) ? adviceOn(row, firing.channel) : '',
        isKept: row.isKept,
      },
    ];
  });
}

async function namesOf(
  { store }: Context,
  firings: readonly StoredFiring[],
): Promise<{ readonly firing: StoredFiring; readonly title: string; readonly eventTitle: string }[]> {
  const cues = await store.cues.names(firings.flatMap(({ cueId }) => cueId ?? []));
  const events = await store.events.findMany(firings.flatMap(({ eventId }) => eventId ?? []));
  const digests = firings.some(({ digestId }) => digestId !== null) ? await store.digests.all() : [];
  return firings.map((firing) => ({
    firing,
    title:
      digests.find(({ id }) => id === firing.digestId)?.name ??
      cues.get(firing.cueId ?? 0) ??
      (firing.title || kindWords[firing.kind]),
    eventTitle: events.get(firing.eventId ?? 0)?.version.facts.title ?? '',
  }));
}

const placeOf = ([state, nextMs, id]: readonly string[]): PlaceInFiring => ({
  state: Number(state || 0),
  nextMs: Number(nextMs ?? 0),
  id: Number(id ?? 0),
});
const sayPlace = ({ state, nextMs, id }: PlaceInFiring): string => `${state}:${nextMs}:${id}`;

export const logHeading = [
  'person',
  'email',
  'mobile',
  'by',
  'message',
  'event',
  'planned',
  'sent',
  'late seconds',
  'state',
  'answer',
];

/** The log that a filter leaves, piece by piece. Instants with their offset (RFC 3339). */
export async function exportLog(context: Context, query: LogQuery, actor: Actor): Promise<TextRows> {
  await context.store.house.audit(
    nowOf(context),
    actor,
    'export: delivery log',
    query.firing ? `firing ${query.firing}` : '',
  );
  async function* pages() {
    for (let after: string | null = ''; after !== null;) {
      const page: LogPage = await readLog(context, { ...query, after }, exportedAtOnce);
      yield page.rows.map((row) => [
        row.person.name,
        row.person.email,
        row.person.mobile,
        row.channel,
        row.title,
        row.eventTitle,
        row.dueAt,
        row.sentAt ?? '',
        row.sentAt === null ? '' : String(Math.round((Date.parse(row.sentAt) - Date.parse(row.dueAt)) / 1000)),
        row.state,
        row.answer,
      ]);
      after = page.next;
    }
  }
  return pages();
}
