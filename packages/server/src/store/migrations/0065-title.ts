import type { Knex } from 'knex';

/** What a message by hand is called, where it has no cue and no digest: its subject, or how a text begins. */
export async function up(db: Knex): Promise<void> {
  await db.raw("alter table firing add column title varchar(120) not null default ''");
}
