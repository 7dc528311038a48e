import type { Knex } from 'knex';

/** What counted before the ledger was kept becomes its first entry, so that what counts now follows from it alone. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `insert into consent (subscriber_id, channel, is_given, how, by_name, source, at)
     select s.id, 'email', false, 'as it stood before this was taken down', '', 'as-it-stood', s.opted_out_at
     from subscriber s where s.opted_out_at is not null and not exists (
       select 1 from consent c where c.subscriber_id = s.id and c.channel = 'email' and c.topic = '')`,
  );
  await db.raw(
    `insert into consent (subscriber_id, channel, is_given, how, by_name, source, at)
     select s.id, 'text', true, 'as it stood before this was taken down', '', 'as-it-stood', s.created_at
     from subscriber s where s.text_consent and not exists (
       select 1 from consent c where c.subscriber_id = s.id and c.channel = 'text' and c.topic = '')`,
  );
}
