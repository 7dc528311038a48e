import type { Knex } from 'knex';

/** Mails of a cue may stand in the thread of each person's invitation. */
export async function up(db: Knex): Promise<void> {
  await db.raw('alter table cue add column in_thread boolean not null default false');
}
