import type { Knex } from 'knex';

/** The language that somebody reads; empty where it is not known, and they read the house's. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('subscriber', (t) => {
    t.string('language', 8).notNullable().defaultTo('');
  });
}
