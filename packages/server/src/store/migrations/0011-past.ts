import type { Knex } from 'knex';

/** What each attempt was answered, and a place by month for what is long past. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('attempt', (t) => {
    t.bigIncrements('id');
    t.bigInteger('delivery_id').unsigned().notNullable().index();
    t.specificType('at', 'datetime(3)').notNullable().index();
    // What it came to: tried again later, failed, or what came back afterwards.
    t.string('kind', 10).notNullable();
    t.string('answer', 500).notNullable();
  });
  await db.schema.alterTable('firing', (t) => {
    // Its deliveries stand in `delivery_past`.
    t.boolean('is_past').notNullable().defaultTo(false);
    t.index(['is_past', 'due_at']);
  });
  // A table in parts can have no foreign keys; its rows leave by the part.
  await db.raw(
    `create table delivery_past (
       id bigint unsigned not null,
       firing_id bigint unsigned not null,
       subscriber_id bigint unsigned not null,
       channel varchar(5) not null,
       state varchar(10) not null,
       attempts tinyint unsigned not null,
       answer varchar(500) not null,
       sent_at datetime(3) null,
       at datetime not null,
       primary key (id, at),
       key delivery_past_firing (firing_id, state, id),
       key delivery_past_subscriber (subscriber_id)
     ) partition by range columns (at) (partition p_rest values less than (maxvalue))`,
  );
}
