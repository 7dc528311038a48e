import type { Knex } from 'knex';

/** A letter may have come as a text; what is to be planned anew is found by its index. */
export async function up(db: Knex): Promise<void> {
  await db.raw("alter table letter add column channel varchar(5) not null default 'email'");
  await db.raw('alter table event add index event_planned_until_index (planned_until)');
}
