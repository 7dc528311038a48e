import type { Knex } from 'knex';

/** A session as its member sees it. */
export interface StoredSession {
  readonly id: string;
  readonly startedAt: Date;
  readonly seenAt: Date;
  readonly address: string;
  readonly agent: string;
}

/** Length of the beginning of a session's digest by which people name it (publicIdOf). */
const idLength = 24;

/** The sessions of members, beside what the session middleware reads and writes. */
export function openSessionStore(db: Knex) {
  /** Ends sessions, and tells their live streams on all servers. @returns how many */
  const end = async (matching: (query: Knex.QueryBuilder) => void): Promise<number> => {
    const digests: string[] = await db('session').modify(matching).pluck('digest');
    if (digests.length === 0) return 0;
    await db('session').whereIn('digest', digests).delete();
    return digests.length;
  };
  return {
    async ofMember(userId: number): Promise<StoredSession[]> {
      const rows: { digest: string; started_at: Date; seen_at: Date; address: string; agent: string }[] = await db(
        'session',
      )
        .where({ user_id: userId })
        .whereRaw('expires_at > now(3)')
        .orderBy('seen_at', 'desc')
        .limit(100);
      return rows.map((row) => ({
        id: row.digest.slice(0, idLength),
        startedAt: row.started_at,
        seenAt: row.seen_at,
        address: row.address,
        agent: row.agent,
      }));
    },
    endOne: (userId: number, id: string) =>
      end((query) => void query.where({ user_id: userId }).where('digest', 'like', `${id.replace(/[^0-9a-f]/g, '')}%`)),
    /** @param but the id of the one that stays; empty for none */
    endAll: (userId: number, but = '') =>
      end(
        (query) =>
          void query.where({ user_id: userId }).modify((it) => {
            if (but) void it.whereNot('digest', 'like', `${but}%`);
          }),
      ),
    /** Those of some sessions that have not ended. */
    async alive(ids: readonly string[]): Promise<Set<string>> {
      if (ids.length === 0) return new Set();
      const digests: string[] = await db('session')
        .where((any) => ids.forEach((id) => void any.orWhere('digest', 'like', `${id}%`)))
        .whereRaw('expires_at > now(3)')
        .whereNotNull('user_id')
        .pluck('digest');
      return new Set(digests.map((digest) => digest.slice(0, idLength)));
    },
  };
}
