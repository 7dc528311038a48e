import type { Knex } from 'knex';

/** Which pages people opened by their own links, where the house notes that and they do not mind: a row a day. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('subscriber', (t) => {
    t.boolean('minds_noting').notNullable().defaultTo(false);
  });
  await db.schema.createTable('page_opened', (t) => {
    t.bigInteger('subscriber_id').unsigned().notNullable();
    t.string('page', 12).notNullable();
    // 0 for a page about no event.
    t.bigInteger('event_id').unsigned().notNullable();
    t.date('day').notNullable();
    t.specificType('at', 'datetime(3)').notNullable();
    t.primary(['subscriber_id', 'page', 'event_id', 'day']);
    t.index(['day']);
  });
}
