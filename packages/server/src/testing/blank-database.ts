import { randomBytes } from 'node:crypto';
import type { Knex } from 'knex';
import { openDatabase } from '../store/database';
import { migrate } from '../store/migrate';

/** Statements that make the tables as the migrations leave them. */
let blank: Promise<readonly string[]> | undefined;

/** A database for one spec at a time. */
export interface BlankDatabase {
  readonly name: string;
  readonly url: string;
}

/** Names of all tables, in order. */
let allTables = '';

/** Emptied, for the next spec. */
const spare: BlankDatabase[] = [];

/**
 * A database for one spec alone, as the migrations leave it. They run once in a process; what came of them makes further databases, and
 * one that a spec gave back is used again.
 * @param base address of the database server, with the name that names begin with
 */
export const takeBlankDatabase = async (base: string): Promise<BlankDatabase> =>
  spare.pop() ?? (await makeBlankDatabase(base));

/** Empties it for the next spec, which takes a fraction of making one; drops one that cannot be as it was. Nobody is connected to it any more. */
export async function giveBack(database: BlankDatabase): Promise<void> {
  const db = openDatabase(database.url, 1);
  try {
    if (await empty(db, database.name)) spare.push(database);
    else await db.raw(`drop database ${database.name}`);
  } finally {
    await db.destroy();
  }
}

/** What migrations write stays. */
const kept: readonly string[] = ['knex_migrations', 'knex_migrations_lock', 'migration_lock', 'migration_step'];

/** @returns false where something other than rows is left, such as a month’s part of a table, or a trigger */
async function empty(db: Knex, name: string): Promise<boolean> {
  const parts = await db('information_schema.partitions')
    .where({ table_schema: name })
    .whereNotNull('partition_name')
    .count({ n: '*' })
    .first();
  const triggers = await db('information_schema.triggers').where({ trigger_schema: name }).count({ n: '*' }).first();
  const names = await tableNames(db, name);
  if (Number(parts?.['n']) > 1 || Number(triggers?.['n']) > 0 || names.join() !== allTables) return false;
  // Whoever is still connected, such as a process that was killed, has no hold on it any more.
  const others: number[] = await db('information_schema.processlist')
    .where({ db: name })
    .whereRaw('id <> connection_id()')
    .pluck('id');
  for (const id of others) await db.raw(`kill ${id}`).catch(() => null);
  const tables: { name: string; next: number | null }[] = await db('information_schema.tables')
    .where({ table_schema: name })
    .whereNotIn('table_name', [...kept])
    .select({ name: 'table_name', next: 'auto_increment' });
  const [filled = []]: { name: string }[][] = await db.raw(
    tables
      .map((one) => `select '${one.name}' as name from dual where exists (select 1 from \`${one.name}\`)`)
      .join(' union all '),
  );
  await db.raw('set foreign_key_checks = 0');
  for (const one of filled) await db(one.name).delete();
  for (const one of tables) if ((one.next ?? 1) > 1) await db.raw(`alter table \`${one.name}\` auto_increment = 1`);
  return true;
}

const tableNames = (db: Knex, name: string): Promise<string[]> =>
  db('information_schema.tables').where({ table_schema: name }).orderBy('table_name').pluck('table_name');

async function makeBlankDatabase(base: string): Promise<BlankDatabase> {
  const made = await create(base);
  const statements = await (blank ??= readBlank(base));
  const db = openDatabase(made.url, 1);
  // On one connection: tables refer to tables that come after them.
  await db.transaction(async (tx) => {
    await tx.raw('set foreign_key_checks = 0');
    for (const statement of statements) await tx.raw(statement.replaceAll('?', '\\?'));
  });
  await db.destroy();
  return made;
}

async function create(base: string): Promise<BlankDatabase> {
  const name = `convite_spec_${randomBytes(5).toString('hex')}`;
  const admin = openDatabase(base, 1);
  await admin.raw(`create database ${name}`);
  await admin.destroy();
  return { name, url: base.replace(/\/[^/]*$/, `/${name}`) };
}

async function readBlank(base: string): Promise<string[]> {
  const { name, url } = await create(base);
  const db = openDatabase(url);
  await migrate(url);
  const tables = await tableNames(db, name);
  allTables = tables.join();
  const statements: string[] = [];
  for (const table of tables) statements.push(await tableStatement(db, table));
  for (const table of tables.filter((one) => one.startsWith('knex_'))) {
    const rows: object[] = await db(table);
    statements.push(db(table).insert(rows).toString());
  }
  await db.raw(`drop database ${name}`);
  await db.destroy();
  return statements;
}

async function tableStatement(db: Knex, table: string): Promise<string> {
  const [rows]: Record<string, string>[][] = await db.raw('show create table ??', [table]);
  return rows?.[0]?.['Create Table'] ?? '';
}
