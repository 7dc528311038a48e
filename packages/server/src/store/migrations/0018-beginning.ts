import type { Knex } from 'knex';

/** How a house begins: what was invented to try it out, to be taken out again, and which sender was proven. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('invented', (t) => {
    // person, list, event
    t.string('kind', 10).notNullable();
    t.bigInteger('id').unsigned().notNullable();
    t.primary(['kind', 'id']);
  });
  await db.raw(`alter table setting add column proven_sender varchar(254) not null default ''`);
}
