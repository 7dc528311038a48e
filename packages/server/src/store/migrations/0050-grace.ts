import type { Knex } from 'knex';

/** How late what an event sends may still go, where its own answer differs from the usual one. */
export async function up(db: Knex): Promise<void> {
  await db.raw('alter table event add column grace_minutes smallint unsigned null');
}
