import type { Knex } from 'knex';

/** Segments: conditions put together, kept under a name, and counted beside everything else. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('segment', (t) => {
    t.increments('id');
    t.string('name', 120).notNullable().unique();
    t.string('description', 500).notNullable().defaultTo('');
    t.json('conditions').notNullable();
    t.specificType('changed_at', 'datetime(3)').notNullable();
    t.string('by_name', 120).notNullable();
    // As it was last counted; null before it was.
    t.integer('people').unsigned().nullable();
    t.specificType('counted_at', 'datetime(3)').nullable();
    // When it is counted next, by the database's own clock.
    t.specificType('count_at', 'datetime(3)').notNullable().index();
  });
  await db.schema.createTable('cue_segment', (t) => {
    t.integer('segment_id').unsigned().notNullable().references('segment.id').onDelete('cascade');
    t.integer('cue_id').unsigned().notNullable().references('cue.id').onDelete('cascade');
    t.primary(['segment_id', 'cue_id']);
    t.index(['cue_id']);
  });
}
