import type { Knex } from 'knex';

/** People who are erased: what of them is found by their address, and who is not to come in again by a file. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('subscriber', (t) => {
    t.specificType('erased_at', 'datetime(3)').nullable().index();
  });
  await db.schema.alterTable('letter', (t) => t.index(['subscriber_id']));
  await db.schema.alterTable('reply', (t) => {
    t.index(['attendee']);
    t.index(['from_address']);
  });
  await db.schema.alterTable('invitee', (t) => t.index(['delegated_to']));
  await db.schema.alterTable('registration_hold', (t) => t.index(['email']));
  // Searches and answered proposals were taken down with the words in them, which may be somebody's address or name.
  await db.raw(
    `update audit set what = 'some, by a search' where action = 'export: people' and what <> 'everybody' and what not like 'list %'`,
  );
  await db.raw(
    `update audit set what = regexp_replace(what, '[^ ,]+@[^ ,]+', '(an address)')
     where action in ('answer: proposal accepted', 'answer: proposal declined')`,
  );
  await db.schema.createTable('forgotten', (t) => {
    // SHA-256 of an address or a number: it is known again, and cannot be read.
    t.specificType('digest', 'char(64)').primary();
    t.specificType('at', 'datetime(3)').notNullable();
  });
}
