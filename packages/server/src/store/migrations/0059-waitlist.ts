import type { Knex } from 'knex';

/** Who waits for a place is asked when one is free; who comes online takes none. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('registration', (t) => {
    // in-person, online; empty where nobody asked.
    t.string('presence', 9).notNullable().defaultTo('');
    // Of who waits: until when a place is kept for them that they were told of.
    t.specificType('kept_until', 'datetime(3)').nullable();
    t.index(['event_id', 'state', 'occurrence', 'registered_at'], 'registration_waiting');
    t.index(['event_id', 'kept_until'], 'registration_kept');
    t.index(['event_id', 'occurrence', 'state', 'presence', 'places'], 'registration_taken');
    t.dropIndex(['event_id', 'occurrence', 'state', 'places']);
  });
  await db.schema.alterTable('registration_hold', (t) => {
    // Whoever confirms it waits for a place, or comes online: none is held for them.
    t.boolean('waits').notNullable().defaultTo(false);
    t.string('presence', 9).notNullable().defaultTo('');
  });
  // Events at which somebody waits, and when it is to be looked whether a place is free.
  await db.schema.createTable('waitlist', (t) => {
    t.integer('event_id').unsigned().primary().references('event.id').onDelete('cascade');
    t.specificType('due_at', 'datetime(3)').notNullable().index();
  });
}
