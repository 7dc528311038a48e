import type { Knex } from 'knex';
import { listOf, type ListRow, type StoredList } from './lists';

/** Lists that an event is going to invite, until it did. */
export function toInviteStore(db: Knex) {
  return {
    async of(eventId: number): Promise<StoredList[]> {
      const rows: ListRow[] = await db('to_invite as t')
        .join('list as l', 'l.id', 't.list_id')
        .where({ 't.event_id': eventId })
        .orderBy('l.name')
        .select('l.*');
      return rows.map(listOf);
    },
    /** The list made of what was pasted for this event; null while nothing was. */
    async own(eventId: number): Promise<number | null> {
      const row: { list_id: number } | undefined = await db('to_invite')
        .where({ event_id: eventId, is_own: true })
        .first('list_id');
      return row?.list_id ?? null;
    },
    /** Somebody who is going to be invited, to look through their eyes; null for nobody yet. */
    async anyId(eventId: number): Promise<number | null> {
      const row: { id: number } | undefined = await db('to_invite as t')
        .join('list_member as m', 'm.list_id', 't.list_id')
        .where({ 't.event_id': eventId })
        .first('m.subscriber_id as id');
      return row?.id ?? null;
    },
    async add(eventId: number, lists: readonly number[], isOwn = false): Promise<void> {
      if (lists.length)
        await db('to_invite')
          .insert(lists.map((id) => ({ event_id: eventId, list_id: id, is_own: isOwn })))
          .onConflict(['event_id', 'list_id'])
          .ignore();
    },
    /** Lists that do not exist are left out. To be called in a transaction. */
    async set(eventId: number, lists: readonly number[]): Promise<void> {
      await db('to_invite')
        .where({ event_id: eventId })
        .whereNotIn('list_id', [...lists])
        .delete();
      const known: number[] = await db('list')
        .whereIn('id', [...lists])
        .pluck('id');
      await this.add(eventId, known);
    },
    async remove(eventId: number, lists: readonly number[]): Promise<void> {
      await db('to_invite')
        .where({ event_id: eventId })
        .whereIn('list_id', [...lists])
        .delete();
    },
  };
}
