import type { Knex } from 'knex';

/** What of an event was tried out, word for word. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('tested', (t) => {
    t.integer('event_id').unsigned().notNullable().references('event.id').onDelete('cascade');
    t.specificType('mark', 'char(43) character set ascii collate ascii_bin').notNullable();
    t.datetime('at', { precision: 3 }).notNullable();
    t.primary(['event_id', 'mark']);
  });
}
