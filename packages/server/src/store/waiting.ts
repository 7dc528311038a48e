import type { Knex } from 'knex';
import type { Channel, WaitingClass } from '@convite/core';

/** So many firings of one priority get a turn at once; the next ones are those of the next turn. */
const turnSize = 24;
/** With so many under way, each priority is looked at by itself. */
const lookSize = 96;
const priorities: readonly number[] = [1, 2, 3, 4];

/**
 * Which firings have messages that may go now, by priority. Each is looked at by the key of its first waiting message; what is
 * put off until later does not count.
 * @param turns of each priority the firing whose turn was last
 */
export async function waitingClasses(
  db: Knex,
  channel: Channel,
  nowMs: number,
  turns: ReadonlyMap<number, number>,
): Promise<WaitingClass[]> {
  const some: { id: number; priority: number }[] = await db('firing as f')
    .where({ 'f.state': 'sending', 'f.channel': channel })
    .whereExists(dueOf(db, nowMs))
    .orderBy('f.priority')
    .orderBy('f.id')
    .limit(lookSize)
    .select('f.id', 'f.priority');
  // Mostly few are under way, and one look shows them all.
  if (some.length < lookSize)
    return priorities.map((priority) => {
      const ids = some.filter((one) => one.priority === priority).map(({ id }) => id);
      const after = turns.get(priority) ?? 0;
      const inTurn = [...ids.filter((id) => id > after), ...ids.filter((id) => id <= after)];
      return { priority, firings: inTurn.slice(0, turnSize) };
    });
  return Promise.all(
    priorities.map(async (priority) => {
      const after = turns.get(priority) ?? 0;
      const next = await waitingFirings(db, channel, priority, nowMs, after, Number.MAX_SAFE_INTEGER);
      const again =
        next.length < turnSize && after > 0 ? await waitingFirings(db, channel, priority, nowMs, 0, after) : [];
      return { priority, firings: [...next, ...again].slice(0, turnSize) };
    }),
  );
}

/** Firings `f` of which something is on its way, or may go now. */
export const moving = (db: Knex, nowMs: number): Knex.QueryBuilder =>
  db('firing as f')
    .where('f.state', 'sending')
    .whereExists(
      db('delivery as d')
        .whereRaw('d.firing_id = f.id')
        .where((or) =>
          or
            .where('d.state', 'sending')
            .orWhere((due) => due.where('d.state', 'queued').where('d.next_at', '<=', new Date(nowMs))),
        )
        .select(db.raw('1')),
    );

/** Messages of the firing `f` that may go now. */
const dueOf = (db: Knex, nowMs: number): Knex.QueryBuilder =>
  db('delivery as d')
    .whereRaw('d.firing_id = f.id')
    .where('d.state', 'queued')
    .where('d.next_at', '<=', new Date(nowMs))
    .select(db.raw('1'));

async function waitingFirings(
  db: Knex,
  channel: Channel,
  priority: number,
  nowMs: number,
  after: number,
  upTo: number,
): Promise<number[]> {
  return db('firing as f')
    .where({ 'f.state': 'sending', 'f.channel': channel, 'f.priority': priority })
    .where('f.id', '>', after)
    .where('f.id', '<=', upTo)
    .whereExists(dueOf(db, nowMs))
    .orderBy('f.id')
    .limit(turnSize)
    .pluck('f.id');
}

/** Locks the first few due messages of a firing, passing over what others hold. */
export async function lockDue(tx: Knex, firingId: number, limit: number, nowMs: number): Promise<number[]> {
  return tx('delivery')
    .where({ firing_id: firingId, state: 'queued' })
    .where('next_at', '<=', new Date(nowMs))
    .orderBy('next_at')
    .limit(limit)
    .forUpdate()
    .skipLocked()
    .pluck('id');
}
