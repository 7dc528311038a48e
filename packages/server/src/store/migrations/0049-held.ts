import type { Knex } from 'knex';

/** Who holds all of an event, or a whole channel. */
export async function up(db: Knex): Promise<void> {
  await db.raw('alter table event add column held_by varchar(120) null');
  await db.raw('alter table pause add column held_by varchar(120) null');
}
