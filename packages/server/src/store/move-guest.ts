import type { Knex } from 'knex';
import * as z from 'zod';

/** Where it stands what somebody is at an event, each with what makes a row of theirs one of a kind. */
const keys = {
  invitee: ['event_id'],
  invitee_occurrence: ['event_id', 'occurrence'],
  registration: ['event_id', 'occurrence'],
  personal: ['event_id'],
  proposal: ['id'],
} as const;
export const guestTables = ['invitee', 'invitee_occurrence', 'registration', 'personal', 'proposal'] as const;
type GuestTable = (typeof guestTables)[number];

const rowsOf = z.array(z.record(z.string(), z.unknown()));
const perTable = z.record(z.enum(guestTables), rowsOf);

/** What went over as one person took the part of another at events. */
export const guestsMoved = z.object({
  /** Events of which the other alone was a guest: all of it went over. */
  events: z.array(z.number()),
  /** Of events of which both were: rows that went over, and rows that the one had already, as the other's stood. */
  over: perTable,
  left: perTable,
  /** Where the other's answer was taken over. */
  answered: z.array(z.number()),
});
export type GuestsMoved = z.infer<typeof guestsMoved>;

/** Every event that it was about. */
export const eventsOf = ({ events, over, left }: GuestsMoved): number[] => [
  ...new Set([
    ...events,
    ...[over, left].flatMap((rows) =>
      Object.values(rows).flatMap((some) => some.map((row) => Number(row['event_id']))),
    ),
  ]),
];

/** Lets one person be a guest wherever another is. Where both are, the answer of whoever gave one counts. */
export async function moveGuest(db: Knex, from: number, to: number): Promise<GuestsMoved> {
  const eventsWith = async (id: number): Promise<Set<number>> => {
    const found: number[] = [];
    for (const table of guestTables) found.push(...(await db(table).where({ subscriber_id: id }).pluck('event_id')));
    return new Set(found);
  };
  const [theirs, ours] = [await eventsWith(from), await eventsWith(to)];
  const events = [...theirs].filter((event) => !ours.has(event));
  const both = [...theirs].filter((event) => ours.has(event));
  const answered = both.length ? await takeAnswers(db, from, to, both) : [];
  const empty = (): GuestsMoved['over'] => ({
    invitee: [],
    invitee_occurrence: [],
    registration: [],
    personal: [],
    proposal: [],
  });
  const [over, left] = [empty(), empty()];
  for (const table of guestTables) {
    if (events.length)
      await db(table).where({ subscriber_id: from }).whereIn('event_id', events).update({ subscriber_id: to });
    if (both.length === 0) continue;
    const of = () => db(table).where({ subscriber_id: from }).whereIn('event_id', both);
    const before = rowsOf.parse(await of().select());
    // What the one has already stays theirs.
    await db.raw(
      `update ignore ?? set subscriber_id = ? where subscriber_id = ? and event_id in (${both.map(() => '?').join()})`,
      [table, to, from, ...both],
    );
    left[table] = rowsOf.parse(await of().select());
    await of().delete();
    const stayed = new Set(left[table].map((row) => keyOf(table, row)));
    over[table] = before.filter((row) => !stayed.has(keyOf(table, row)));
  }
  return { events, over, left, answered };
}

/** Lets the other be a guest again where they were; answers that the one gave since stay theirs. */
export async function moveGuestBack(
  db: Knex,
  from: number,
  to: number,
  { events, over, left, answered }: GuestsMoved,
): Promise<void> {
  for (const table of guestTables) {
    if (events.length)
      await db(table).where({ subscriber_id: from }).whereIn('event_id', events).update({ subscriber_id: to });
    for (const row of over[table])
      await db(table)
        .where({ subscriber_id: from })
        .where(Object.fromEntries(keys[table].map((column) => [column, row[column]])))
        .update({ subscriber_id: to });
    const alive = await aliveAmong(db, left[table]);
    if (alive.length) await db(table).insert(alive.map(asStored)).onConflict().ignore();
  }
  if (answered.length)
    await db.raw(
      `update invitee k join invitee a on a.event_id = k.event_id and a.subscriber_id = ? and a.replied_at <=> k.replied_at
       set k.reply = 'needs-action', k.reply_sequence = null, k.reply_stamp = null, k.replied_at = null, k.comment = ''
       where k.subscriber_id = ? and k.event_id in (${answered.map(() => '?').join()})`,
      [to, from, ...answered],
    );
}

/** Rows of events that are still there. */
async function aliveAmong(db: Knex, rows: GuestsMoved['left'][GuestTable]): Promise<GuestsMoved['left'][GuestTable]> {
  const ids: number[] = await db('event')
    .whereIn(
      'id',
      rows.map((row) => Number(row['event_id'])),
    )
    .pluck('id');
  return rows.filter((row) => ids.includes(Number(row['event_id'])));
}

const keyOf = (table: GuestTable, row: Record<string, unknown>): string =>
  keys[table].map((column) => String(row[column])).join(' ');

/** @returns events at which the one had not answered and the other had */
async function takeAnswers(db: Knex, from: number, to: number, events: readonly number[]): Promise<number[]> {
  const ids: number[] = await db('invitee as k')
    .join('invitee as a', 'a.event_id', 'k.event_id')
    .where({ 'k.subscriber_id': to, 'a.subscriber_id': from, 'k.reply': 'needs-action' })
    .whereNot('a.reply', 'needs-action')
    .whereIn('k.event_id', [...events])
    .pluck('k.event_id');
  if (ids.length)
    await db.raw(
      `update invitee k join invitee a on a.event_id = k.event_id and a.subscriber_id = ?
       set k.reply = a.reply, k.reply_sequence = a.reply_sequence, k.reply_stamp = a.reply_stamp, k.replied_at = a.replied_at,
           k.comment = a.comment
       where k.subscriber_id = ? and k.event_id in (${ids.map(() => '?').join()})`,
      [from, to, ...ids],
    );
  return ids;
}

/** As the database takes it: instants were texts in JSON, and JSON of its own goes back as text. */
const asStored = (row: Record<string, unknown>): Record<string, unknown> =>
  Object.fromEntries(Object.entries(row).map(([column, value]) => [column, storedValue(value)]));

function storedValue(value: unknown): unknown {
  if (typeof value === 'string' && /^\d{4}-\d\d-\d\dT[\d:.]+Z$/.test(value)) return new Date(value);
  return typeof value === 'object' && value !== null && !(value instanceof Date) ? JSON.stringify(value) : value;
}
