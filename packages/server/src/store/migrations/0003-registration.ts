import type { Knex } from 'knex';

/** People who put themselves down for single dates of a series. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('invitee', (t) => {
    // Has a part in those dates alone that stand in invitee_occurrence; `reply` says nothing then.
    t.boolean('is_by_date').notNullable().defaultTo(false);
  });
  await db.schema.alterTable('invitee_occurrence', (t) => {
    // The version in which the date was called off for somebody who came to it by date, and is told so.
    t.integer('gone_in').nullable();
  });
}
