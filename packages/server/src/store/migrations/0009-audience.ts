import type { Knex } from 'knex';
import * as z from 'zod';

/** Further fields of people are typed, and indexed by value; consent says its topic, its words and where it comes from. */
export async function up(db: Knex): Promise<void> {
  await db.schema.createTable('field', (t) => {
    t.increments('id');
    t.string('name', 60).notNullable().unique();
    t.string('type', 10).notNullable();
    t.json('choices').nullable();
  });
  await db.schema.createTable('subscriber_field', (t) => {
    t.bigInteger('subscriber_id').unsigned().notNullable().references('subscriber.id').onDelete('cascade');
    t.integer('field_id').unsigned().notNullable().references('field.id').onDelete('cascade');
    // As it was given; what is compared stands beside it, in the column of its type.
    t.string('typed', 1000).notNullable();
    // In small letters, and told apart by every accent, as core compares.
    t.specificType('word', 'varchar(200) collate utf8mb4_bin null');
    t.double('number').nullable();
    t.specificType('day', 'char(10) collate ascii_bin null');
    t.specificType('month_day', 'char(5) collate ascii_bin null');
    t.primary(['subscriber_id', 'field_id']);
    t.index(['field_id', 'word']);
    t.index(['field_id', 'number']);
    t.index(['field_id', 'day']);
    t.index(['field_id', 'month_day']);
  });
  await carryFields(db);
  await db.schema.alterTable('subscriber', (t) => t.dropColumn('fields'));
  await db.schema.alterTable('consent', (t) => {
    // Empty for everything of the channel.
    t.string('topic', 60).notNullable().defaultTo('');
    t.string('words', 1000).notNullable().defaultTo('');
    t.string('source', 200).notNullable().defaultTo('');
  });
}

const batch = 5000;
const further = z.record(z.string(), z.string());

/** What imported files had beside the known columns was kept as it stood: each becomes a field of text. */
async function carryFields(db: Knex): Promise<void> {
  const fields = new Map<string, number>();
  for (let after = 0; ;) {
    const rows: { id: number; fields: unknown }[] = await db('subscriber')
      .whereNotNull('fields')
      .where('id', '>', after)
      .orderBy('id')
      .limit(batch)
      .select('id', 'fields');
    const values: { subscriber_id: number; field_id: number; typed: string; word: string }[] = [];
    for (const { id, fields: stored } of rows) {
      const read = further.safeParse(typeof stored === 'string' ? JSON.parse(stored) : stored).data ?? {};
      const named = new Map(
        Object.entries(read).map(([name, typed]) => [name.slice(0, 60).toLowerCase(), { name, typed }]),
      );
      for (const [key, { name, typed }] of named) {
        if (!fields.has(key)) {
          const [made] = await db('field').insert({ name: name.slice(0, 60), type: 'text' });
          fields.set(key, Number(made));
        }
        values.push({
          subscriber_id: id,
          field_id: fields.get(key) ?? 0,
          typed: typed.slice(0, 1000),
          word: typed.slice(0, 200).toLowerCase(),
        });
      }
    }
    if (values.length) await db.batchInsert('subscriber_field', values, 1000);
    const last = rows.at(-1);
    if (!last) return;
    after = last.id;
  }
}
