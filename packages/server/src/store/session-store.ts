import { ConnectSessionKnexStore } from 'connect-session-knex';
import type { Store } from 'express-session';
import type { Knex } from 'knex';

/** Sessions in the database, so that any server answers for any session. */
export const sessionStore = (db: Knex): Store =>
  new ConnectSessionKnexStore({
    knex: db,
    tableName: 'session',
    sidFieldName: 'sid',
    createTable: false,
    cleanupInterval: 10 * 60_000,
  });
