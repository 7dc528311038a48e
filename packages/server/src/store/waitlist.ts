import type { Knex } from 'knex';
import type { Channel } from '@convite/core';
import type { PlaceOf } from './registrations';

/** A place that somebody waits for. */
export interface Waiting {
  readonly subscriberId: number;
  /** The date's key; empty for a one-off. */
  readonly occurrence: string;
  readonly sinceMs: number;
  /** Until when a place is kept for them that they were told of; null while there is none. */
  readonly keptUntilMs: number | null;
}
/** The same, with who it is. */
export interface WaitingPerson extends Waiting {
  readonly id: number;
  readonly name: string;
  readonly email: string;
  readonly mobile: string;
}

/** Some of those who wait, whom no notice reaches. */
export interface Untold {
  readonly occurrence: string;
  /** The version of the event that they know; 0 where they know of another event, which this was a part of. */
  readonly knowsVersion: number;
  readonly channel: Channel;
  readonly count: number;
}

/** One of them, and where they stand in the line. */
export interface UntoldPerson {
  readonly id: number;
  readonly subscriberId: number;
  readonly since: Date;
}

const canMailSql = '(s.email is not null and s.bounced_at is null)';
const channelSql = `if(${canMailSql}, 'email', 'text')`;
const knowsSql = 'coalesce(r.knows_version, 0)';

interface Row {
  id: number;
  subscriber_id: number;
  occurrence: string;
  waits_since: Date;
  kept_until: Date | null;
}
const columns = ['r.id', 'r.subscriber_id', 'r.occurrence', 'r.waits_since', 'r.kept_until'] as const;
const waitingOf = (row: Row): Waiting => ({
  subscriberId: row.subscriber_id,
  occurrence: row.occurrence,
  sinceMs: row.waits_since.getTime(),
  keptUntilMs: row.kept_until?.getTime() ?? null,
});

