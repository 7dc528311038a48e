import type { Knex } from 'knex';

/** What waits for a second member to read it. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `create table release_wait (
       what enum('cue', 'digest', 'firing') not null,
       ref int unsigned not null,
       written_by int unsigned null,
       by_name varchar(120) not null,
       gets int unsigned null,
       at datetime(3) not null,
       primary key (what, ref))`,
  );
}
