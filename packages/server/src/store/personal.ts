import type { Knex } from 'knex';
import type { Own } from '@convite/core';

/** The columns of table `personal` (as `p`) beside a person. */
export const ownColumns = [
  'p.start as own_start',
  'p.end as own_end',
  'p.place as own_place',
  'p.notes as own_notes',
  'p.revision as own_revision',
] as const;
export interface OwnColumns {
  readonly own_start: string | null;
  readonly own_end: string | null;
  readonly own_place: string | null;
  readonly own_notes: string | null;
  readonly own_revision: number | null;
}
export const ownOf = (row: OwnColumns): Own | null =>
  row.own_start === null
    ? null
    : {
        start: row.own_start,
        end: row.own_end ?? '',
        place: row.own_place ?? '',
        notes: row.own_notes ?? '',
        revision: row.own_revision ?? 0,
      };

/** What one person has of their own at an event; the revision is the store's to keep. */
export type OwnOfPerson = Omit<Own, 'revision'> & { readonly subscriberId: number };

/** Times, places and notes that differ from person to person. */
export function personalStore(db: Knex) {
  return {
    async find(eventId: number, subscriberId: number): Promise<Own | null> {
      const row: OwnColumns | undefined = await db('personal as p')
        .where({ event_id: eventId, subscriber_id: subscriberId })
        .first(...ownColumns);
      return row ? ownOf(row) : null;
    },
    /** The times that people have, each once, for their cues. */
    async starts(eventId: number): Promise<{ start: string; end: string }[]> {
      return db('personal')
        .where({ event_id: eventId })
        .whereNot('start', '')
        .groupBy('start')
        .orderBy('start')
        .select('start', db.raw('max(`end`) as `end`'));
    },
    /** Writes people's own facts, new or changed. @returns the people for whom that changed anything */
    async save(eventId: number, people: readonly OwnOfPerson[]): Promise<number[]> {
      const known = new Map<number, OwnOfPerson>(
        (
          await db('personal')
            .where({ event_id: eventId })
            .whereIn(
              'subscriber_id',
              people.map(({ subscriberId }) => subscriberId),
            )
            .select({ subscriberId: 'subscriber_id' }, 'start', 'end', 'place', 'notes')
        ).map((row: OwnOfPerson) => [row.subscriberId, row]),
      );
      const changed = people.filter((own) => !isSame(own, known.get(own.subscriberId)));
      if (changed.length === 0) return [];
      await db.raw(
        `insert into personal (event_id, subscriber_id, start, \`end\`, place, notes)
         values ${changed.map(() => '(?, ?, ?, ?, ?, ?)').join(', ')}
         on duplicate key update
           revision = revision + (start <> values(start) or \`end\` <> values(\`end\`) or place <> values(place)),
           start = values(start), \`end\` = values(\`end\`), place = values(place), notes = values(notes)`,
        changed.flatMap(({ subscriberId, start, end, place, notes }) => [
          eventId,
          subscriberId,
          start,
          end,
          place,
          notes,
        ]),
      );
      return changed.map(({ subscriberId }) => subscriberId);
    },
    /** People whose own facts changed hold an old entry: their version goes back so that a notice reaches them. */
    async markBehind(eventId: number, subscriberIds: readonly number[]): Promise<void> {
      await db('invitee')
        .where({ event_id: eventId })
        .where('holds_version', '>', 0)
        .whereIn('subscriber_id', [...subscriberIds])
        .update({ holds_version: db.raw('holds_version - 1') });
    },
  };
}

const isSame = (own: OwnOfPerson, known: OwnOfPerson | undefined): boolean =>
  known !== undefined &&
  own.start === known.start &&
  own.end === known.end &&
  own.place === known.place &&
  own.notes === known.notes;
