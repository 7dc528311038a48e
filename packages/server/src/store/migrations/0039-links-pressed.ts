import type { Knex } from 'knex';

/** Which typed links of emails were pressed: in sum by message, and of each person where the house counts so. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `create table link_tally (
       firing_id bigint unsigned not null,
       link smallint unsigned not null,
       presses int unsigned not null default 0,
       people int unsigned not null default 0,
       by_programs int unsigned not null default 0,
       primary key (firing_id, link))`,
  );
  await db.raw(
    `create table link_pressed (
       delivery_id bigint unsigned not null,
       link smallint unsigned not null,
       firing_id bigint unsigned not null,
       subscriber_id bigint unsigned not null,
       presses int unsigned not null,
       by_programs int unsigned not null,
       at datetime(3) not null,
       primary key (delivery_id, link),
       index (subscriber_id),
       index (at))`,
  );
}
