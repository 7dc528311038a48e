import type { Knex } from 'knex';

/** Which versions of which wordings say a block of the house. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `create table block_use (
       block_key varchar(40) character set ascii collate ascii_bin not null,
       wording_id int unsigned not null,
       wording_version int unsigned not null,
       primary key (block_key, wording_id, wording_version))`,
  );
}
