import type { Knex } from 'knex';

/** Who comes after the moment of a cue may still get it for a while: until when a firing is open to them, and when it is looked at next. */
export async function up(db: Knex): Promise<void> {
  await db.raw('alter table cue add column late_hours smallint unsigned not null default 0');
  await db.raw('alter table firing add column open_until datetime(3) null, add column join_at datetime(3) null');
  await db.raw('alter table firing add index firing_join_at (join_at)');
}
