import type { Knex } from 'knex';

/** What members want to be told of, and what there is to tell. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `alter table user
       add column news_kinds varchar(60) not null default '',
       add column summary_at varchar(5) not null default '',
       add column told_zone varchar(64) not null default '',
       add column news_seen bigint unsigned not null default 0,
       add column told_at datetime(3) null,
       add column summary_next datetime(3) null`,
  );
  await db.raw(
    `create table news (
       id bigint unsigned not null auto_increment primary key,
       kind varchar(10) not null,
       event_id int unsigned not null,
       subscriber_id bigint unsigned not null,
       occurrence varchar(20) not null default '',
       comment varchar(500) not null default '',
       at datetime(3) not null,
       index (kind, id),
       index (at),
       foreign key (event_id) references event (id) on delete cascade,
       foreign key (subscriber_id) references subscriber (id) on delete cascade
     )`,
  );
}
