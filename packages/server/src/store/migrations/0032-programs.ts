import type { Knex } from 'knex';

/** What programs may do, what they brought, and other systems that are told of things. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('api_key', (t) => {
    // Keys made before there were scopes bring people's own times.
    t.string('scopes', 300).notNullable().defaultTo('times:write');
  });
  await db.schema.alterTable('people_import', (t) => {
    t.boolean('is_program').notNullable().defaultTo(false);
    t.index(['is_program', 'state', 'started_at']);
  });
  await db.schema.createTable('webhook', (t) => {
    t.increments('id');
    t.string('name', 120).notNullable();
    t.string('url', 2000).notNullable();
    // What it is told of, with commas between.
    t.string('kinds', 100).notNullable();
    t.boolean('is_on').notNullable();
    t.string('secret', 200).notNullable();
    // When it is called next: later after it failed.
    t.specificType('next_at', 'datetime(3)').notNullable().index();
    t.specificType('failing_since', 'datetime(3) null');
    // On real time, as leases are.
    t.specificType('lease_until', "datetime(3) not null default '1970-01-01'");
  });
  await db.schema.createTable('webhook_call', (t) => {
    t.bigIncrements('id');
    t.integer('webhook_id').unsigned().notNullable().references('webhook.id').onDelete('cascade');
    t.string('kind', 12).notNullable();
    t.string('state', 8).notNullable();
    t.bigInteger('subscriber_id').unsigned().nullable();
    t.integer('event_id').unsigned().nullable();
    t.string('occurrence', 40).notNullable().defaultTo('');
    t.string('channel', 5).nullable();
    t.string('detail', 100).notNullable().defaultTo('');
    t.specificType('at', 'datetime(3)').notNullable();
    t.specificType('attempts', 'tinyint unsigned').notNullable().defaultTo(0);
    t.string('answer', 300).notNullable().defaultTo('');
    t.specificType('next_at', 'datetime(3)').notNullable();
    t.index(['webhook_id', 'state', 'id']);
    t.index(['state', 'next_at']);
    t.index(['subscriber_id']);
  });
}
