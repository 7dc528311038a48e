import type { Knex } from 'knex';

/** The picture of the house on its public pages. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `create table house_picture (
       id tinyint unsigned not null primary key,
       type varchar(20) not null,
       digest char(16) not null,
       octets mediumblob not null)`,
  );
}
