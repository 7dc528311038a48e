import type { Knex } from 'knex';
import { cut, fieldTypes, guessFieldType, readFieldValue, type FieldType } from '@convite/core';

export interface Field {
  readonly id: number;
  readonly name: string;
  readonly type: FieldType;
}

/** Longest name, and longest value, that is kept. */
const longest = { name: 60, value: 1000, word: 200 };
/** So many fields are offered for choosing one. */
const offered = 200;

/** Further fields of people, each with its type, and their values by index. */
export function fieldStore(db: Knex) {
  return {
    async all(): Promise<Field[]> {
      const rows: { id: number; name: string; type: string }[] = await db('field').orderBy('name').limit(offered);
      return rows.map(({ id, name, type }) => ({ id, name, type: typeOf(type) }));
    },
    async find(id: number): Promise<Field | null> {
      const row: { id: number; name: string; type: string } | undefined = await db('field').where({ id }).first();
      return row ? { id: row.id, name: row.name, type: typeOf(row.type) } : null;
    },
    /** @throws a duplicate-key error (see isDuplicate) when a field of that name exists */
    async create(name: string, type: FieldType): Promise<number> {
      const [id] = await db('field').insert({ name: cut(name, longest.name), type });
      return Number(id);
    },
    /** The field of that name, made with this type where there is none. */
    async make(name: string, type: FieldType): Promise<Field> {
      await db('field')
        .insert({ name: cut(name, longest.name), type })
        .onConflict('name')
        .ignore();
      const row: { id: number; name: string; type: string } | undefined = await db('field')
        .where({ name: cut(name, longest.name) })
        .first();
      return { id: row?.id ?? 0, name: row?.name ?? name, type: typeOf(row?.type ?? type) };
    },
    /**
     * The fields of these names, by name in small letters; those that are not there yet are made, of the type that their values
     * seem to be.
     */
    async ensure(columns: ReadonlyMap<string, readonly string[]>): Promise<Map<string, Field>> {
      const named = new Map(
        [...columns].map(([name, values]) => [cut(name, longest.name).trim(), guessFieldType(values)]),
      );
      named.delete('');
      const known = [...named.keys()];
      if (known.length === 0) return new Map();
      await db('field')
        .insert([...named].map(([name, type]) => ({ name, type })))
        .onConflict('name')
        .ignore();
      const rows: { id: number; name: string; type: string }[] = await db('field').whereIn('name', known);
      return new Map(rows.map(({ id, name, type }) => [name.toLowerCase(), { id, name, type: typeOf(type) }]));
    },
    /**
     * Takes down what people have in a field; what is there is replaced. A value that is none of the field's type is kept as it
     * was typed, and no comparison finds it.
     */
    async write(
      values: readonly { readonly subscriberId: number; readonly field: Field; readonly typed: string }[],
    ): Promise<void> {
      if (values.length === 0) return;
      await db('subscriber_field')
        .insert(
          values.map(({ subscriberId, field, typed }) => ({
            subscriber_id: subscriberId,
            field_id: field.id,
            typed: cut(typed, longest.value),
            ...comparedAs(field.type, typed),
          })),
        )
        .onConflict(['subscriber_id', 'field_id'])
        .merge();
    },
    /** Every field, with what somebody has in it; empty for nothing. */
    async ofPerson(subscriberId: number): Promise<(Field & { typed: string })[]> {
      const rows: { id: number; name: string; type: string; typed: string | null }[] = await db('field as f')
        .leftJoin('subscriber_field as v', (on) =>
          on.on('v.field_id', 'f.id').andOnVal('v.subscriber_id', subscriberId),
        )
        .orderBy('f.name')
        .limit(offered)
        .select('f.id', 'f.name', 'f.type', 'v.typed');
      return rows.map(({ id, name, type, typed }) => ({ id, name, type: typeOf(type), typed: typed ?? '' }));
    },
    /** @throws a duplicate-key error (see isDuplicate) when another has that name */
    async rename(id: number, name: string): Promise<void> {
      await db('field').where({ id }).update({ name });
    },
    /** Takes some of what stands in it out. @returns how much */
    async takeOut(id: number, most: number): Promise<number> {
      return db('subscriber_field').where({ field_id: id }).limit(most).delete();
    },
    async remove(id: number): Promise<void> {
      await db('field').where({ id }).delete();
    },
    /** Nobody of them has anything in it any more. */
    async empty(fieldId: number, ids: readonly number[]): Promise<void> {
      await db('subscriber_field')
        .where({ field_id: fieldId })
        .whereIn('subscriber_id', [...ids])
        .delete();
    },
    /** What the people of some lists have in their fields, by the fields' names; in pages by key. */
    async ofLists(
      lists: readonly number[],
      after: number,
      limit: number,
    ): Promise<{ id: number; email: string; fields: Record<string, string> }[]> {
      const people: { id: number; email: string | null }[] = await db('list_member as m')
        .join('subscriber as s', 's.id', 'm.subscriber_id')
        .whereIn('m.list_id', [...lists])
        .where('m.subscriber_id', '>', after)
        .whereExists(db('subscriber_field as v').whereRaw('v.subscriber_id = m.subscriber_id').select(db.raw('1')))
        .orderBy('m.subscriber_id')
        .groupBy('s.id', 's.email', 'm.subscriber_id')
        .limit(limit)
        .select('s.id', 's.email');
      const rows: { subscriber_id: number; name: string; typed: string }[] = await db('subscriber_field as v')
        .join('field as f', 'f.id', 'v.field_id')
        .whereIn(
          'v.subscriber_id',
          people.map(({ id }) => id),
        )
        .select('v.subscriber_id', 'f.name', 'v.typed');
      const values = new Map<number, Record<string, string>>();
      for (const row of rows)
        values.set(row.subscriber_id, { ...values.get(row.subscriber_id), [row.name]: row.typed });
      return people.map(({ id, email }) => ({ id, email: email ?? '', fields: values.get(id) ?? {} }));
    },
  };
}

const typeOf = (stored: string): FieldType => fieldTypes.find((type) => type === stored) ?? 'text';

/** The columns that a value is compared in. */
function comparedAs(type: FieldType, typed: string) {
  const value = readFieldValue(type, typed);
  const columns = { word: null, number: null, day: null, month_day: null };
  if (value === null) return columns;
  if (typeof value === 'number') return { ...columns, number: value };
  if (type === 'date' || type === 'date-time')
    return { ...columns, day: value, month_day: value.slice('2026-'.length) };
  return { ...columns, word: cut(value, longest.word).toLowerCase() };
}
