import type { Knex } from 'knex';
import { affectedRows, errnoOf } from './database';

interface Query {
  sql: string;
  bindings?: unknown;
  response?: unknown;
}
interface Runner {
  _query(connection: unknown, query: Query): Promise<Query | undefined>;
}

/** The table or column is there, or gone, already: it was done, and only the note of it is missing. */
const doneAlready: readonly number[] = [1050, 1051, 1060, 1061, 1068, 1091, 1054, 1146, 1005, 1826];
const defines = /^\s*(?:create|alter|drop|rename|truncate)\b/i;
const reads = /^\s*(?:select|show|begin|commit|rollback|savepoint|release|set)\b/i;

/**
 * Does a step of statements so that it can be cut off between any two of them, and done again: how many are done is noted beside
 * each, with what changes rows in one transaction. MariaDB keeps what defines tables at once, so there a statement may be done
 * and not noted; done again it is refused for being done, and counts.
 * @param db with one connection, which nothing else uses meanwhile
 * @param step sends the same statements in the same order each time, whatever the tables hold
 */
export async function resumably(db: Knex, name: string, step: () => Promise<void>): Promise<void> {
  const isAgain =
    affectedRows(await db.raw('insert ignore into migration_step (name, statements) values (?, 0)', [name])) === 0;
  const noted: { statements: number } | undefined = await db('migration_step').where({ name }).first('statements');
  const done = noted?.statements ?? 0;
  const client: Runner = db.client;
  const send = client._query.bind(client);
  let at = 0;
  client._query = async (connection, query) => {
    if (reads.test(query.sql)) return send(connection, query);
    at += 1;
    if (at <= done) return { ...query, response: [{ affectedRows: 0, insertId: 0 }, []] };
    const note = { sql: 'update migration_step set statements = ? where name = ?', bindings: [at, name] };
    if (defines.test(query.sql)) {
      const answer = await send(connection, query).catch((error: unknown) => {
        if (!isAgain || at !== done + 1 || !doneAlready.includes(errnoOf(error))) throw error;
        return { ...query, response: [{ affectedRows: 0, insertId: 0 }, []] };
      });
      await send(connection, note);
      return answer;
    }
    await send(connection, { sql: 'start transaction' });
    try {
      const answer = await send(connection, query);
      await send(connection, note);
      await send(connection, { sql: 'commit' });
      return answer;
    } catch (error) {
      await send(connection, { sql: 'rollback' });
      throw error;
    }
  };
  try {
    await step();
  } finally {
    client._query = send;
  }
}
