import type { Knex } from 'knex';

/** Whom an event is going to invite, chosen before it is sent; the list made of what was pasted for it is its own. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('to_invite', (t) => {
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.integer('list_id').unsigned().notNullable().references('list.id').onDelete('cascade');
    t.boolean('is_own').notNullable().defaultTo(false);
    t.primary(['event_id', 'list_id']);
  });
}
