import type { Presence, ReplyState } from '@convite/core';
import type { Knex } from 'knex';
import { renameDates } from './rename-dates';
import type { HeldPlace } from './subscribers';

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

/** Joins what is known of one date (`o`) to invitees (`i`). */
export const joinDate = (query: Knex.QueryBuilder, occurrence: string): Knex.QueryBuilder =>
  query.leftJoin('invitee_occurrence as o', (on) =>
    on.on('o.event_id', 'i.event_id').andOn('o.subscriber_id', 'i.subscriber_id').andOnVal('o.occurrence', occurrence),
  );

/** Whose place, and where; the empty key is a one-off, or every date. */
export interface PlaceOf {
  readonly eventId: number;
  readonly subscriberId: number;
  readonly occurrence: string;
}

interface Places {
  readonly occurrence: string;
  readonly n: number;
}

/** Places at every date whose owners said something of their own about a date, by that date. */
async function besidesWhole(db: Knex, eventId: number, keys: readonly string[]): Promise<Map<string, number>> {
  const rows: Places[] = await db('registration as o')
    .join('registration as w', (on) => on.on('w.event_id', 'o.event_id').andOn('w.subscriber_id', 'o.subscriber_id'))
    .where({ 'o.event_id': eventId, 'w.occurrence': '', 'w.state': 'confirmed' })
    .whereIn('o.occurrence', keys.filter(Boolean))
    .groupBy('o.occurrence')
    .select('o.occurrence', db.raw("sum(if(w.presence = 'online', 0, w.places)) as n"));
  return new Map(rows.map(({ occurrence, n }) => [occurrence, Number(n)]));
}

