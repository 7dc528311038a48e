import type { Knex } from 'knex';

/** Pictures that messages show, each kept once, and which versions of which wordings show them. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `create table picture (
       id int unsigned not null auto_increment,
       digest char(40) character set ascii collate ascii_bin not null,
       type varchar(20) not null,
       name varchar(120) not null,
       words varchar(300) not null,
       width smallint unsigned not null,
       height smallint unsigned not null,
       octets int unsigned not null,
       is_archived boolean not null default false,
       added_at datetime(3) not null,
       added_by varchar(120) not null,
       primary key (id),
       unique (digest),
       index (is_archived, id))`,
  );
  // Apart from the rest, so that a list of pictures reads none of them.
  await db.raw(
    `create table picture_octets (
       digest char(40) character set ascii collate ascii_bin not null,
       octets mediumblob not null,
       primary key (digest))`,
  );
  await db.raw(
    `create table picture_use (
       digest char(40) character set ascii collate ascii_bin not null,
       wording_id int unsigned not null,
       wording_version int unsigned not null,
       primary key (digest, wording_id, wording_version))`,
  );
}
