import type { Knex } from 'knex';

/** Messages kept to be used again: the house's own, and its own words for those that come with Convite. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `create table kept_wording (
       wording_key varchar(40) character set ascii collate ascii_bin not null,
       name varchar(120) not null,
       purpose varchar(14) not null,
       channel varchar(5) not null,
       wording_id int unsigned not null,
       wording_version int unsigned not null,
       is_archived boolean not null default false,
       changed_at datetime(3) not null,
       changed_by varchar(120) not null,
       primary key (wording_key))`,
  );
  // Who wrote a version, and what it was begun from: the document says that itself.
  await db.raw(
    `alter table wording
       add by_name varchar(120) not null default '',
       add from_key varchar(40) character set ascii collate ascii_bin as (json_value(document, '$.from')) persistent,
       add index (from_key, created_at)`,
  );
  await db.raw('alter table cue add index (wording_id)');
}
