import type { Knex } from 'knex';

/** How often it went wrong within the last hour, and how long ago the last time was. */
export interface Failures {
  readonly count: number;
  readonly secondsAgo: number;
}

/** Signing in that went wrong. Counted by the database's clock, for all servers together. */
export function signInFailureStore(db: Knex) {
  /** Counts no further than `most`: beyond, the wait grows no more. */
  const count = async (where: Record<string, string>, most: number): Promise<Failures> => {
    const rows: { ago: number }[] = await db('sign_in_failure')
      .where(where)
      .whereRaw('at > now(3) - interval 1 hour')
      .orderBy('at', 'desc')
      .limit(most)
      .select(db.raw('timestampdiff(microsecond, at, now(3)) / 1000000 as ago'));
    return { count: rows.length, secondsAgo: Number(rows[0]?.ago ?? Infinity) };
  };
  return {
    async note(account: string, address: string): Promise<void> {
      await db('sign_in_failure').insert({ account, address, at: db.raw('now(3)') });
    },
    ofPair: (account: string, address: string) => count({ account, address }, 40),
    ofAccount: (account: string) => count({ account }, 100),
    ofAddress: (address: string) => count({ address }, 300),
    /** Who got in at last begins anew from there. */
    async clear(account: string, address: string): Promise<void> {
      await db('sign_in_failure').where({ account, address }).delete();
    },
    async forget(): Promise<void> {
      await db('sign_in_failure').whereRaw('at < now(3) - interval 1 day').limit(5000).delete();
    },
  };
}
