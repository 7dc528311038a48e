import type { Knex } from 'knex';

/** The board of one channel, of one kind, or of both, each in the order of time. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('firing', (t) => {
    t.index(['channel', 'state', 'due_at']);
    t.index(['kind', 'state', 'due_at']);
    t.index(['kind', 'channel', 'state', 'due_at']);
  });
}
