import type { Knex } from 'knex';
import type { EventReach, EventStatus } from '@convite/contract';

/** An event's page, as far as one must know to serve what was rendered before. */
export interface OnDisplay {
  readonly id: number;
  readonly status: EventStatus;
  readonly reach: EventReach;
  /** Another text after each change of the event, of who is down or holds a place, and of Settings. */
  readonly state: string;
}

/** Longer names are nobody's. */
const longestKey = 24;

/** What public pages ask at every request: by two indexes, and no event's facts are read. */
export function onDisplayStore(db: Knex) {
  return {
    async eventsByKey(keys: readonly string[]): Promise<Map<string, OnDisplay>> {
      const possible = keys.filter(({ length }) => length <= longestKey);
      if (possible.length === 0) return new Map();
      const marks = possible.map(() => '?').join(', ');
      // Written out, since thousands a second wait for it: the query builder would take longer than the database.
      const [rows = []]: (OnDisplay & { public_key: string })[][] = await db.raw(
        `select e.public_key, e.id, e.status, e.reach,
           concat_ws(' ', e.id, e.version, e.status, e.reach, coalesce(l.version, 0),
             coalesce((select version from live where topic = 'settings'), 0)) as state
         from event e left join live l on l.topic = concat('event:', e.id) where e.public_key in (${marks})`,
        possible,
      );
      return new Map(rows.map(({ public_key, ...one }) => [public_key, one]));
    },
    /** Which state topics are in: another number after each change; none for one that never changed. */
    async topics(names: readonly string[]): Promise<Map<string, number>> {
      const rows: { topic: string; version: number }[] = await db('live')
        .whereIn('topic', [...names])
        .select('topic', 'version');
      return new Map(rows.map(({ topic, version }) => [topic, Number(version)]));
    },
  };
}
