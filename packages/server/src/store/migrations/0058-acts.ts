import type { Knex } from 'knex';

/** What cues do instead of writing to people, and the tasks that they give. */
export async function up(db: Knex): Promise<void> {
  await db.raw('alter table cue add column act json null');
  await db.raw(
    `create table task (
       id int unsigned not null auto_increment primary key,
       member_id int unsigned not null,
       event_id int unsigned null,
       text varchar(500) not null,
       given_at datetime(3) not null,
       told_at datetime(3) null,
       done_at datetime(3) null,
       done_by varchar(120) not null default '',
       key task_done (done_at, id),
       key task_told (told_at, id),
       constraint task_member foreign key (member_id) references user (id) on delete cascade,
       constraint task_event foreign key (event_id) references event (id) on delete cascade)`,
  );
}
