import type { Knex } from 'knex';
import { settings, type Settings } from '@convite/contract';
import { auditStore } from './audit';
import { readJson } from './database';

/** Settings and audit log: the organisation's own house. */
export function houseStore(db: Knex) {
  /** @throws Error before the first `saveSettings` (setup puts them there) */
  const read = async (from: Knex.QueryBuilder): Promise<Settings> => {
    const row: { value: unknown } | undefined = await from.where({ id: 1 }).first();
    if (!row) throw new Error('This database has no settings yet; run the setup command first.');
    return settings.parse(readJson(row.value));
  };
  return {
    ...auditStore(db),
    settings: (): Promise<Settings> => read(db('setting')),
    /** Whoever else is saving them waits until this transaction is over. */
    settingsForUpdate: (): Promise<Settings> => read(db('setting').forUpdate()),
    async hasSettings(): Promise<boolean> {
      return Boolean(await db('setting').where({ id: 1 }).first('id'));
    },
    async saveSettings(value: Settings): Promise<void> {
      await db('setting')
        .insert({ id: 1, value: JSON.stringify(value) })
        .onConflict('id')
        .merge();
    },
  };
}

/** What tells the screens that something changed, and the clock that all processes share. */
export function liveStore(db: Knex) {
  return {
    /** Marks topics as changed. Level-triggered: a reader that missed ten changes sees that there was one. */
    async touch(...topics: readonly string[]): Promise<void> {
      await db.raw(
        `insert into live (topic, version, touched_at) values ${topics.map(() => '(?, 1, now(3))').join(', ')}
         on duplicate key update version = version + 1, touched_at = now(3)`,
        [...topics],
      );
    },
    /** The version of each topic touched in the last seconds. */
    async recent(seconds: number): Promise<Map<string, number>> {
      const rows: { topic: string; version: number }[] = await db('live')
        .whereRaw('touched_at > now(3) - interval ? second', [seconds])
        .select('topic', 'version');
      return new Map(rows.map((row) => [row.topic, Number(row.version)]));
    },
    async clockOffsetMs(): Promise<number> {
      const row: { offset_ms: number } | undefined = await db('clock').where({ id: 1 }).first();
      return Number(row?.offset_ms ?? 0);
    },
    async setClockOffsetMs(offsetMs: number): Promise<void> {
      await db('clock').insert({ id: 1, offset_ms: offsetMs }).onConflict('id').merge();
    },
    async ping(): Promise<void> {
      await db.raw('select 1');
    },
  };
}
