import type { Knex } from 'knex';
import * as z from 'zod';
import { readJson } from './database';

/** Everything that hangs on somebody's being a guest, in the order in which it can be put back. */
const tables = ['invitee', 'invitee_occurrence', 'registration', 'personal'] as const;
const keptRows = z.record(z.enum(tables), z.array(z.record(z.string(), z.unknown())));
const daysKept = 2;

/** Guests who were taken off an event, and how they were. */
export function removalStore(db: Knex) {
  return {
    /**
     * Takes people off an event's guests. To be called in a transaction that holds the event.
     * @returns its number, how many were guests, and who of them hold an entry that came by mail
     */
    async take(
      eventId: number,
      ids: readonly number[],
      now: Date,
    ): Promise<{ id: number; removed: number; holders: number[] }> {
      const mine = (table: (typeof tables)[number]) =>
        db(table)
          .where({ event_id: eventId })
          .whereIn('subscriber_id', [...ids]);
      const rows: Record<string, Row[]> = {};
      for (const table of tables) rows[table] = (await mine(table).select<Row[]>()).map(kept);
      const guests: { subscriber_id: number; channel: string; holds_version: number | null }[] = await mine(
        'invitee',
      ).select('subscriber_id', 'channel', 'holds_version');
      for (const table of [...tables].reverse()) await mine(table).delete();
      await db('removal')
        .where('at', '<', new Date(now.getTime() - daysKept * 86_400_000))
        .delete();
      const [id] = await db('removal').insert({ event_id: eventId, at: now, rows: JSON.stringify(rows) });
      return {
        id: Number(id),
        removed: guests.length,
        holders: guests
          .filter(({ channel, holds_version }) => channel === 'email' && holds_version !== null)
          .map(({ subscriber_id }) => subscriber_id),
      };
    },
    async setFiring(id: number, firingId: number): Promise<void> {
      await db('removal').where({ id }).update({ firing_id: firingId });
    },
    /** @returns its event and what tells people of it, held for a change; null when it is gone */
    async findForUpdate(id: number): Promise<{ eventId: number; firingId: number | null } | null> {
      const row: { event_id: number; firing_id: number | null } | undefined = await db('removal')
        .where({ id })
        .forUpdate()
        .first('event_id', 'firing_id');
      return row ? { eventId: row.event_id, firingId: row.firing_id } : null;
    },
    /** Puts them back as they were; who became a guest again meanwhile stays as they are. */
    async putBack(id: number): Promise<void> {
      const row: { rows: unknown } | undefined = await db('removal').where({ id }).first('rows');
      const before = keptRows.parse(readJson(row?.rows ?? '{}'));
      for (const table of tables)
        for (const one of before[table] ?? [])
          await db(table)
            .insert(Object.fromEntries(Object.entries(one).map(([column, value]) => [column, asStored(value)])))
            .onConflict()
            .ignore();
      await db('removal').where({ id }).delete();
    },
  };
}

type Row = Record<string, unknown>;
const instant = z.object({ instantMs: z.number() });

/** JSON would write an instant as a text, and somebody's comment may be such a text. */
const kept = (row: Row): Row =>
  Object.fromEntries(
    Object.entries(row).map(([column, value]) => [
      column,
      value instanceof Date ? { instantMs: value.getTime() } : value,
    ]),
  );
const asStored = (value: unknown): Knex.Value => {
  if (typeof value === 'number' || typeof value === 'string' || typeof value === 'boolean' || value === null)
    return value;
  const { data } = instant.safeParse(value);
  return data ? new Date(data.instantMs) : JSON.stringify(value);
};
