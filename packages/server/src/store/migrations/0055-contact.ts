import type { Knex } from 'knex';

/** Who is told of what stands by, where an event says another than the house. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    "alter table event add column contact_email varchar(254) not null default '', add column contact_mobile varchar(20) not null default ''",
  );
}
