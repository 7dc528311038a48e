import type { Knex } from 'knex';

/** Two people found to be one: whom somebody is the same as, and what went over, so that it can be parted again. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('subscriber', (t) => {
    // Stays for what was sent to them and for their addresses; nothing goes to them any more.
    t.bigInteger('same_as_id').unsigned().nullable().index();
  });
  await db.schema.createTable('person_merge', (t) => {
    t.bigIncrements('id');
    t.bigInteger('kept_id').unsigned().notNullable().index();
    t.bigInteger('absorbed_id').unsigned().notNullable().index();
    t.specificType('at', 'datetime(3)').notNullable();
    t.string('by_name', 120).notNullable();
    t.json('moved').notNullable();
    t.specificType('parted_at', 'datetime(3) null');
  });
}
