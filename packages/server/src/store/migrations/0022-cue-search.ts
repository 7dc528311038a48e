import type { Knex } from 'knex';

/** Cues are found by a word of their name. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('cue', (t) => {
    t.index(['name']);
    t.index(['name'], 'cue_name_words', { indexType: 'FULLTEXT' });
  });
}
