import type { Knex } from 'knex';

/** Segments that an event is going to invite, beside lists. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('segment_to_invite', (t) => {
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.integer('segment_id').unsigned().notNullable().references('segment.id').onDelete('cascade');
    t.primary(['event_id', 'segment_id']);
    t.index('segment_id');
  });
}
