import type { Knex } from 'knex';

/** As whom the house writes beside itself, and which events do. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `create table sender (
       id int unsigned not null auto_increment,
       name varchar(120) not null,
       email varchar(254) not null,
       reply_to varchar(254) not null,
       text_sender varchar(20) not null,
       signature varchar(500) not null,
       takes_no_answers boolean not null,
       copy_to varchar(254) not null,
       proven_at datetime(3) null,
       is_paused boolean not null default false,
       primary key (id),
       unique (email))`,
  );
  await db.raw('alter table event add column sender_id int unsigned null, add index (sender_id)');
  await db.raw('alter table firing add column copied_at datetime(3) null');
}
