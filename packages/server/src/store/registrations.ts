import type { Knex } from 'knex';

/**
 * What `invitee` (as `i`) says of single dates, beside a person: null for who has a part in the whole. Asked for only
 * where it is said, which is rare.
 */
export const byDateColumns = (db: Knex) =>
  [
    'i.is_by_date',
    db.raw(
      `if(i.is_by_date, (select group_concat(d.occurrence order by d.occurrence) from invitee_occurrence d
         where d.event_id = i.event_id and d.subscriber_id = i.subscriber_id and d.reply in ('accepted', 'tentative')), null) as by_dates`,
    ),
  ] as const;
export interface ByDateColumns {
  readonly is_by_date: number | null;
  readonly by_dates: string | null;
}
export const byDatesOf = (row: ByDateColumns): string[] | null =>
  row.is_by_date ? (row.by_dates ?? '').split(',').filter(Boolean) : null;

/** Everybody who has a part in the event at all: of people by date, those who come to some. */
export const hasSomePartSql = `(not i.is_by_date or exists (select 1 from invitee_occurrence c
  where c.event_id = i.event_id and c.subscriber_id = i.subscriber_id and c.reply in ('accepted', 'tentative')))`;

/** An answer for a date (`o`), else that for the whole (`i`), which says nothing of people who come by date. */
export const replyOfDate = 'coalesce(o.reply, if(i.is_by_date, null, i.reply))';

/** People who put themselves down on an event's page. */
export function registrationStore(db: Knex) {
  return {
    /** Keys of the dates that somebody comes to; null when they have a part in the whole, or none at all. */
    async datesOf(eventId: number, subscriberId: number): Promise<string[] | null> {
      const row: ByDateColumns | undefined = await db('invitee as i')
        .where({ event_id: eventId, subscriber_id: subscriberId })
        .first(...byDateColumns(db));
      return row ? byDatesOf(row) : null;
    },

    /**
     * How many said yes to each of these dates, however they did; the empty key is a one-off. Counts the answers for the
     * whole once, and for each date what its own answers change about that.
     */
    async taken(eventId: number, keys: readonly string[]): Promise<Map<string, number>> {
      const [whole] = await db('invitee')
        .where({ event_id: eventId, reply: 'accepted', is_by_date: false })
        .whereNotNull('invited_at')
        .count({ n: '*' });
      const rows: { occurrence: string; n: number }[] = await db('invitee_occurrence as o')
        .join('invitee as i', (on) => on.on('i.event_id', 'o.event_id').andOn('i.subscriber_id', 'o.subscriber_id'))
        .where('o.event_id', eventId)
        .whereIn('o.occurrence', keys.filter(Boolean))
        .whereNotNull('o.reply')
        .whereNotNull('i.invited_at')
        .groupBy('o.occurrence')
        .select(
          'o.occurrence',
          db.raw("sum(o.reply = 'accepted') - sum(not i.is_by_date and i.reply = 'accepted') as n"),
        );
      const own = new Map(rows.map(({ occurrence, n }) => [occurrence, Number(n)]));
      return new Map(keys.map((key) => [key, Number(whole?.['n'] ?? 0) + (own.get(key) ?? 0)]));
    },

    /**
     * Makes somebody a guest. Who holds the entry of the whole keeps it; anybody else has a part, of a series, in single
     * dates only.
     */
    async ensureGuest(
      guest: { readonly eventId: number; readonly subscriberId: number; readonly version: number; isByDate: boolean },
      now: Date,
    ): Promise<void> {
      const { eventId, subscriberId, version, isByDate } = guest;
      await db.raw(
        `insert into invitee (event_id, subscriber_id, channel, reply, invited_at, holds_version, is_by_date)
         values (?, ?, 'email', 'needs-action', ?, ?, ?)
         on duplicate key update
           is_by_date = if(holds_version is null, values(is_by_date), is_by_date),
           invited_at = coalesce(invited_at, values(invited_at)),
           holds_version = coalesce(holds_version, values(holds_version))`,
        [eventId, subscriberId, now, version, isByDate],
      );
    },

    /** Keys of the dates that people by date come to, from one on. */
    async held(eventId: number, fromKey: string): Promise<string[]> {
      return db('invitee as i')
        .join('invitee_occurrence as o', (on) =>
          on.on('o.event_id', 'i.event_id').andOn('o.subscriber_id', 'i.subscriber_id'),
        )
        .where({ 'i.event_id': eventId, 'i.is_by_date': true })
        .whereIn('o.reply', ['accepted', 'tentative'])
        .where('o.occurrence', '>=', fromKey)
        .orderBy('o.occurrence')
        .distinct('o.occurrence')
        .pluck('o.occurrence');
    },

    /** Nobody comes by date to a date that is off; the row says who is to be told, from which version on. */
    async letGo(eventId: number, key: string, version: number): Promise<void> {
      await db('invitee_occurrence as o')
        .join('invitee as i', (on) => on.on('i.event_id', 'o.event_id').andOn('i.subscriber_id', 'o.subscriber_id'))
        .where({ 'o.event_id': eventId, 'o.occurrence': key, 'i.is_by_date': true })
        .whereIn('o.reply', ['accepted', 'tentative'])
        .update({ 'o.reply': 'declined', 'o.comment': 'The date was called off', 'o.gone_in': version });
    },

    /**
     * After a change: people by date who come to none of the dates that it is about hold the newest version, as they
     * held the one before.
     */
    async carryUnconcerned(eventId: number, before: number, after: number, keys: readonly string[]): Promise<void> {
      await db('invitee as i')
        .where({ 'i.event_id': eventId, 'i.is_by_date': true, 'i.holds_version': before })
        .whereNotExists(
          db('invitee_occurrence as o')
            .whereRaw('o.event_id = i.event_id and o.subscriber_id = i.subscriber_id')
            .whereIn('o.reply', ['accepted', 'tentative'])
            .whereIn('o.occurrence', [...keys]),
        )
        .update({ 'i.holds_version': after });
    },
  };
}
