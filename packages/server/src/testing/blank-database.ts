import { randomBytes } from 'node:crypto';
import type { Knex } from 'knex';
import { openDatabase } from '../store/database';
import { migrate } from '../store/migrate';

/** Statements that make the tables as the migrations leave them. */
let blank: Promise<readonly string[]> | undefined;

/**
 * A database of its own for one spec, as the migrations leave it. They run once in a process: after that each database is made
 * from what came of them, in an eighth of the time.
 * @param base address of the database server, with the name that names begin with
 */
export async function makeBlankDatabase(base: string): Promise<{ readonly name: string; readonly url: string }> {
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

async function create(base: string): Promise<{ readonly name: string; readonly url: string }> {
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
  const tables: string[] = await db('information_schema.tables').where({ table_schema: name }).pluck('table_name');
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
