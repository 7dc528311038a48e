import type { Knex } from 'knex';

/** A digest goes to lists, segments and people by hand, less others, as every message does; before it was one list or segment. */
export async function up(db: Knex): Promise<void> {
  await db.raw(
    `update digest set fields = json_remove(
       json_insert(fields, '$.whom', json_object(
         'lists', if(json_value(fields, '$.segmentId') is null, json_array(json_value(fields, '$.listId') + 0), json_array()),
         'segments', if(json_value(fields, '$.segmentId') is null, json_array(), json_array(json_value(fields, '$.segmentId') + 0)),
         'people', json_array(), 'exceptLists', json_array(), 'exceptSegments', json_array(), 'exceptPeople', json_array())),
       '$.listId', '$.segmentId')`,
  );
}
