import type { Knex } from 'knex';

/** People are found by the beginning of any of the first four words of their name, or of its last. */
export async function up(db: Knex): Promise<void> {
  const nth = (n: number): string =>
    `if(name like '${'% '.repeat(n - 1)}%', substring_index(substring_index(name, ' ', ${n}), ' ', -1), null)`;
  await db.raw(
    `alter table subscriber
       add index subscriber_name_index (name),
       add column name_2 varchar(200) generated always as (${nth(2)}) virtual,
       add column name_3 varchar(200) generated always as (${nth(3)}) virtual,
       add column name_4 varchar(200) generated always as (${nth(4)}) virtual,
       add column name_last varchar(200) generated always as (if(name like '% % % % %', substring_index(name, ' ', -1), null)) virtual,
       add index subscriber_name_2_index (name_2),
       add index subscriber_name_3_index (name_3),
       add index subscriber_name_4_index (name_4),
       add index subscriber_name_last_index (name_last)`,
  );
}
