import type { Knex } from 'knex';

/**
 * Whose turn it is to write a sending of an event down. A row of its own: the event's would be waited for by whoever registers,
 * edits, or checks that it is there.
 */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('sending_turn', (t) => {
    t.integer('event_id').unsigned().primary();
    t.specificType('taken_at', 'datetime(6)').notNullable();
  });
}
