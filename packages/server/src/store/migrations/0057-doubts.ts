import type { Knex } from 'knex';

/** Of whom a firing reaches, as counted with them, how many are worth a second look. Null where that was not asked. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    'alter table firing add column in_quiet int unsigned null, add column over_limit int unsigned null, add column nameless int unsigned null',
  );
}
