import type { Presence } from '@convite/core';
import type { Knex } from 'knex';

/** A place kept for somebody until they confirm that it was they who asked. */
export interface Hold {
  readonly id: number;
  /** No place is kept: whoever confirms it waits for one. */
  readonly waits: boolean;
  /** How they come; null where they were not asked. Online they take no place. */
  readonly presence: Presence | null;
  readonly eventId: number;
  readonly occurrence: string;
  readonly name: string;
  readonly email: string;
  readonly heldUntil: Date;
  readonly isConfirmed: boolean;
}

interface Row {
  id: number;
  waits: number;
  presence: Presence | '';
  event_id: number;
  occurrence: string;
  name: string;
  email: string;
  held_until: Date;
  confirmed_at: Date | null;
}

export function holdStore(db: Knex) {
  return {
    /** Holds a place, once for each address and date. @returns its number */
    async hold(hold: Omit<Hold, 'id' | 'isConfirmed'>): Promise<number> {
      const { eventId, occurrence, name, email, heldUntil, waits } = hold;
      const asked = { name, held_until: heldUntil, waits, presence: hold.presence ?? '' };
      await db('registration_hold')
        .insert({ event_id: eventId, occurrence, email, ...asked })
        .onConflict(['event_id', 'occurrence', 'email'])
        .merge({ ...asked, confirmed_at: null });
      const row: { id: number } | undefined = await db('registration_hold')
        .where({ event_id: eventId, occurrence, email })
        .first('id');
      return row?.id ?? 0;
    },
    async find(id: number): Promise<Hold | null> {
      const row: Row | undefined = await db('registration_hold').where({ id }).first();
      return row ? holdOf(row) : null;
    },
    /** Everything that is held for one address at an event and not confirmed: one yes is for all of it. */
    async openOf(eventId: number, email: string, now: Date): Promise<Hold[]> {
      const rows: Row[] = await db('registration_hold')
        .where({ event_id: eventId, email })
        .whereNull('confirmed_at')
        .where('held_until', '>', now)
        .orderBy('occurrence');
      return rows.map(holdOf);
    },
    /** Places of some dates that are held at the moment, but for one address. */
    async held(eventId: number, keys: readonly string[], now: Date, exceptEmail = ''): Promise<Map<string, number>> {
      const rows: { occurrence: string; n: number }[] = await db('registration_hold')
        .where({ event_id: eventId, waits: false })
        .whereNot('presence', 'online')
        .whereIn('occurrence', [...keys])
        .where('held_until', '>', now)
        .whereNull('confirmed_at')
        .whereNot('email', exceptEmail)
        .groupBy('occurrence')
        .select('occurrence', db.raw('count(*) as n'));
      return new Map(rows.map(({ occurrence, n }) => [occurrence, Number(n)]));
    },
    async confirm(id: number, now: Date): Promise<void> {
      await db('registration_hold').where({ id }).update({ confirmed_at: now });
    },
    async release(id: number): Promise<void> {
      await db('registration_hold').where({ id }).delete();
    },
    /** What nobody confirmed for two days is no longer anybody's business. */
    async forget(now: Date): Promise<void> {
      await db('registration_hold')
        .where('held_until', '<', new Date(now.getTime() - 2 * 86_400_000))
        .limit(5000)
        .delete();
    },
  };
}

const holdOf = (row: Row): Hold => ({
  id: row.id,
  waits: Boolean(row.waits),
  presence: row.presence || null,
  eventId: row.event_id,
  occurrence: row.occurrence,
  name: row.name,
  email: row.email,
  heldUntil: row.held_until,
  isConfirmed: row.confirmed_at !== null,
});
