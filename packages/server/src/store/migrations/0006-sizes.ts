import type { Knex } from 'knex';

/** Sizes of lists are kept, not counted. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('list', (t) => {
    t.integer('size').unsigned().notNullable().defaultTo(0);
  });
  await db.raw(
    `update list l join (select list_id, count(*) as n from list_member group by list_id) c on c.list_id = l.id
     set l.size = c.n`,
  );
}
