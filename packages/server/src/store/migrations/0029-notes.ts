import type { Knex } from 'knex';

/** What members note about somebody. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('person_note', (t) => {
    t.bigIncrements('id');
    t.bigInteger('subscriber_id').unsigned().notNullable().references('subscriber.id').onDelete('cascade');
    t.text('text').notNullable();
    t.string('by_name', 120).notNullable();
    t.specificType('at', 'datetime(3)').notNullable();
    t.index(['subscriber_id', 'id']);
  });
}
