import type { Knex } from 'knex';

/** Whoever waits for a place hears of a change, once. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('registration', (t) => {
    // Of who waits: the version of the event that they know; null for all others.
    t.integer('knows_version').unsigned().nullable();
  });
  await db.raw(
    `update registration r join event e on e.id = r.event_id set r.knows_version = e.version where r.state = 'waitlisted'`,
  );
}
