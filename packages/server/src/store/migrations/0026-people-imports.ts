import type { Knex } from 'knex';

/** People are brought in by staged rows, seen before they are taken, and taken back for a month. Who came without consent. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `alter table subscriber
       add column email_consent boolean not null default true,
       add column phone varchar(20) not null default '',
       add column zone_from varchar(8) not null default '',
       -- RFC 5233: what stands behind a plus is for whoever reads it, and names no other mailbox.
       add column email_key varchar(254) collate utf8mb4_bin generated always as
         (concat(substring_index(substring_index(email, '@', 1), '+', 1), '@', substring_index(email, '@', -1))) virtual,
       add index subscriber_email_key_index (email_key),
       add index subscriber_phone_index (phone)`,
  );
  await db.schema.createTable('people_import', (t) => {
    t.increments('id');
    t.string('name', 200).notNullable();
    t.string('by_name', 120).notNullable();
    t.string('state', 8).notNullable();
    t.string('shape', 64).notNullable().defaultTo('');
    t.json('fields').notNullable();
    t.integer('list_id').unsigned().nullable().references('list.id').onDelete('set null');
    t.boolean('takes_spelled').notNullable().defaultTo(false);
    t.specificType('started_at', 'datetime(3)').notNullable();
    t.specificType('alive_until', 'datetime(3)').notNullable();
    for (const column of ['fresh', 'changed', 'same', 'spelled', 'refused', 'twice'])
      t.integer(column).unsigned().notNullable().defaultTo(0);
    for (const column of ['opted_out', 'bounced', 'landlines', 'guessed_zones', 'without_consent'])
      t.integer(column).unsigned().notNullable().defaultTo(0);
    t.integer('position').unsigned().notNullable().defaultTo(0);
    t.integer('joined').unsigned().notNullable().defaultTo(0);
    // Up to which row it was taken in, or taken back; and up to which it had been taken in when it began to be taken back.
    t.integer('last_row').notNullable().defaultTo(-1);
    t.integer('taken_to').notNullable().defaultTo(-1);
    t.index(['shape', 'id']);
    t.index(['state', 'alive_until']);
    t.index(['state', 'started_at']);
  });
  await db.schema.createTable('people_import_row', (t) => {
    t.integer('import_id').unsigned().notNullable().references('people_import.id').onDelete('cascade');
    t.integer('number').unsigned().notNullable();
    t.specificType('kind', "enum('new','changed','same','spelled','refused','twice') not null");
    // The address, or the number of who has none.
    t.specificType('known_by', 'varchar(254) collate utf8mb4_bin').notNullable().defaultTo('');
    t.bigInteger('subscriber_id').unsigned().nullable().index();
    // JSON, as we write it ourselves: the database need not read it too.
    t.text('person', 'mediumtext').nullable();
    // What it changes, and once it is taken in, what it changed.
    t.text('changes', 'mediumtext').nullable();
    t.text('problems', 'mediumtext').nullable();
    // As they stood, of rows that are not taken: they are handed back to be mended.
    t.text('cells', 'mediumtext').nullable();
    t.primary(['import_id', 'number']);
    t.index(['import_id', 'kind', 'number']);
    t.index(['known_by', 'import_id']);
  });
  await db.schema.alterTable('forgotten', (t) => t.index(['at']));
  await db.schema.dropTable('list_import_member');
  await db.schema.dropTable('list_import');
}
