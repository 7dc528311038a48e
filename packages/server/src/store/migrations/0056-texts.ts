import type { Knex } from 'knex';

/** A letter may have come as a text. */
export async function up(db: Knex): Promise<void> {
  await db.raw("alter table letter add column channel varchar(5) not null default 'email'");
}
