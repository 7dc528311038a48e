import type { Knex } from 'knex';

/** The first tables, laid out for a million subscribers and ten million deliveries: every list is paged by an index. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('user', (t) => {
    t.increments('id');
    t.string('email', 254).notNullable().unique();
    t.string('name', 120).notNullable();
    t.string('role', 20).notNullable();
    t.string('password_hash', 200).notNullable();
  });
  await db.schema.createTable('session', (t) => {
    t.string('sid', 255).primary();
    t.text('sess').notNullable();
    t.datetime('expired').notNullable().index();
  });
  await db.schema.createTable('setting', (t) => {
    t.integer('id').primary();
    t.json('value').notNullable();
  });
  await db.schema.createTable('clock', (t) => {
    t.integer('id').primary();
    t.bigInteger('offset_ms').notNullable();
  });
  await db.schema.createTable('live', (t) => {
    t.string('topic', 60).primary();
    t.bigInteger('version').notNullable();
    t.specificType('touched_at', 'datetime(3)').notNullable().index();
  });
  await db.schema.createTable('audit', (t) => {
    t.bigIncrements('id');
    t.specificType('at', 'datetime(3)').notNullable();
    t.string('by_name', 120).notNullable();
    t.string('action', 60).notNullable();
    t.string('what', 500).notNullable();
  });
  await people(db);
  await events(db);
  await sending(db);
}

async function people(db: Knex): Promise<void> {
  await db.schema.createTable('subscriber', (t) => {
    t.bigIncrements('id');
    // Binary collation: addresses are stored lower case, and two that differ by an accent are two people.
    t.specificType('email', 'varchar(254) collate utf8mb4_bin null').unique();
    t.string('name', 200).notNullable().defaultTo('');
    t.string('zone', 64).notNullable().defaultTo('');
    t.string('mobile', 20).notNullable().defaultTo('').index();
    t.boolean('text_consent').notNullable().defaultTo(false);
    t.specificType('opted_out_at', 'datetime(3) null');
    t.specificType('bounced_at', 'datetime(3) null');
    t.string('bounce_text', 500).notNullable().defaultTo('');
    t.specificType('created_at', 'datetime(3)').notNullable();
    t.index(['bounced_at']);
  });
  await db.schema.createTable('subscriber_topic', (t) => {
    t.bigInteger('subscriber_id').unsigned().notNullable().references('subscriber.id').onDelete('cascade');
    t.string('topic', 60).notNullable();
    t.primary(['subscriber_id', 'topic']);
    t.index(['topic', 'subscriber_id']);
  });
  await db.schema.createTable('list', (t) => {
    t.increments('id');
    t.string('name', 120).notNullable().unique();
  });
  await db.schema.createTable('list_member', (t) => {
    t.integer('list_id').unsigned().notNullable().references('list.id').onDelete('cascade');
    t.bigInteger('subscriber_id').unsigned().notNullable().references('subscriber.id').onDelete('cascade');
    t.primary(['list_id', 'subscriber_id']);
    t.index(['subscriber_id']);
  });
}

async function events(db: Knex): Promise<void> {
  await db.schema.createTable('event', (t) => {
    t.increments('id');
    t.string('public_key', 24).notNullable().unique();
    t.string('uid', 120).notNullable().unique();
    t.string('status', 20).notNullable();
    t.integer('version').notNullable();
    t.specificType('starts_at', 'datetime(3)').notNullable().index();
    t.specificType('ends_at', 'datetime(3)').notNullable();
  });
  await db.schema.createTable('event_version', (t) => {
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.integer('number').notNullable();
    t.integer('sequence').notNullable();
    t.json('facts').notNullable();
    t.boolean('called_off').notNullable();
    t.specificType('created_at', 'datetime(3)').notNullable();
    t.string('by_name', 120).notNullable();
    t.primary(['event_id', 'number']);
  });
  await db.schema.createTable('invitee', (t) => {
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.bigInteger('subscriber_id').unsigned().notNullable().references('subscriber.id').onDelete('cascade');
    t.string('channel', 5).notNullable();
    t.string('reply', 12).notNullable();
    t.integer('reply_sequence').nullable();
    t.specificType('reply_stamp', 'datetime(3) null');
    t.specificType('replied_at', 'datetime(3) null');
    t.string('comment', 500).notNullable().defaultTo('');
    t.specificType('invited_at', 'datetime(3) null');
    t.integer('holds_version').nullable();
    t.primary(['event_id', 'subscriber_id']);
    t.index(['event_id', 'reply']);
    t.index(['event_id', 'holds_version']);
    t.index(['subscriber_id']);
  });
  await db.schema.createTable('reply', (t) => {
    t.bigIncrements('id');
    t.integer('event_id').unsigned().nullable().index();
    t.specificType('received_at', 'datetime(3)').notNullable();
    t.string('from_address', 254).notNullable();
    t.string('attendee', 254).notNullable();
    t.string('state', 12).notNullable();
    t.string('verdict', 20).notNullable();
    t.string('reason', 40).notNullable();
    t.text('raw', 'mediumtext').notNullable();
  });
}

async function sending(db: Knex): Promise<void> {
  await db.schema.createTable('cue', (t) => {
    t.increments('id');
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.string('name', 120).notNullable();
    t.string('channel', 5).notNullable();
    t.json('moment').notNullable();
    t.json('audience').notNullable();
    t.string('subject', 500).notNullable();
    t.text('body').notNullable();
    t.boolean('is_draft').notNullable();
  });
  await db.schema.createTable('digest', (t) => {
    t.increments('id');
    t.json('fields').notNullable();
  });
  await db.schema.createTable('firing', (t) => {
    t.bigIncrements('id');
    t.string('kind', 12).notNullable();
    t.integer('event_id').unsigned().nullable().references('event.id').onDelete('cascade');
    t.integer('cue_id').unsigned().nullable().references('cue.id').onDelete('cascade');
    t.integer('digest_id').unsigned().nullable().references('digest.id').onDelete('cascade');
    // Which occurrence of a series; empty for a one-off. Part of the key so that a cue fires once for each.
    t.string('occurrence', 20).notNullable().defaultTo('');
    t.string('channel', 5).notNullable();
    t.specificType('due_at', 'datetime(3)').notNullable();
    t.string('state', 10).notNullable();
    t.string('note', 500).notNullable().defaultTo('');
    // What goes out, frozen when the firing is expanded: a delivery that is repeated says the same again.
    t.json('content').nullable();
    t.boolean('is_expanded').notNullable().defaultTo(false);
    t.integer('planned').notNullable().defaultTo(0);
    t.integer('sent').notNullable().defaultTo(0);
    t.integer('failed').notNullable().defaultTo(0);
    t.unique(['cue_id', 'occurrence']);
    t.unique(['digest_id', 'due_at']);
    t.index(['state', 'due_at']);
    t.index(['due_at']);
  });
  await db.schema.createTable('delivery', (t) => {
    t.bigIncrements('id');
    t.bigInteger('firing_id').unsigned().notNullable().references('firing.id').onDelete('cascade');
    t.bigInteger('subscriber_id').unsigned().notNullable();
    t.string('channel', 5).notNullable();
    t.string('state', 10).notNullable();
    t.specificType('attempts', 'tinyint unsigned').notNullable().defaultTo(0);
    t.specificType('next_at', 'datetime(3)').notNullable();
    t.string('lease', 40).nullable();
    t.string('answer', 500).notNullable().defaultTo('');
    t.specificType('sent_at', 'datetime(3) null');
    t.unique(['firing_id', 'subscriber_id', 'channel']);
    t.index(['firing_id', 'state']);
    t.index(['channel', 'state', 'next_at']);
    t.index(['subscriber_id']);
  });
  // A worker's claims are good while its row is: one heartbeat renews them all, on real time, not the shifted clock.
  await db.schema.createTable('worker', (t) => {
    t.string('lease', 40).primary();
    t.specificType('alive_until', 'datetime(3)').notNullable();
  });
}
