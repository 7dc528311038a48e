import type { Knex } from 'knex';

/** A cue that goes by email and by text has a row for either: the text's names the email's, and goes with it. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    'alter table cue add column text_of_id int unsigned null unique, add foreign key (text_of_id) references cue (id) on delete cascade',
  );
}
