import type { Knex } from 'knex';

/** The subscriber's own side: forms by which they sign up, quiet for a while, and another address. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    'alter table subscriber add column paused_until datetime(3) null, add index subscriber_paused_until_index (paused_until)',
  );
  await db.schema.createTable('signup_form', (t) => {
    t.increments('id');
    t.string('public_key', 24).notNullable().unique();
    t.json('fields').notNullable();
    t.specificType('created_at', 'datetime(3)').notNullable();
  });
  // What somebody asked for, until the owner of the address says that it was they.
  await db.schema.createTable('signup', (t) => {
    t.bigIncrements('id');
    t.integer('form_id').unsigned().notNullable().references('signup_form.id').onDelete('cascade');
    t.specificType('email', 'varchar(254) collate utf8mb4_bin').notNullable().index();
    t.json('asked').notNullable();
    t.specificType('asked_at', 'datetime(3)').notNullable().index();
    t.specificType('confirmed_at', 'datetime(3)').nullable();
  });
  // Another address counts once both ends have said so.
  await db.schema.createTable('address_change', (t) => {
    t.bigIncrements('id');
    t.bigInteger('subscriber_id').unsigned().notNullable().references('subscriber.id').onDelete('cascade');
    t.specificType('email', 'varchar(254) collate utf8mb4_bin').notNullable().index();
    t.boolean('old_agrees').notNullable().defaultTo(false);
    t.boolean('new_agrees').notNullable().defaultTo(false);
    t.specificType('asked_at', 'datetime(3)').notNullable().index();
    t.index(['subscriber_id']);
  });
}
