import type { Knex } from 'knex';

/** What is known of single dates follows them when the dates of a series move; what has no new date is dropped. */
export async function renameDates(
  db: Knex,
  table: 'invitee_occurrence' | 'registration',
  eventId: number,
  moveKey: (key: string) => string | null,
): Promise<void> {
  const keys: string[] = await db(table).where({ event_id: eventId }).distinct('occurrence').pluck('occurrence');
  const moves = keys.filter((key) => key !== '' && moveKey(key) !== key);
  // By way of a name that no date has, or two dates that swap names would meet.
  for (const key of moves)
    await db(table)
      .where({ event_id: eventId, occurrence: key })
      .update({ occurrence: `~${key}` });
  for (const key of moves) {
    const moved = moveKey(key);
    const rows = db(table).where({ event_id: eventId, occurrence: `~${key}` });
    await (moved === null ? rows.delete() : rows.update({ occurrence: moved }));
  }
}
