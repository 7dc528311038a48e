import type { Knex } from 'knex';

/** What keeps one thing's failure its own, and strangers within bounds. docs/data.md says of each table who writes it. */
export async function up(db: Knex): Promise<void> {
  await troubles(db);
  await sendingOnce(db);
  await strangers(db);
  await db.schema.alterTable('event', (t) => {
    // Who may see it: everybody, whoever has the address, or only who was invited.
    t.string('reach', 10).notNullable().defaultTo('invited');
  });
  // What was published before reach existed was seen by everybody, and stays so; what came from elsewhere never was meant to be.
  await db.raw(`update event set reach = 'public' where id not in (select event_id from imported)`);
  await db.raw(`update event set reach = 'invited' where id in (select event_id from personal)`);
}

async function troubles(db: Knex): Promise<void> {
  await db.schema.createTable('fault', (t) => {
    t.string('kind', 20).notNullable();
    t.string('ref', 60).notNullable();
    t.string('text', 500).notNullable();
    t.specificType('first_at', 'datetime(3)').notNullable();
    t.specificType('seen_at', 'datetime(3)').notNullable().index();
    t.primary(['kind', 'ref']);
  });
  await db.schema.createTable('health', (t) => {
    t.string('part', 20).notNullable();
    t.string('reporter', 60).notNullable();
    t.boolean('is_ok').notNullable();
    t.string('text', 500).notNullable();
    t.specificType('seen_at', 'datetime(3)').notNullable();
    t.primary(['part', 'reporter']);
  });
  await db.schema.createTable('pause', (t) => {
    t.string('channel', 5).primary();
    t.string('text', 500).notNullable();
    t.specificType('since', 'datetime(3)').notNullable();
  });
}

async function sendingOnce(db: Knex): Promise<void> {
  await db.schema.createTable('request_key', (t) => {
    t.string('key', 80).primary();
    t.specificType('at', 'datetime(3)').notNullable().index();
    t.json('answer').nullable();
  });
  await db.schema.alterTable('delivery', (t) => {
    // The version it said when it was cut off in mid-send: it may have left, so a repeat says the same.
    t.integer('said_version').nullable();
    t.boolean('may_have_left').notNullable().defaultTo(false);
  });
  await db.schema.createTable('list_import', (t) => {
    t.bigIncrements('id');
    t.integer('list_id').unsigned().notNullable().references('list.id').onDelete('cascade');
    t.string('by_name', 120).notNullable();
    t.string('state', 10).notNullable();
    t.specificType('started_at', 'datetime(3)').notNullable();
    // On real time, as leases are: whose heart stopped is taken over by another process.
    t.specificType('alive_until', 'datetime(3)').notNullable();
    t.integer('total').notNullable();
    t.integer('position').notNullable().defaultTo(0);
    t.integer('added').notNullable().defaultTo(0);
    t.integer('already').notNullable().defaultTo(0);
    t.text('people', 'longtext').nullable();
    t.index(['state', 'alive_until']);
    t.index(['started_at']);
  });
  await db.schema.createTable('list_import_member', (t) => {
    t.bigInteger('import_id').unsigned().notNullable().references('list_import.id').onDelete('cascade');
    t.bigInteger('subscriber_id').unsigned().notNullable();
    t.boolean('is_new_person').notNullable();
    t.primary(['import_id', 'subscriber_id']);
  });
}

async function strangers(db: Knex): Promise<void> {
  await db.schema.createTable('asked_mail', (t) => {
    t.bigIncrements('id');
    t.specificType('address', 'varchar(254) collate utf8mb4_bin not null');
    t.integer('event_id').unsigned().notNullable();
    t.specificType('at', 'datetime(3)').notNullable().index();
    t.index(['address', 'at']);
  });
  await db.schema.createTable('registration_hold', (t) => {
    t.bigIncrements('id');
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.string('occurrence', 20).notNullable();
    t.string('name', 200).notNullable();
    t.specificType('email', 'varchar(254) collate utf8mb4_bin not null');
    t.specificType('held_until', 'datetime(3)').notNullable().index();
    t.specificType('confirmed_at', 'datetime(3) null');
    t.unique(['event_id', 'occurrence', 'email']);
    t.index(['event_id', 'occurrence', 'held_until']);
  });
  await db.schema.createTable('letter', (t) => {
    t.bigIncrements('id');
    t.integer('event_id').unsigned().nullable().index();
    t.bigInteger('subscriber_id').unsigned().nullable();
    t.specificType('received_at', 'datetime(3)').notNullable();
    t.string('from_address', 254).notNullable();
    t.string('to_address', 254).notNullable();
    t.string('subject', 300).notNullable();
    t.text('text').notNullable();
    t.boolean('is_open').notNullable().defaultTo(true);
    t.index(['is_open', 'id']);
    t.index(['received_at']);
    t.index(['from_address', 'received_at']);
  });
  await db.schema.createTable('refusal', (t) => {
    t.bigIncrements('id');
    t.bigInteger('subscriber_id').unsigned().notNullable();
    // The mailbox, which takes nothing now; or policy, which is about us.
    t.string('about', 10).notNullable();
    t.specificType('at', 'datetime(3)').notNullable();
    t.string('text', 500).notNullable();
    t.index(['subscriber_id', 'at']);
    t.index(['about', 'at']);
  });
  await db.schema.createTable('consent', (t) => {
    t.bigIncrements('id');
    t.bigInteger('subscriber_id').unsigned().notNullable().references('subscriber.id').onDelete('cascade');
    t.string('channel', 5).notNullable();
    t.boolean('is_given').notNullable();
    t.string('how', 300).notNullable();
    t.string('by_name', 120).notNullable();
    t.specificType('at', 'datetime(3)').notNullable();
    t.index(['subscriber_id', 'id']);
  });
}
