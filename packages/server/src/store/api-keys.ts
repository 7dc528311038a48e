import type { Knex } from 'knex';
import { programScopes, type ApiKeys, type ProgramScope } from '@convite/contract';

/** A program that showed its key. */
export interface KnownProgram {
  readonly name: string;
  /** The one event that it may write to; null for all. */
  readonly eventId: number | null;
  readonly id: number;
  readonly scopes: readonly ProgramScope[];
}

const scopesOf = (text: string): ProgramScope[] => programScopes.filter((scope) => text.split(' ').includes(scope));

export function apiKeyStore(db: Knex) {
  return {
    async all(): Promise<ApiKeys> {
      const rows: {
        id: number;
        name: string;
        event_id: number | null;
        title: string | null;
        scopes: string;
        created_at: Date;
        used_at: Date | null;
        expires_at: Date;
      }[] = await db('api_key as k')
        .leftJoin('event as e', 'e.id', 'k.event_id')
        .leftJoin('event_version as v', (join) => join.on('v.event_id', 'e.id').andOn('v.number', 'e.version'))
        .orderBy('k.id')
        .select('k.*', db.raw("json_value(v.facts, '$.title') as title"));
      return rows.map((row) => ({
        id: row.id,
        name: row.name,
        eventId: row.event_id,
        eventTitle: row.title ?? '',
        scopes: scopesOf(row.scopes),
        createdAt: row.created_at.toISOString(),
        usedAt: row.used_at?.toISOString() ?? null,
        expiresAt: row.expires_at.toISOString(),
      }));
    },
    async add(key: {
      name: string;
      eventId: number | null;
      digest: string;
      scopes: readonly ProgramScope[];
      now: Date;
      expiresAt: Date;
    }): Promise<void> {
      const { name, eventId, digest, scopes, now, expiresAt } = key;
      await db('api_key').insert({
        name,
        event_id: eventId,
        digest,
        scopes: scopes.join(' '),
        created_at: now,
        expires_at: expiresAt,
      });
    },
    async remove(id: number): Promise<boolean> {
      return (await db('api_key').where({ id }).delete()) > 0;
    },
    /** Whose key of that digest it is, noting that it was used; null for none, and for one whose time is over. */
    async use(digest: string, now: Date): Promise<KnownProgram | null> {
      const row: { id: number; name: string; event_id: number | null; scopes: string } | undefined = await db('api_key')
        .where({ digest })
        .where('expires_at', '>', now)
        .first('id', 'name', 'event_id', 'scopes');
      if (row) await db('api_key').where({ id: row.id }).update({ used_at: now });
      return row ? { id: row.id, name: row.name, eventId: row.event_id, scopes: scopesOf(row.scopes) } : null;
    },
  };
}
