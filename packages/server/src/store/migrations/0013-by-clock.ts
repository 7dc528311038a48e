import type { Knex } from 'knex';

/** Cues by each person's clock and by people's own dates: which zones there are, and a cue's firings by their moments. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('subscriber', (t) => {
    t.index(['zone']);
  });
  await db.schema.alterTable('cue', (t) => {
    // Its firings are planned on though its event is no series.
    t.boolean('goes_on').notNullable().defaultTo(false).index();
  });
  await db.schema.alterTable('firing', (t) => {
    t.index(['cue_id', 'due_at']);
  });
}
