import type { Knex } from 'knex';

/** What a message was made from is kept with its delivery, so that the very message can be shown again. */
export async function up(db: Knex): Promise<void> {
  // What all who got it at about that time share: the house as it signed, wording, version, guests, events of a digest.
  await db.raw(
    `create table said_to_all (
       id bigint unsigned not null auto_increment primary key,
       firing_id bigint unsigned not null,
       digest binary(32) not null,
       part json not null,
       unique key said_to_all_part (firing_id, digest),
       foreign key (firing_id) references firing (id) on delete cascade)`,
  );
  await db.raw(
    `create table said (
       delivery_id bigint unsigned not null primary key,
       to_all_id bigint unsigned not null,
       person text not null,
       foreign key (delivery_id) references delivery (id) on delete cascade)`,
  );
  await db.raw(`alter table delivery_past add column to_all_id bigint unsigned null, add column person text null`);
}
