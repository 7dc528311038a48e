import type { Knex } from 'knex';
import { settings, type AuditRow, type Member, type Role, type Settings } from '@convite/contract';
import { readJson } from './database';

export interface StoredUser extends Member {
  readonly passwordHash: string;
}

/** Team, settings, audit log: the organisation's own house. */
export function houseStore(db: Knex) {
  return {
    async userByEmail(email: string): Promise<StoredUser | null> {
      const row: (Member & { password_hash: string }) | undefined = await db('user')
        .where({ email: email.toLowerCase() })
        .first();
      return row ? { ...memberOf(row), passwordHash: row.password_hash } : null;
    },
    async user(id: number): Promise<Member | null> {
      const row: Member | undefined = await db('user').where({ id }).first();
      return row ? memberOf(row) : null;
    },
    async users(): Promise<Member[]> {
      const rows: Member[] = await db('user').orderBy('name');
      return rows.map(memberOf);
    },
    async createUser(user: { name: string; email: string; role: Role; passwordHash: string }): Promise<number> {
      const [id] = await db('user').insert({
        name: user.name,
        email: user.email.toLowerCase(),
        role: user.role,
        password_hash: user.passwordHash,
      });
      return Number(id);
    },
    async setRole(id: number, role: Role): Promise<void> {
      await db('user').where({ id }).update({ role });
    },
    async countOwners(): Promise<number> {
      const [row] = await db('user').where({ role: 'owner' }).count({ n: '*' });
      return Number(row?.['n'] ?? 0);
    },

    /** @throws Error before the first `saveSettings` (setup puts them there) */
    async settings(): Promise<Settings> {
      const row: { value: unknown } | undefined = await db('setting').where({ id: 1 }).first();
      if (!row) throw new Error('This database has no settings yet; run the setup command first.');
      return settings.parse(readJson(row.value));
    },
    async hasSettings(): Promise<boolean> {
      return Boolean(await db('setting').where({ id: 1 }).first('id'));
    },
    async saveSettings(value: Settings): Promise<void> {
      await db('setting')
        .insert({ id: 1, value: JSON.stringify(value) })
        .onConflict('id')
        .merge();
    },

    async apiKeys(): Promise<{ id: number; name: string; createdAt: string; usedAt: string | null }[]> {
      const rows: { id: number; name: string; created_at: Date; used_at: Date | null }[] =
        await db('api_key').orderBy('id');
      return rows.map((row) => ({
        id: row.id,
        name: row.name,
        createdAt: row.created_at.toISOString(),
        usedAt: row.used_at?.toISOString() ?? null,
      }));
    },
    async addApiKey(name: string, digest: string, now: Date): Promise<void> {
      await db('api_key').insert({ name, digest, created_at: now });
    },
    async removeApiKey(id: number): Promise<void> {
      await db('api_key').where({ id }).delete();
    },
    /** The name of the key of that digest, noting that it was used; null when there is none. */
    async useApiKey(digest: string, now: Date): Promise<string | null> {
      const row: { id: number; name: string } | undefined = await db('api_key').where({ digest }).first('id', 'name');
      if (row) await db('api_key').where({ id: row.id }).update({ used_at: now });
      return row?.name ?? null;
    },

    async audit(at: Date, by: string, action: string, what: string): Promise<void> {
      await db('audit').insert({ at, by_name: by, action, what: what.slice(0, 500) });
    },
    async auditRows(limit: number): Promise<AuditRow[]> {
      const rows: { id: number; at: Date; by_name: string; action: string; what: string }[] = await db('audit')
        .orderBy('id', 'desc')
        .limit(limit);
      return rows.map((row) => ({
        id: row.id,
        at: row.at.toISOString(),
        by: row.by_name,
        action: row.action,
        what: row.what,
      }));
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
    /** Which state a topic is in: another number after each change. */
    async versionOf(topic: string): Promise<number> {
      const row: { version: number } | undefined = await db('live').where({ topic }).first('version');
      return Number(row?.version ?? 0);
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

const memberOf = ({ id, name, email, role }: Member): Member => ({ id, name, email, role });
