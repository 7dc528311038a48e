import type { Knex } from 'knex';

/** Counts are kept with a firing, and what is under way is found by its firing, in the order of priorities. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('firing', (t) => {
    // How many are to get it, as counted last; null until it was counted. Once expanded, `planned` says it.
    t.integer('gets').unsigned().nullable();
    t.specificType('counted_at', 'datetime(3) null');
    // Of a digest's issue: how many dates were in it then.
    t.integer('event_count').unsigned().notNullable().defaultTo(0);
    // When it is to be counted next; null when that is not known to be of use.
    t.specificType('count_at', 'datetime(3) null').index();
    t.integer('skipped').unsigned().notNullable().defaultTo(0);
    t.specificType('priority', 'tinyint unsigned').notNullable().defaultTo(3);
    t.specificType('has_failed', 'boolean generated always as (failed > 0) stored');
    t.index(['has_failed', 'due_at']);
    t.index(['state', 'channel', 'priority', 'id']);
  });
  await db.raw(
    `update firing set priority = case kind when 'answer' then 1 when 'notice' then 2 when 'digest' then 4 else 3 end`,
  );
  await db.raw(
    `update firing f join (
       select firing_id, sum(state in ('sent', 'delivered')) as sent, sum(state in ('failed', 'bounced')) as failed,
              sum(state = 'skipped') as skipped
       from delivery group by firing_id) d on d.firing_id = f.id
     set f.sent = d.sent, f.failed = d.failed, f.skipped = d.skipped`,
  );
  await db.raw(`update firing set count_at = '1970-01-01' where state in ('draft', 'set') and not is_expanded`);
  await db.schema.alterTable('delivery', (t) => {
    t.index(['firing_id', 'state', 'next_at']);
    t.dropIndex(['firing_id', 'state']);
    t.dropIndex(['channel', 'state', 'next_at']);
  });
  await db.schema.createTable('cue_list', (t) => {
    // Which cues ask for a list, or leave it out: their audience is counted anew when it changes much.
    t.integer('list_id').unsigned().notNullable().references('list.id').onDelete('cascade');
    t.integer('cue_id').unsigned().notNullable().references('cue.id').onDelete('cascade');
    t.primary(['list_id', 'cue_id']);
    t.index(['cue_id']);
  });
  await db.raw(
    `insert ignore into cue_list (list_id, cue_id)
     select l.id, c.id from cue c join list l
     on json_contains(c.audience, l.id, '$.lists') or json_contains(c.audience, l.id, '$.exceptLists')`,
  );
  await db.schema.alterTable('list', (t) => {
    // Its size when the audiences that ask for it were last counted for its sake.
    t.integer('counted_size').unsigned().notNullable().defaultTo(0);
  });
  await db.raw('update list set counted_size = size');
  await db.schema.createTable('pace', (t) => {
    // What a channel sent in the second, the hour and the day that run: all workers draw from the same.
    t.string('channel', 5).notNullable();
    t.string('unit', 6).notNullable();
    t.specificType('since', 'datetime(3)').notNullable();
    t.integer('used').unsigned().notNullable();
    t.primary(['channel', 'unit']);
  });
  await db.schema.createTable('event_tally', (t) => {
    // What screens show of an event's guests, counted by the worker's counter.
    t.integer('event_id').unsigned().primary().references('event.id').onDelete('cascade');
    t.json('tally').notNullable();
    t.integer('behind').unsigned().notNullable().index();
    t.specificType('counted_at', 'datetime(3)').notNullable();
  });
}
