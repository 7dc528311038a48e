import { likePrefix, sql, type Sql } from './database';

/**
 * Where a typed word is looked for: an address, two numbers, the first four words of a name and its last. Each is a column with an
 * index of its own; `name_2` and on are generated (migration 0008).
 */
const places: readonly { readonly column: string; readonly index: string }[] = [
  { column: 'email', index: 'subscriber_email_unique' },
  { column: 'mobile', index: 'subscriber_mobile_index' },
  { column: 'phone', index: 'subscriber_phone_index' },
  { column: 'name', index: 'subscriber_name_index' },
  { column: 'name_2', index: 'subscriber_name_2_index' },
  { column: 'name_3', index: 'subscriber_name_3_index' },
  { column: 'name_4', index: 'subscriber_name_4_index' },
  { column: 'name_last', index: 'subscriber_name_last_index' },
];

/** Fewer letters than this mean a whole word: half of all people have a word that begins with one letter or another. */
const leastPrefix = 3;

/**
 * People of whom every word typed begins a word of the name, the address or the number, as a subselect of `id`, in its order.
 * One word is looked for by its indexes, the longest; the others are asked of those whom it finds.
 * @param list only who is on it
 * @param after ids above this
 */
export function searchSql(typed: string, list: number | undefined, after: number, limit: number): Sql {
  const words = [...new Set(typed.toLowerCase().split(/[\s,;]+/))].filter(Boolean);
  const [longest = '', ...others] = words.sort((a, b) => b.length - a.length);
  const also = others.map((word) =>
    sql(
      `(concat(' ', s.name) like ? or s.email like ? or s.mobile like ? or s.phone like ?)`,
      `% ${likePrefix(word)}`,
      likePrefix(word),
      likePrefix(word),
      likePrefix(word),
    ),
  );
  const parts = places.map(({ column, index }) => {
    const found =
      longest.length < leastPrefix ? sql(`s.${column} = ?`, longest) : sql(`s.${column} like ?`, likePrefix(longest));
    const where = [found, sql('s.id > ?', after), ...also, ...(list === undefined ? [] : [onList(list)])];
    return sql(
      `(select s.id from subscriber s use index (${index}) where ${where.map(({ text }) => text).join(' and ')} order by s.id limit ?)`,
      ...where.flatMap(({ bindings }) => bindings),
      limit,
    );
  });
  return sql(
    `select id from (${parts.map(({ text }) => text).join(' union ')}) as found order by id limit ?`,
    ...parts.flatMap(({ bindings }) => bindings),
    limit,
  );
}

const onList = (list: number): Sql =>
  sql('exists (select 1 from list_member m where m.list_id = ? and m.subscriber_id = s.id)', list);
