import type { Knex } from 'knex';
import type { TimelineRow } from '@convite/contract';
import { cut } from '@convite/core';

/** Something that was between the house and one person, beside messages. */
export interface Doing {
  readonly kind: Exclude<TimelineRow['kind'], 'message'>;
  readonly at: Date;
  readonly eventId: number | null;
  readonly text: string;
  readonly channel: 'email' | 'text' | null;
}
export interface Note {
  readonly id: number;
  readonly text: string;
  readonly by: string;
  readonly at: Date;
}

/** Of each kind the newest so many are told. */
const most = 200;
const mostNotes = 100;

/** What one person did, what they said, and what members note about them. */
export function personCourseStore(db: Knex) {
  const of = (table: string, id: number, at: string) =>
    db(table).where({ subscriber_id: id }).whereNotNull(at).orderBy(at, 'desc').limit(most);
  return {
    async doings(id: number): Promise<Doing[]> {
      const invited: { event_id: number; invited_at: Date; channel: 'email' | 'text' }[] = await of(
        'invitee',
        id,
        'invited_at',
      );
      const answered: { event_id: number; reply: string; replied_at: Date }[] = await of('invitee', id, 'replied_at');
      const byDate: { event_id: number; reply: string | null; replied_at: Date }[] = await of(
        'invitee_occurrence',
        id,
        'replied_at',
      );
      const places: { event_id: number; state: string; changed_at: Date }[] = await of(
        'registration',
        id,
        'changed_at',
      );
      const said: { channel: 'email' | 'text'; is_given: number; how: string; at: Date }[] = await of(
        'consent',
        id,
        'at',
      );
      const opened: { page: string; event_id: number; at: Date }[] = await of('page_opened', id, 'at');
      const about = { channel: null, text: '' };
      return [
        ...invited.map((row): Doing => ({
          ...about,
          kind: 'invited',
          at: row.invited_at,
          eventId: row.event_id,
          channel: row.channel,
        })),
        ...[...answered, ...byDate].flatMap((row): Doing[] =>
          row.reply ? [{ ...about, kind: 'answered', at: row.replied_at, eventId: row.event_id, text: row.reply }] : [],
        ),
        ...places.map((row): Doing => ({
          ...about,
          kind: 'registered',
          at: row.changed_at,
          eventId: row.event_id,
          text: row.state,
        })),
        ...opened.map((row): Doing => ({
          ...about,
          kind: 'opened',
          at: row.at,
          eventId: row.event_id || null,
          text: row.page,
        })),
        ...said.map((row): Doing => ({
          kind: row.is_given ? 'agreed' : 'said-no',
          at: row.at,
          eventId: null,
          text: row.how,
          channel: row.channel,
        })),
      ];
    },
    /** Who was there, and who was not, by the keys of the dates. */
    async attendances(id: number): Promise<{ eventId: number; occurrence: string; hasCome: boolean }[]> {
      const rows: { event_id: number; occurrence: string; attended: number }[] = await db('invitee_occurrence')
        .where({ subscriber_id: id })
        .whereNotNull('attended')
        .orderBy('occurrence', 'desc')
        .limit(most);
      return rows.map((row) => ({
        eventId: row.event_id,
        occurrence: row.occurrence,
        hasCome: Boolean(row.attended),
      }));
    },
    async notes(id: number): Promise<Note[]> {
      const rows: { id: number; text: string; by_name: string; at: Date }[] = await db('person_note')
        .where({ subscriber_id: id })
        .orderBy('id', 'desc')
        .limit(mostNotes);
      return rows.map((row) => ({ id: row.id, text: row.text, by: row.by_name, at: row.at }));
    },
    async addNote(id: number, text: string, by: string, at: Date): Promise<void> {
      await db('person_note').insert({ subscriber_id: id, text, by_name: cut(by, 120), at });
    },
    async removeNote(id: number, noteId: number): Promise<boolean> {
      return (await db('person_note').where({ id: noteId, subscriber_id: id }).delete()) > 0;
    },
    /** Messages that went to somebody since then. */
    async sentSince(id: number, since: Date): Promise<number> {
      const counts = await Promise.all(
        ['delivery', 'delivery_past'].map(async (table) => {
          const [row] = await db(table)
            .where({ subscriber_id: id })
            .where('sent_at', '>=', since)
            .whereNot('channel', 'act')
            .whereIn('state', ['sent', 'delivered'])
            .count({ n: '*' });
          return Number(row?.['n'] ?? 0);
        }),
      );
      return counts.reduce((sum, count) => sum + count, 0);
    },
  };
}
