import type { Knex } from 'knex';
import type { Guest, GuestFilter, GuestQuery, ReplyCounts } from '@convite/contract';
import type { Channel, ReplyState } from '@convite/core';
import { likePrefix } from './database';
import { ownColumns, type OwnColumns } from './personal';
import { hasSomePartSql, joinDate } from './registrations';

interface GuestRow extends OwnColumns {
  id: number;
  name: string;
  email: string | null;
  mobile: string;
  channel: Channel;
  reply: ReplyState;
  replied_at: Date | null;
  comment: string;
  delegated_to: string;
  is_by_date: number;
  attended: number | null;
  invited_at: Date | null;
  holds_version: number | null;
}

/** Everybody but who comes by date, and not to this one. */
const hasPartSql = '(not i.is_by_date or o.reply is not null)';

export const noReplies = (): ReplyCounts => ({ 'needs-action': 0, accepted: 0, tentative: 0, declined: 0 });

/** A page of guests. */
export interface GuestsAsked extends Omit<GuestQuery, 'filter'> {
  readonly filter?: GuestFilter | undefined;
  /** The event's newest. */
  readonly version: number;
}

/** The guests of an event as screens show them, and how they answered. */
export function guestStore(db: Knex) {
  return {
    /** Guests by key, with what they answered for a date of a series; those whose invitation is under way are among them. */
    async page(
      eventId: number,
      { occurrence, search, filter = 'all', version, after, limit }: GuestsAsked,
    ): Promise<{ rows: Guest[]; next: number | null }> {
      const rows: GuestRow[] = await db('invitee as i')
        .join('subscriber as s', 's.id', 'i.subscriber_id')
        .modify(joinDate, occurrence)
        .leftJoin('personal as p', (on) =>
          on.on('p.event_id', 'i.event_id').andOn('p.subscriber_id', 'i.subscriber_id'),
        )
        .where('i.event_id', eventId)
        .where('i.subscriber_id', '>', after)
        .whereRaw(occurrence ? hasPartSql : 'true')
        .modify((query) => {
          if (filter === 'older-version') void query.where('i.holds_version', '<', version);
          else if (filter === 'by-date') void query.where('i.is_by_date', true);
          // Of the whole by its index; of a date one by one, until the page is full.
          else if (filter !== 'all')
            void (occurrence
              ? query.whereRaw('coalesce(o.reply, i.reply) = ?', filter)
              : query.where({ 'i.reply': filter, 'i.is_by_date': false }));
        })
        .modify((query) => {
          const start = likePrefix(search.toLowerCase());
          if (search)
            void query.where((or) =>
              or
                .where('s.email', 'like', start)
                .orWhere('s.name', 'like', start)
                .orWhere('s.name', 'like', `% ${start}`),
            );
        })
        .orderBy('i.subscriber_id')
        .limit(limit + 1)
        .select(
          's.id',
          's.name',
          's.email',
          's.mobile',
          'i.channel',
          db.raw('coalesce(o.reply, i.reply) as reply'),
          db.raw('coalesce(o.replied_at, i.replied_at) as replied_at'),
          db.raw('if(o.reply is null, i.comment, o.comment) as comment'),
          'o.attended',
          'i.delegated_to',
          'i.is_by_date',
          'i.invited_at',
          'i.holds_version',
          ...ownColumns,
        );
      const page = rows.slice(0, limit);
      return { rows: page.map(guestOf), next: rows.length > limit ? (page.at(-1)?.id ?? null) : null };
    },

    async counts(eventId: number): Promise<ReplyCounts> {
      const rows: { reply: ReplyState; n: number }[] = await db('invitee')
        .where({ event_id: eventId, is_by_date: false })
        .whereNotNull('invited_at')
        .groupBy('reply')
        .select('reply', db.raw('count(*) as n'));
      return { ...noReplies(), ...Object.fromEntries(rows.map((row) => [row.reply, Number(row.n)])) };
    },

    /**
     * Answers for those dates of a series that anybody answered for: those given for the date, else those for the whole.
     * @param whole the answers for the whole, which any other date has
     */
    async countsByDate(eventId: number, whole: ReplyCounts): Promise<Record<string, ReplyCounts>> {
      const rows: { occurrence: string; reply: ReplyState; before: ReplyState | null; n: number }[] = await db(
        'invitee_occurrence as o',
      )
        .join('invitee as i', (on) => on.on('i.event_id', 'o.event_id').andOn('i.subscriber_id', 'o.subscriber_id'))
        .where('o.event_id', eventId)
        .whereNotNull('o.reply')
        .whereNotNull('i.invited_at')
        .groupByRaw('o.occurrence, o.reply, if(i.is_by_date, null, i.reply)')
        .orderBy('o.occurrence')
        .select(
          'o.occurrence',
          'o.reply',
          db.raw('if(i.is_by_date, null, i.reply) as `before`'),
          db.raw('count(*) as n'),
        );
      const counts: Record<string, ReplyCounts> = {};
      for (const { occurrence, reply, before, n } of rows) {
        const ofDate = (counts[occurrence] ??= { ...whole });
        ofDate[reply] += Number(n);
        if (before) ofDate[before] -= Number(n);
      }
      return counts;
    },

    async holders(eventId: number): Promise<{ version: number | null; count: number }[]> {
      const rows: { holds_version: number | null; n: number }[] = await db('invitee as i')
        .where({ event_id: eventId })
        .whereNotNull('invited_at')
        .whereRaw(hasSomePartSql)
        .groupBy('holds_version')
        .orderBy('holds_version', 'desc')
        .select('holds_version', db.raw('count(*) as n'));
      return rows.map((row) => ({ version: row.holds_version, count: Number(row.n) }));
    },

    /** Everybody who is to be seen by everybody, up to a number. */
    async shown(eventId: number, most: number): Promise<{ name: string; email: string; state: string }[]> {
      const rows: { name: string; email: string; reply: string }[] = await db('invitee as i')
        .join('subscriber as s', 's.id', 'i.subscriber_id')
        .where('i.event_id', eventId)
        .whereNotNull('s.email')
        .orderBy('s.id')
        .limit(most)
        .select('s.name', 's.email', 'i.reply');
      return rows.map(({ name, email, reply }) => ({ name, email, state: reply }));
    },
  };
}

const guestOf = (row: GuestRow): Guest => ({
  person: { id: row.id, name: row.name, email: row.email ?? '', mobile: row.mobile },
  channel: row.channel,
  reply: row.reply,
  repliedAt: row.replied_at?.toISOString() ?? null,
  comment: row.comment,
  delegatedTo: row.delegated_to,
  isByDate: Boolean(row.is_by_date),
  attended: row.attended === null ? null : Boolean(row.attended),
  own:
    row.own_start === null
      ? null
      : { start: row.own_start, end: row.own_end ?? '', place: row.own_place ?? '', notes: row.own_notes ?? '' },
  invitedAt: row.invited_at?.toISOString() ?? null,
  holdsVersion: row.holds_version,
});
