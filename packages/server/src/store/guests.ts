import type { Knex } from 'knex';
import type { Guest, GuestFilter, GuestQuery, ReplyCounts } from '@convite/contract';
import type { Channel, Presence, ReplyState } from '@convite/core';
import { likePrefix } from './database';
import { ownColumns, type OwnColumns } from './personal';
import { hasSomePartSql, joinDate } from './registrations';

interface GuestRow extends OwnColumns {
  sorted_at: Date | null;
  sorted_reply: string;
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
  presence: Presence | '' | null;
  place_state: string | null;
  invited_at: Date | null;
  holds_version: number | null;
}

/** Everybody but who comes by date, and not to this one. */
const hasPartSql = '(not i.is_by_date or o.reply is not null)';

export const noReplies = (): ReplyCounts => ({ 'needs-action': 0, accepted: 0, tentative: 0, declined: 0 });

/** A page of guests. */
export interface GuestsAsked extends Omit<GuestQuery, 'filter' | 'sort' | 'after'> {
  readonly filter?: GuestFilter | undefined;
  readonly sort?: GuestQuery['sort'] | undefined;
  readonly after?: string | undefined;
  /** The event's newest. */
  readonly version: number;
}

/** The guests of an event as screens show them, and how they answered. */
export function guestStore(db: Knex) {
  const matching = (
    eventId: number,
    { occurrence, search, filter = 'all', version }: Pick<GuestsAsked, 'occurrence' | 'search' | 'filter' | 'version'>,
  ): Knex.QueryBuilder =>
    db('invitee as i')
      .join('subscriber as s', 's.id', 'i.subscriber_id')
      .modify(joinDate, occurrence)
      .where('i.event_id', eventId)
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
            or.where('s.email', 'like', start).orWhere('s.name', 'like', start).orWhere('s.name', 'like', `% ${start}`),
          );
      });
  return {
    /** Guests by key, with what they answered for a date of a series; those whose invitation is under way are among them. */
    async page(eventId: number, asked: GuestsAsked): Promise<{ rows: Guest[]; next: string | null }> {
      const { sort = 'joined', after = '', limit } = asked;
      const rows: GuestRow[] = await matching(eventId, asked)
        .modify(inOrder, sort, after)
        .leftJoin('personal as p', (on) =>
          on.on('p.event_id', 'i.event_id').andOn('p.subscriber_id', 'i.subscriber_id'),
        )
        .leftJoin('registration as r', (on) =>
          on
            .on('r.event_id', 'i.event_id')
            .andOn('r.subscriber_id', 'i.subscriber_id')
            .andOnVal('r.occurrence', asked.occurrence)
            .andOnIn('r.state', ['confirmed', 'waitlisted']),
        )
        .limit(limit + 1)
        .select(
          's.id',
          'r.presence',
          'r.state as place_state',
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
          'i.replied_at as sorted_at',
          'i.reply as sorted_reply',
          ...ownColumns,
        );
      const page = rows.slice(0, limit);
      const last = page.at(-1);
      return { rows: page.map(guestOf), next: rows.length > limit && last ? cursorOf(sort, last) : null };
    },

    /** Numbers of those who match, in the order they joined. */
    async ids(eventId: number, asked: Omit<GuestsAsked, 'after' | 'limit' | 'sort'>, limit: number): Promise<number[]> {
      return matching(eventId, asked).orderBy('i.subscriber_id').limit(limit).pluck('i.subscriber_id');
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

const orders: Readonly<Record<GuestQuery['sort'], { readonly column: string; readonly way: 'asc' | 'desc' }>> = {
  joined: { column: '', way: 'asc' },
  answered: { column: 'i.replied_at', way: 'desc' },
  answer: { column: 'i.reply', way: 'asc' },
  holds: { column: 'i.holds_version', way: 'desc' },
};

/**
 * In an order that an index holds, from behind the last row of the page before: its value and its person. Who has no value
 * stands last.
 */
function inOrder(query: Knex.QueryBuilder, sort: GuestQuery['sort'], after: string): void {
  const [text = '', idText = '0'] = after.includes('|') ? after.split('|') : ['', after];
  const id = Number(idText) || 0;
  const { column, way } = orders[sort];
  if (column) void query.orderBy(column, way);
  void query.orderBy('i.subscriber_id', way);
  if (!after) return;
  const isBehind = way === 'asc' ? '>' : '<';
  if (!column) void query.where('i.subscriber_id', isBehind, id);
  else if (text === 'null') void query.whereNull(column).where('i.subscriber_id', isBehind, id);
  else {
    // A place that no page named stands before everybody.
    const value = sort === 'answer' ? text : sort === 'holds' ? Number(text) || 0 : new Date(Number(text) || 0);
    void query.where((or) => {
      void or
        .where(column, isBehind, value)
        .orWhere((same) => same.where(column, value).where('i.subscriber_id', isBehind, id));
      if (way === 'desc') void or.orWhereNull(column);
    });
  }
}

/** Where the next page begins. */
function cursorOf(sort: GuestQuery['sort'], row: GuestRow): string {
  const value = {
    joined: '',
    answered: row.sorted_at?.getTime() ?? 'null',
    answer: row.sorted_reply,
    holds: row.holds_version ?? 'null',
  }[sort];
  return sort === 'joined' ? String(row.id) : `${value}|${row.id}`;
}

const guestOf = (row: GuestRow): Guest => ({
  person: { id: row.id, name: row.name, email: row.email ?? '', mobile: row.mobile },
  channel: row.channel,
  reply: row.reply,
  repliedAt: row.replied_at?.toISOString() ?? null,
  comment: row.comment,
  delegatedTo: row.delegated_to,
  isByDate: Boolean(row.is_by_date),
  place: row.place_state === 'waitlisted' ? 'waitlisted' : row.presence || null,
  attended: row.attended === null ? null : Boolean(row.attended),
  own:
    row.own_start === null
      ? null
      : { start: row.own_start, end: row.own_end ?? '', place: row.own_place ?? '', notes: row.own_notes ?? '' },
  invitedAt: row.invited_at?.toISOString() ?? null,
  holdsVersion: row.holds_version,
});
