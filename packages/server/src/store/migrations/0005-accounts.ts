import type { Knex } from 'knex';

/** Accounts that a team can live with. docs/data.md says of each table who writes it, and how old rows leave. */
export async function up(db: Knex): Promise<void> {
  await db.schema.alterTable('user', (t) => {
    // Sealed with the house's secret; null without a second factor.
    t.string('totp_secret', 200).nullable();
    // The last half minute whose code was used: none is good twice (RFC 6238 §5.2).
    t.bigInteger('totp_step').notNullable().defaultTo(0);
  });
  await db.schema.createTable('recovery_code', (t) => {
    t.integer('user_id').unsigned().notNullable().references('user.id').onDelete('cascade');
    t.specificType('digest', 'char(64) collate ascii_bin not null');
    t.primary(['user_id', 'digest']);
  });
  await db.schema.createTable('account_link', (t) => {
    t.specificType('digest', 'char(64) collate ascii_bin not null primary key');
    t.integer('user_id').unsigned().notNullable().references('user.id').onDelete('cascade');
    t.string('purpose', 12).notNullable();
    t.specificType('expires_at', 'datetime(3)').notNullable().index();
  });
  await db.schema.createTable('sign_in_failure', (t) => {
    t.bigIncrements('id');
    t.specificType('account', 'varchar(254) collate utf8mb4_bin not null');
    t.specificType('address', 'varchar(45) collate ascii_bin not null');
    t.specificType('at', 'datetime(3)').notNullable().index();
    t.index(['account', 'at']);
    t.index(['address', 'at']);
  });
  await sessions(db);
  await db.schema.alterTable('api_key', (t) => {
    t.integer('event_id').unsigned().nullable().references('event.id').onDelete('cascade');
    t.specificType('expires_at', 'datetime(3)').nullable();
  });
  // Keys made before had no end: a year from now.
  await db.raw('update api_key set expires_at = now(3) + interval 365 day');
  await db.schema.alterTable('audit', (t) => {
    t.string('kind', 20).notNullable().defaultTo('');
    t.integer('member_id').unsigned().nullable();
    t.string('address', 45).notNullable().defaultTo('');
    t.index(['kind', 'id']);
    t.index(['member_id', 'id']);
    t.index(['member_id', 'kind', 'id']);
    t.index(['at']);
  });
  await db.raw(`update audit set action = concat('sign-in', ': in') where action = 'signed in'`);
  await db.raw(`update audit set kind = left(substring_index(action, ':', 1), 20)`);
}

/** Everybody signs in once more: a session now knows its member, and its name is kept as a digest. */
async function sessions(db: Knex): Promise<void> {
  await db.schema.dropTable('session');
  await db.schema.createTable('session', (t) => {
    t.specificType('digest', 'char(64) collate ascii_bin not null primary key');
    t.text('data').notNullable();
    // Null until somebody is wholly in.
    t.integer('user_id').unsigned().nullable().references('user.id').onDelete('cascade');
    t.specificType('started_at', 'datetime(3)').notNullable();
    t.specificType('seen_at', 'datetime(3)').notNullable();
    t.specificType('expires_at', 'datetime(3)').notNullable().index();
    t.string('address', 45).notNullable();
    t.string('agent', 200).notNullable();
  });
}
