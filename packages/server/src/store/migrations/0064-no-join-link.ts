import type { Knex } from 'knex';

/** Of a firing, how many are left out because its message depends on the join link and they are no guests. Null where it does not. */
export async function up(db: Knex): Promise<void> {
  await db.raw(`alter table firing
    add column no_join_link int unsigned null,
    add column lacks_join_link boolean generated always as (no_join_link > 0 and state in ('draft', 'set')) stored,
    add index (lacks_join_link, due_at)`);
  // What was counted before is counted anew.
  await db.raw("update firing set count_at = '1970-01-01' where state in ('draft', 'set') and not is_expanded");
}
