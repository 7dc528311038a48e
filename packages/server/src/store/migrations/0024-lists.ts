import type { Knex } from 'knex';

/** What a list is for, lists that are put away, and how each grew, day by day. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('list', (t) => {
    t.string('description', 500).notNullable().defaultTo('');
    t.specificType('archived_at', 'datetime(3)').nullable();
  });
  await db.schema.createTable('list_growth', (t) => {
    t.integer('list_id').unsigned().notNullable().references('list.id').onDelete('cascade');
    t.specificType('day', 'date').notNullable();
    t.integer('came').unsigned().notNullable().defaultTo(0);
    t.integer('went').unsigned().notNullable().defaultTo(0);
    t.integer('bounced').unsigned().notNullable().defaultTo(0);
    t.primary(['list_id', 'day']);
  });
  // Until now only the day was kept on which somebody became a subscriber.
  await db.raw(
    `insert into list_growth (list_id, day, came, went, bounced)
     select m.list_id, date(s.created_at), count(*), 0, 0
     from list_member m join subscriber s on s.id = m.subscriber_id group by m.list_id, date(s.created_at)`,
  );
}
