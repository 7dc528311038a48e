import { Store, type SessionData } from 'express-session';
import type { Knex } from 'knex';
import { readJson } from './database';

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
  override touch(sid: string, session: SessionData, callback?: (error?: unknown) => void): void {
    settle(this.prolong(sid, session), callback);
  }
  destroy(sid: string, callback?: (error?: unknown) => void): void {
    settle(this.remove(sid), callback);
  }

  private async read(sid: string): Promise<SessionData | null> {
    const row: { sess: unknown } | undefined = await this.db('session')
      .where({ sid })
      .where('expired', '>', new Date())
      .first('sess');
    return row ? sessionOf(readJson(row.sess)) : null;
  }
  private async write(sid: string, session: SessionData): Promise<void> {
    await this.db('session')
      .insert({ sid, sess: JSON.stringify(session), expired: endOf(session) })
      .onConflict('sid')
      .merge();
    if (Date.now() - this.cleanedAt < cleanEveryMs) return;
    this.cleanedAt = Date.now();
    await this.db('session').where('expired', '<', new Date()).limit(1000).delete();
  }
  private async prolong(sid: string, session: SessionData): Promise<void> {
    await this.db('session')
      .where({ sid })
      .update({ expired: endOf(session) });
  }
  private async remove(sid: string): Promise<void> {
    await this.db('session').where({ sid }).delete();
  }
}

const endOf = ({ cookie }: SessionData): Date => new Date(cookie.expires ?? Date.now() + 86_400_000);

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
