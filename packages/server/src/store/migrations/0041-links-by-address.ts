import type { Knex } from 'knex';

/** A pressed link is known by where it leads, whichever others stand beside it. What was counted by place before is let go. */
export async function up(db: Knex): Promise<void> {
  for (const table of ['link_tally', 'link_pressed']) {
    await db(table).delete();
    await db.raw(`alter table ${table} modify link int unsigned not null`);
  }
}
