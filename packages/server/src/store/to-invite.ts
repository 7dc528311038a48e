import type { Knex } from 'knex';
import { listOf, type ListRow, type StoredList } from './lists';

export interface ToInvite {
  readonly lists: readonly number[];
  readonly segments: readonly number[];
}

/** Lists and segments that an event is going to invite, until it did. */
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
    /** The segments among them. */
    async segmentsOf(eventId: number): Promise<{ id: number; name: string }[]> {
      return db('segment_to_invite as t')
        .join('segment as s', 's.id', 't.segment_id')
        .where({ 't.event_id': eventId })
        .orderBy('s.name')
        .select('s.id', 's.name');
    },
    /** Events that are going to invite a segment. */
    async eventsWith(segmentId: number, most: number): Promise<number[]> {
      return db('segment_to_invite')
        .where({ segment_id: segmentId })
        .orderBy('event_id', 'desc')
        .limit(most)
        .pluck('event_id');
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
    /** Lists and segments that do not exist are left out. To be called in a transaction. */
    async set(eventId: number, { lists, segments }: ToInvite): Promise<void> {
      await db('to_invite')
        .where({ event_id: eventId })
        .whereNotIn('list_id', [...lists])
        .delete();
      const known: number[] = await db('list')
        .whereIn('id', [...lists])
        .pluck('id');
      await this.add(eventId, known);
      await db('segment_to_invite').where({ event_id: eventId }).delete();
      const found: number[] = await db('segment')
        .whereIn('id', [...segments])
        .pluck('id');
      if (found.length)
        await db('segment_to_invite').insert(found.map((id) => ({ event_id: eventId, segment_id: id })));
    },
    async remove(eventId: number, { lists, segments }: ToInvite): Promise<void> {
      await db('to_invite')
        .where({ event_id: eventId })
        .whereIn('list_id', [...lists])
        .delete();
      await db('segment_to_invite')
        .where({ event_id: eventId })
        .whereIn('segment_id', [...segments])
        .delete();
    },
  };
}
