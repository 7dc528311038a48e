import type { Knex } from 'knex';

/** That somebody was told of a firing that stands by. */
export async function up(db: Knex): Promise<void> {
  await db.raw('alter table firing add column announced_at datetime(3) null');
}