/** Who waits for a place, whoever has waited longest first; and when it is to be looked whether one is free. */
export function waitlistStore(db: Knex) {
  const waiting = (eventId: number) =>
    db('registration as r').where({ 'r.event_id': eventId, 'r.state': 'waitlisted' });
  const withoutEntry = (eventId: number) =>
    waiting(eventId)
      .join('subscriber as s', 's.id', 'r.subscriber_id')
      .leftJoin('invitee as i', (on) => on.on('i.event_id', 'r.event_id').andOn('i.subscriber_id', 'r.subscriber_id'))
      .where((or) => or.whereNull('i.holds_version').orWhere('i.is_by_date', true))
      .whereRaw(`(${canMailSql} or (s.mobile <> '' and s.text_consent))`);
  return {
    /**
     * Puts somebody at the end, or before all who came after an instant. To be called with the event locked.
     * @param version of the event, which they are told as they begin to wait
     * @param since whoever has waited longest comes first
     * @returns false where they wait already, or have a place
     */
    async add(
      { eventId, subscriberId, occurrence }: PlaceOf,
      version: number,
      now: Date,
      since = now,
    ): Promise<boolean> {
      const before: { state: string } | undefined = await db('registration')
        .where({ event_id: eventId, subscriber_id: subscriberId, occurrence })
        .first('state');
      if (before && before.state !== 'cancelled') return false;
      await db.raw(
        `insert into registration (event_id, subscriber_id, occurrence, state, registered_at, waits_since, changed_at, knows_version)
         values (?, ?, ?, 'waitlisted', ?, ?, ?, ?)
         on duplicate key update
           registered_at = values(registered_at), waits_since = values(waits_since), changed_at = values(changed_at), presence = '', state = values(state),
           knows_version = values(knows_version)`,
        [eventId, subscriberId, occurrence, now, since, now, version],
      );
      await this.wake(eventId, now);
      return true;
    },
    /** Takes somebody off. @returns whether they were on it */
    async leave({ eventId, subscriberId, occurrence }: PlaceOf, now: Date): Promise<boolean> {
      const count = await db('registration')
        .where({ event_id: eventId, subscriber_id: subscriberId, occurrence, state: 'waitlisted' })
        .update({ state: 'cancelled', changed_at: now, kept_until: null });
      await this.wake(eventId, now);
      return count > 0;
    },
    /** What one person waits for at an event, in the order of its dates. */
    async of(eventId: number, subscriberId: number): Promise<Waiting[]> {
      const rows: Row[] = await waiting(eventId)
        .where('r.subscriber_id', subscriberId)
        .orderBy('r.occurrence')
        .select(...columns);
      return rows.map(waitingOf);
    },
    /** Dates at which anybody waits. */
    datesOf: (eventId: number): Promise<string[]> =>
      waiting(eventId).distinct('r.occurrence').orderBy('r.occurrence').pluck('r.occurrence'),
    /** Who is to be told next that a place is free. */
    async next(eventId: number, occurrence: string, limit: number): Promise<Waiting[]> {
      // By the order of those who wait; the database would look through all who ever registered.
      const rows: Row[] = await waiting(eventId)
        .from(db.raw('registration as r force index (registration_waiting)'))
        .where('r.occurrence', occurrence)
        .whereNull('r.kept_until')
        .orderBy(['r.waits_since', 'r.id'])
        .limit(limit)
        .select(...columns);
      return rows.map(waitingOf);
    },
    async keep({ eventId, subscriberId, occurrence }: PlaceOf, until: Date): Promise<void> {
      await db('registration')
        .where({ event_id: eventId, subscriber_id: subscriberId, occurrence, state: 'waitlisted' })
        .update({ kept_until: until });
    },
    /** Whoever let their place go by waits no longer. */
    async endKept(eventId: number, now: Date): Promise<void> {
      await db('registration')
        .where({ event_id: eventId })
        .where('kept_until', '<=', now)
        .update({ state: 'cancelled', changed_at: now, kept_until: null });
    },
    /**
     * How many wait and hold no entry of the event, by date, by which version they know and by how they can be told; who cannot
     * be told is left out. An opt-out from marketing does not keep it back, as of a notice.
     */
    async untold(eventId: number): Promise<Untold[]> {
      const rows: { occurrence: string; knows: number; hears_by: Channel; count: number }[] = await withoutEntry(
        eventId,
      )
        .groupByRaw('r.occurrence, knows, hears_by')
        .orderByRaw('r.occurrence, knows, hears_by')
        .select('r.occurrence', db.raw(`${knowsSql} as knows, ${channelSql} as hears_by, count(*) as count`));
      return rows.map(({ occurrence, knows, hears_by, count }) => ({
        ...{ occurrence, count },
        knowsVersion: knows,
        channel: hears_by,
      }));
    },
    /** Some of those, whoever has waited longest first. @param after the last one seen; null for the first */
    async untoldOf(
      eventId: number,
      { occurrence, knowsVersion, channel }: Omit<Untold, 'count'>,
      after: UntoldPerson | null,
      limit: number,
    ): Promise<UntoldPerson[]> {
      const rows: { id: number; subscriber_id: number; waits_since: Date }[] = await withoutEntry(eventId)
        // From where the page before ended, and of those who wait alone.
        .from(db.raw('registration as r force index (registration_waiting)'))
        .where('r.occurrence', occurrence)
        .whereRaw(`${knowsSql} = ? and ${channelSql} = ?`, [knowsVersion, channel])
        .modify((query) => {
          if (after)
            void query
              .where('r.waits_since', '>=', after.since)
              .whereRaw('(r.waits_since > ? or r.id > ?)', [after.since, after.id]);
        })
        .orderBy(['r.waits_since', 'r.id'])
        .limit(limit)
        .select('r.id', 'r.subscriber_id', 'r.waits_since');
      return rows.map(({ id, subscriber_id, waits_since }) => ({
        id,
        subscriberId: subscriber_id,
        since: waits_since,
      }));
    },
    /** Whoever waits at an event knows of this version. */
    async noteTold(eventId: number, version: number): Promise<void> {
      await waiting(eventId).update({ 'r.knows_version': version });
    },
    /** Nobody waits at a date any more. */
    async endAt(eventId: number, occurrence: string, now: Date): Promise<void> {
      await db('registration')
        .where({ event_id: eventId, occurrence, state: 'waitlisted' })
        .update({ state: 'cancelled', changed_at: now, kept_until: null });
    },
    /** When the first of the kept places is free again; null where none is kept. */
    async nextEndMs(eventId: number): Promise<number | null> {
      const row: { kept_until: Date } | undefined = await db('registration')
        .where({ event_id: eventId })
        .whereNotNull('kept_until')
        .orderBy('kept_until')
        .first('kept_until');
      return row?.kept_until.getTime() ?? null;
    },
    /** Something at an event changed: it is to be looked whether a place is free, if anybody waits for one. */
    async wake(eventId: number, now: Date): Promise<void> {
      await db.raw(
        `insert into waitlist (event_id, due_at)
         select ?, ? from dual where exists (select 1 from registration where event_id = ? and state = 'waitlisted')
         on duplicate key update due_at = least(due_at, values(due_at))`,
        [eventId, now, eventId],
      );
    },
    /** The event that is to be looked at next; null for none now. */
    async dueEvent(now: Date): Promise<number | null> {
      const row: { event_id: number } | undefined = await db('waitlist')
        .where('due_at', '<=', now)
        .orderBy('due_at')
        .first('event_id');
      return row?.event_id ?? null;
    },
    /** Null where nobody is to be told anything any more. */
    async lookAgain(eventId: number, at: Date | null): Promise<void> {
      const row = db('waitlist').where({ event_id: eventId });
      await (at === null ? row.delete() : row.update({ due_at: at }));
    },
    /** Who waits, those of one date or of all of them, page by page. @param after as the page before said */
    async page(
      eventId: number,
      { occurrence, after, limit }: { readonly occurrence: string; readonly after: string; readonly limit: number },
    ): Promise<{ rows: WaitingPerson[]; next: string | null }> {
      const [date = '', atMs = '', id = ''] = after.split('|');
      const rows: (Row & { name: string; email: string | null; mobile: string })[] = await waiting(eventId)
        .join('subscriber as s', 's.id', 'r.subscriber_id')
        .modify((query) => {
          if (occurrence) void query.where('r.occurrence', occurrence);
          if (after)
            void query.whereRaw('(r.occurrence, r.waits_since, r.id) > (?, ?, ?)', [
              date,
              new Date(Number(atMs) || 0),
              Number(id) || 0,
            ]);
        })
        .orderBy(['r.occurrence', 'r.waits_since', 'r.id'])
        .limit(limit + 1)
        .select(...columns, 's.name', 's.email', 's.mobile');
      const last = rows.length > limit ? rows[limit - 1] : undefined;
      return {
        rows: rows.slice(0, limit).map((row) => ({
          ...waitingOf(row),
          id: row.id,
          name: row.name,
          email: row.email ?? '',
          mobile: row.mobile,
        })),
        next: last ? `${last.occurrence}|${last.waits_since.getTime()}|${last.id}` : null,
      };
    },
  };
}
