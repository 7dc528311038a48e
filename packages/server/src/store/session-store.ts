import { createHash } from 'node:crypto';
import { Store, type SessionData } from 'express-session';
import type { Knex } from 'knex';
import { readJson } from './database';

/** A session ends after so long without a request, and after so long in all. */
export const idleHours = 12;
export const longestDays = 7;

/** What a session is kept under: whoever reads the database cannot become somebody by it. */
export const digestOf = (sid: string): string => createHash('sha256').update(sid).digest('hex');

/** By which a session is named to people, and ended. */
export const publicIdOf = (sid: string): string => digestOf(sid).slice(0, 24);

/**
 * Sessions in the database, so that any server answers for any session. A failure goes to the callback and nowhere else:
 * a request that cannot be answered is one request's failure, whatever became of the database.
 */
export function sessionStore(db: Knex): Store {
  return new DatabaseSessions(db);
}

const cleanEveryMs = 10 * 60_000;

class DatabaseSessions extends Store {
  private cleanedAt = 0;

  constructor(private readonly db: Knex) {
    super();
  }

  get(sid: string, callback: (error: unknown, session?: SessionData | null) => void): void {
    settle(this.read(sid), callback);
  }
  set(sid: string, session: SessionData, callback?: (error?: unknown) => void): void {
    settle(this.write(sid, session), callback);
  }
  override touch(sid: string, _session: SessionData, callback?: (error?: unknown) => void): void {
    settle(this.prolong(sid), callback);
  }
  destroy(sid: string, callback?: (error?: unknown) => void): void {
    settle(this.remove(sid), callback);
  }

  private async read(sid: string): Promise<SessionData | null> {
    const row: { data: unknown } | undefined = await this.db('session')
      .where({ digest: digestOf(sid) })
      .whereRaw('expires_at > now(3) and started_at > now(3) - interval ? day', [longestDays])
      .first('data');
    return row ? sessionOf(readJson(row.data)) : null;
  }
  private async write(sid: string, session: SessionData): Promise<void> {
    const { memberId, place } = session;
    const kept = {
      data: JSON.stringify({ ...session, isNew: undefined }),
      user_id: memberId ?? null,
      seen_at: this.db.raw('now(3)'),
      expires_at: this.expiry(),
    };
    const digest = digestOf(sid);
    const changed = await this.db('session').where({ digest }).update(kept);
    // A session that was ended meanwhile does not come back by a request that was under way: only a new one is written.
    if (!changed && session.isNew)
      await this.db('session').insert({
        ...kept,
        digest,
        started_at: this.db.raw('now(3)'),
        address: (place?.address ?? '').slice(0, 45),
        agent: (place?.agent ?? '').slice(0, 200),
      });
    if (Date.now() - this.cleanedAt < cleanEveryMs) return;
    this.cleanedAt = Date.now();
    await this.db('session').whereRaw('expires_at < now(3)').limit(1000).delete();
  }
  private async prolong(sid: string): Promise<void> {
    await this.db('session')
      .where({ digest: digestOf(sid) })
      .update({ expires_at: this.expiry(), seen_at: this.db.raw('now(3)') });
  }
  private async remove(sid: string): Promise<void> {
    await this.db('session')
      .where({ digest: digestOf(sid) })
      .delete();
  }
  private expiry(): Knex.Raw {
    return this.db.raw('now(3) + interval ? hour', [idleHours]);
  }
}

/** What was stored is an object with a cookie in it, or no session at all. */
const sessionOf = (value: unknown): SessionData | null => (isSession(value) ? value : null);
const isSession = (value: unknown): value is SessionData =>
  typeof value === 'object' && value !== null && 'cookie' in value;

/** Calls back exactly once, in a turn of its own: what the callback throws is not the database's failure. */
function settle<T>(work: Promise<T>, callback?: (error: unknown, value?: T) => void): void {
  work.then(
    (value) => void setImmediate(() => callback?.(null, value)),
    (error: unknown) => void setImmediate(() => callback?.(error)),
  );
}

declare module 'express-session' {
  interface SessionData {
    /** Who is wholly in. */
    memberId: number;
    /** Whose password was right, and whose code is still wanted; until when. */
    pending: { readonly memberId: number; readonly untilMs: number; readonly tries: number };
    /** Where it was begun from. */
    place: { readonly address: string; readonly agent: string };
    /** Never written to the database before. */
    isNew: boolean;
    /** The secret of a second factor that is being set up; sealed. */
    offer: string;
  }
}