/** Places, and the people who put themselves down for them on an event's page. */
export function registrationStore(db: Knex) {
  return {
    /** Keys of the dates that somebody comes to; null when they have a part in the whole, or none at all. */
    async datesOf(eventId: number, subscriberId: number): Promise<string[] | null> {
      const row: ByDateColumns | undefined = await db('invitee as i')
        .where({ event_id: eventId, subscriber_id: subscriberId })
        .first(...byDateColumns(db));
      return row ? byDatesOf(row) : null;
    },

    /** What somebody is down for, in the order of its dates. */
    async placesOf(eventId: number, subscriberId: number): Promise<HeldPlace[]> {
      return db('registration')
        .where({ event_id: eventId, subscriber_id: subscriberId, state: 'confirmed' })
        .orderBy('occurrence')
        .select('occurrence', 'places', 'presence');
    },

    /**
     * Places taken at each of these dates; the empty key is a one-off. A place at every date counts at each, unless its
     * owner said something else of that date; who comes online takes none.
     * @param keptAt of those who wait for a place, only they count for whom one is kept then; left out, all of them do
     */
    async taken(eventId: number, keys: readonly string[], keptAt?: Date): Promise<Map<string, number>> {
      const wanted = [...new Set(['', ...keys])];
      const of = (where: Record<string, string>): Knex.QueryBuilder =>
        db('registration')
          .where({ event_id: eventId, ...where })
          .whereIn('occurrence', wanted)
          .groupBy('occurrence');
      const confirmed: Places[] = await of({ state: 'confirmed' }).select(
        'occurrence',
        db.raw("sum(if(presence = 'online', 0, places)) as n"),
      );
      const waiting: Places[] = await (
        keptAt ? of({}).where('kept_until', '>', keptAt) : of({ state: 'waitlisted' })
      ).select('occurrence', db.raw('count(*) as n'));
      const own = new Map(confirmed.map(({ occurrence, n }) => [occurrence, Number(n)]));
      for (const { occurrence, n } of waiting) own.set(occurrence, (own.get(occurrence) ?? 0) + Number(n));
      const whole = own.get('') ?? 0;
      const besides = whole ? await besidesWhole(db, eventId, keys) : new Map<string, number>();
      return new Map(keys.map((key) => [key, key ? whole - (besides.get(key) ?? 0) + (own.get(key) ?? 0) : whole]));
    },

    /**
     * What an answer makes of its owner's place: a yes takes it, anything else gives it back.
     * @param presence how they come; null where they were not asked, and then as they said before
     */
    async follow(
      { eventId, subscriberId, occurrence }: PlaceOf,
      { reply, presence }: { readonly reply: ReplyState; readonly presence: Presence | null },
      now: Date,
    ): Promise<void> {
      const state = reply === 'accepted' ? 'confirmed' : 'cancelled';
      // Who gave a place back and takes one again registers anew. What is set first still sees the state before.
      await db.raw(
        `insert into registration (event_id, subscriber_id, occurrence, state, registered_at, changed_at, confirmed_at, presence)
         values (?, ?, ?, ?, ?, ?, ?, ?)
         on duplicate key update
           registered_at = if(state = 'cancelled' and values(state) = 'confirmed', values(registered_at), registered_at),
           presence = if(values(state) = 'cancelled', '', if(values(presence) = '', presence, values(presence))),
           kept_until = null,
           confirmed_at = if(state <> 'confirmed', values(confirmed_at), confirmed_at),
           state = values(state), changed_at = values(changed_at)`,
        [
          ...[eventId, subscriberId, occurrence, state, now, now],
          ...[state === 'confirmed' ? now : null, state === 'confirmed' ? (presence ?? '') : ''],
        ],
      );
    },

    /**
     * Gives everybody who said yes to an event their place, once it takes registrations, or takes them again; set-wise, however
     * many. What was answered meanwhile counts.
     */
    async adopt(eventId: number, now: Date): Promise<void> {
      await db.raw(
        `update registration r join invitee i on i.event_id = r.event_id and i.subscriber_id = r.subscriber_id
         set r.state = 'cancelled', r.changed_at = ?
         where r.event_id = ? and r.occurrence = '' and r.state = 'confirmed' and i.reply <> 'accepted'`,
        [now, eventId],
      );
      await db.raw(
        `insert into registration (event_id, subscriber_id, occurrence, state, registered_at, changed_at, confirmed_at)
         select event_id, subscriber_id, '', 'confirmed', coalesce(replied_at, invited_at), ?, coalesce(replied_at, invited_at)
         from invitee where event_id = ? and reply = 'accepted' and not is_by_date and invited_at is not null
         on duplicate key update state = values(state), changed_at = values(changed_at)`,
        [now, eventId],
      );
      await db.raw(
        `insert into registration (event_id, subscriber_id, occurrence, state, registered_at, changed_at, confirmed_at)
         select o.event_id, o.subscriber_id, o.occurrence, if(o.reply = 'accepted', 'confirmed', 'cancelled'),
           coalesce(o.replied_at, i.invited_at), ?, coalesce(o.replied_at, i.invited_at)
         from invitee_occurrence o join invitee i on i.event_id = o.event_id and i.subscriber_id = o.subscriber_id
         where o.event_id = ? and o.reply is not null and i.invited_at is not null
         on duplicate key update state = values(state), changed_at = values(changed_at)`,
        [now, eventId],
      );
    },

    /** Moves places along with the dates of a series; a place at a date that is no more is given back. */
    async moveDates(eventId: number, moveKey: (key: string) => string | null): Promise<void> {
      await renameDates(db, 'registration', eventId, moveKey);
    },

    /** Places go along to a series that goes its own way; of people who come by date always, for they have nothing else. */
    async copy(fromEventId: number, toEventId: number, fromKey: string, onlyByDate: boolean): Promise<void> {
      await db.raw(
        `insert into registration
           (event_id, subscriber_id, occurrence, state, places, tier, answers, registered_at, changed_at, confirmed_at, presence, kept_until,
            waits_since, knows_version)
         select ?, r.subscriber_id, r.occurrence, r.state, r.places, r.tier, r.answers, r.registered_at, r.changed_at, r.confirmed_at,
           r.presence, r.kept_until, r.waits_since, if(r.state = 'waitlisted', 0, null)
         from registration r left join invitee i on i.event_id = r.event_id and i.subscriber_id = r.subscriber_id
         where r.event_id = ? and (r.occurrence = '' or r.occurrence >= ?)
           and (i.is_by_date or not ? or (i.event_id is null and r.state = 'waitlisted'))`,
        [toEventId, fromEventId, fromKey, onlyByDate],
      );
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
    async letGo(eventId: number, key: string, version: number, now: Date): Promise<void> {
      await db('invitee_occurrence as o')
        .join('invitee as i', (on) => on.on('i.event_id', 'o.event_id').andOn('i.subscriber_id', 'o.subscriber_id'))
        .where({ 'o.event_id': eventId, 'o.occurrence': key, 'i.is_by_date': true })
        .whereIn('o.reply', ['accepted', 'tentative'])
        .update({ 'o.reply': 'declined', 'o.comment': 'The date was called off', 'o.gone_in': version });
      await db('registration')
        .where({ event_id: eventId, occurrence: key, state: 'confirmed' })
        .update({ state: 'cancelled', changed_at: now });
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
