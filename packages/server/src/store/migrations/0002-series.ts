import type { Knex } from 'knex';

/** Series, answers and attendance by date, counter-proposals, personal times, watched calendars, keys for programs. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('event', (t) => {
    t.boolean('repeats').notNullable().defaultTo(false);
    // The end of the last date; null for a series without end.
    t.specificType('last_at', 'datetime(3) null');
    // Firings of a series stand planned until here; the worker moves it on.
    t.specificType('planned_until', 'datetime(3) null');
    t.integer('split_from').unsigned().nullable();
    t.index(['repeats', 'planned_until']);
  });
  await db.raw('update event set last_at = ends_at');
  await db.schema.alterTable('invitee', (t) => {
    t.string('delegated_to', 254).notNullable().defaultTo('');
  });
  await db.schema.alterTable('reply', (t) => {
    t.string('occurrence', 20).notNullable().defaultTo('');
  });
  await db.schema.alterTable('subscriber', (t) => {
    // Further columns of imported files, as the file named them.
    t.json('fields').nullable();
    // Part of the address of the person's own feed: another number is another address.
    t.integer('feed_nonce').notNullable().defaultTo(0);
  });
  await db.schema.alterTable('cue', (t) => {
    // Removed after it fired: its past stays to be seen, and nothing more is planned.
    t.boolean('is_retired').notNullable().defaultTo(false);
  });
  await db.schema.createTable('invitee_occurrence', (t) => {
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.bigInteger('subscriber_id').unsigned().notNullable().references('subscriber.id').onDelete('cascade');
    t.string('occurrence', 20).notNullable();
    // Null where the person answered for the whole series only.
    t.string('reply', 12).nullable();
    t.integer('reply_sequence').nullable();
    t.specificType('reply_stamp', 'datetime(3) null');
    t.specificType('replied_at', 'datetime(3) null');
    t.string('comment', 500).notNullable().defaultTo('');
    t.boolean('attended').nullable();
    t.primary(['event_id', 'subscriber_id', 'occurrence']);
    t.index(['event_id', 'occurrence', 'reply']);
  });
  await db.schema.createTable('proposal', (t) => {
    t.bigIncrements('id');
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.bigInteger('subscriber_id').unsigned().notNullable().references('subscriber.id').onDelete('cascade');
    t.string('occurrence', 20).notNullable();
    t.specificType('starts_at', 'datetime(3)').notNullable();
    t.specificType('ends_at', 'datetime(3)').notNullable();
    t.string('comment', 500).notNullable();
    t.string('state', 10).notNullable();
    t.specificType('received_at', 'datetime(3)').notNullable();
    t.index(['event_id', 'state']);
    t.index(['state']);
  });
  await db.schema.createTable('personal', (t) => {
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.bigInteger('subscriber_id').unsigned().notNullable().references('subscriber.id').onDelete('cascade');
    // Clock readings in the event's zone; empty leaves the event's own.
    t.string('start', 16).notNullable();
    t.string('end', 16).notNullable();
    t.string('place', 500).notNullable();
    t.string('notes', 2000).notNullable();
    // How often the person's own facts changed: their SEQUENCE is the event's and this.
    t.integer('revision').notNullable().defaultTo(0);
    t.primary(['event_id', 'subscriber_id']);
    t.index(['event_id', 'start']);
    t.index(['subscriber_id']);
  });
  await db.schema.createTable('watch', (t) => {
    t.increments('id');
    t.json('fields').notNullable();
    t.string('etag', 300).notNullable().defaultTo('');
    t.string('last_modified', 100).notNullable().defaultTo('');
    t.specificType('next_at', 'datetime(3)').notNullable().index();
    t.specificType('looked_at', 'datetime(3) null');
    t.string('outcome', 500).notNullable().defaultTo('');
    t.boolean('is_failing').notNullable().defaultTo(false);
  });
  await db.schema.createTable('imported', (t) => {
    // Which event of ours came from which UID elsewhere, so that the next look changes it instead of doubling it.
    t.string('foreign_uid', 255).notNullable();
    t.integer('watch_id').unsigned().notNullable().defaultTo(0);
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.string('digest', 64).notNullable();
    t.primary(['watch_id', 'foreign_uid']);
  });
  await db.schema.createTable('api_key', (t) => {
    t.increments('id');
    t.string('name', 120).notNullable();
    t.string('digest', 64).notNullable().unique();
    t.specificType('created_at', 'datetime(3)').notNullable();
    t.specificType('used_at', 'datetime(3) null');
  });
}
