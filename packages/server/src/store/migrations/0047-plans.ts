import type { Knex } from 'knex';

/** Countdowns kept for use again; a cue made of one knows which, and how it stood then. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('plan', (t) => {
    t.increments('id');
    t.string('name', 80).notNullable().unique();
    t.string('says', 200).notNullable();
    t.json('cues').notNullable();
    t.integer('cue_count').unsigned().notNullable();
    t.integer('next_key').unsigned().notNullable();
    t.string('saved_by', 120).notNullable();
    t.datetime('saved_at', { precision: 3 }).notNullable();
  });
  await db.schema.createTable('cue_of_plan', (t) => {
    t.integer('cue_id').unsigned().primary().references('cue.id').onDelete('cascade');
    t.integer('plan_id').unsigned().notNullable().references('plan.id').onDelete('cascade');
    t.integer('plan_key').unsigned().notNullable();
    // What it said and when, as it was made of the plan: one that differs was changed by somebody.
    t.specificType('mark', 'char(43) character set ascii collate ascii_bin').notNullable();
    t.index(['plan_id', 'cue_id']);
  });
  await db.schema.createTable('plan_of_event', (t) => {
    t.integer('plan_id').unsigned().notNullable().references('plan.id').onDelete('cascade');
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    // Cues of the plan up to this one were taken or left: what somebody left or removed does not come back.
    t.integer('seen_key').unsigned().notNullable();
    t.primary(['plan_id', 'event_id']);
  });
}
