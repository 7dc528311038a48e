import type { Knex } from 'knex';

/** Whether people in the description of an entry from elsewhere were looked for as its watch asks for them now. */
export async function up(db: Knex): Promise<void> {
  // Numbers that were passed over before are found now.
  await db.raw('alter table imported add column people_taken boolean not null default false');
  await db.raw('alter table imported alter column people_taken set default true');
  await db.raw("update watch set etag = '', last_modified = ''");
}
