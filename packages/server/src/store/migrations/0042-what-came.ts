import type { Knex } from 'knex';

/** A sender's own pace, its number for texts, its address kept private; and what came of senders by day, and of kept wordings. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `alter table sender
       add column pace json not null default ('{"perSecond":null,"perHour":null,"perDay":null}'),
       add column hides_address boolean not null default false,
       add column text_proven_at datetime(3) null,
       add column text_code varchar(200) not null default '',
       add column text_code_until datetime(3) null,
       add column text_tries tinyint unsigned not null default 0`,
  );
  // 0 is the house itself, whose pace is drawn by all.
  await db.raw(
    `alter table pace add column sender_id int unsigned not null default 0 first,
       drop primary key, add primary key (sender_id, channel, unit)`,
  );
  await db.raw(
    `create table sender_day (
       sender_id int unsigned not null,
       day date not null,
       accepted int unsigned not null default 0,
       refused int unsigned not null default 0,
       bounced int unsigned not null default 0,
       complaints int unsigned not null default 0,
       pauses int unsigned not null default 0,
       primary key (sender_id, day))`,
  );
  await db.raw(
    `create table wording_came (
       wording_key varchar(40) not null,
       sent int unsigned not null default 0,
       replies int unsigned not null default 0,
       opt_outs int unsigned not null default 0,
       primary key (wording_key))`,
  );
  // As far as a firing was added to those already.
  await db.raw(
    `alter table firing add column counted_sent int not null default 0, add column counted_failed int not null default 0`,
  );
  await db.raw('update firing set counted_sent = sent, counted_failed = failed');
}
