import type { Knex } from 'knex';

/** What messages say becomes documents: those of cues and digests in a table of their own, each version kept; what is frozen with firings too. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `create table wording (
       id int unsigned not null auto_increment,
       version int unsigned not null,
       kind varchar(12) not null,
       document json not null,
       created_at datetime(3) not null,
       primary key (id, version))`,
  );
  await carryCues(db);
  await carryDigests(db);
  // Inside `if` the pieces would be taken for text: each shape has a statement of its own.
  for (const [field, value] of [
    ['body', "json_unquote(json_extract(content, '$.body'))"],
    ['intro', "json_unquote(json_extract(content, '$.intro'))"],
  ] as const)
    await db.raw(
      `update firing set content = json_remove(json_set(content, '$.document', json_object(
         'subject', json_unquote(json_extract(content, '$.subject')),
         'blocks', json_array(json_object('kind', 'plain', 'text', ${value})))), '$.subject', '$.${field}')
       where content is not null and json_exists(content, '$.${field}')`,
    );
}

async function carryCues(db: Knex): Promise<void> {
  await db.schema.alterTable('cue', wordingColumns);
  await db.raw(
    `insert into wording (id, version, kind, document, created_at)
     select id, 1, 'cue', json_object('subject', subject, 'blocks', json_array(json_object('kind', 'plain', 'text', body))), now(3) from cue`,
  );
  await db.raw('update cue set wording_id = id, wording_version = 1');
  await db.schema.alterTable('cue', (t) => {
    t.dropColumns('subject', 'body');
  });
}

async function carryDigests(db: Knex): Promise<void> {
  await db.schema.alterTable('digest', wordingColumns);
  const [rows = []]: { last: number | null }[][] = await db.raw('select max(id) as last from wording');
  const last = Number(rows[0]?.last ?? 0);
  await db.raw(
    `insert into wording (id, version, kind, document, created_at)
     select id + ?, 1, 'digest', json_object('subject', json_unquote(json_extract(fields, '$.subject')), 'blocks', json_array(
       json_object('kind', 'plain', 'text', json_unquote(json_extract(fields, '$.intro'))))), now(3) from digest`,
    [last],
  );
  await db.raw(
    `update digest set wording_id = id + ?, wording_version = 1, fields = json_remove(fields, '$.subject', '$.intro')`,
    [last],
  );
}

/** The newest version of what it says. */
const wordingColumns = (t: Knex.AlterTableBuilder): void => {
  t.integer('wording_id').unsigned().notNullable().defaultTo(0);
  t.integer('wording_version').unsigned().notNullable().defaultTo(0);
};
