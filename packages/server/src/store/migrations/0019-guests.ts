import type { Knex } from 'knex';

/** Guests in the order of their answers, and guests who were taken off, to be put back for a moment. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('invitee', (t) => {
    t.index(['event_id', 'replied_at', 'subscriber_id']);
    t.index(['event_id', 'holds_version', 'subscriber_id'], 'invitee_holds_order');
  });
  await db.schema.createTable('removal', (t) => {
    t.bigIncrements('id');
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.specificType('at', 'datetime(3)').notNullable();
    // The rows as they were, by table.
    t.specificType('rows', 'longtext').notNullable();
    // What tells those who hold an entry; null where nobody does.
    t.integer('firing_id').unsigned().nullable();
    t.index(['at']);
  });
}
