import type { Knex } from 'knex';

/** When an event was published, from which cues may count. Of those before, when their first version was made is the nearest known. */
export async function up(db: Knex): Promise<void> {
  await db.raw('alter table event add column published_at datetime(3) null');
  await db.raw(
    `update event e join event_version v on v.event_id = e.id and v.number = 1
     set e.published_at = v.created_at where e.status <> 'draft'`,
  );
}
