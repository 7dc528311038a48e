import type { Knex } from 'knex';
import type { Guest, ReplyCounts } from '@convite/contract';
import type { Channel, ReplyState } from '@convite/core';
import { affectedRows, likePrefix } from './database';
import { ownColumns, type OwnColumns } from './personal';
import { hasSomePartSql, replyOfDate } from './registrations';

/** An invitee as a reply is held against them. */
export interface StoredInvitee {
  readonly subscriberId: number;
  readonly email: string;
  /** Whom they passed the invitation on to; empty when to nobody. */
  readonly delegatedTo: string;
  /** Has a part in single dates only. */
  readonly isByDate: boolean;
  readonly lastSequence: number | null;
  readonly lastStampMs: number | null;
  /** Newest version that they hold; null when none. */
  readonly holdsVersion: number | null;
  /** How often their own facts changed; added to the event's SEQUENCE. */
  readonly revision: number;
}

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

export function inviteeStore(db: Knex) {
  const countAll = async (eventIds: readonly number[]): Promise<number> => {
    const [row] = await db('invitee')
      .whereIn('event_id', [...eventIds])
      .count({ n: '*' });
    return Number(row?.['n'] ?? 0);
  };
  return {
    /** Guests by key, with what they answered for a date of a series; those whose invitation is under way are among them. */
    async page(
      eventId: number,
      occurrence: string,
      search: string,
      after: number,
      limit: number,
    ): Promise<{ rows: Guest[]; next: number | null }> {
      const rows: GuestRow[] = await db('invitee as i')
        .join('subscriber as s', 's.id', 'i.subscriber_id')
        .leftJoin('invitee_occurrence as o', (on) =>
          on
            .on('o.event_id', 'i.event_id')
            .andOn('o.subscriber_id', 'i.subscriber_id')
            .andOnVal('o.occurrence', occurrence),
        )
        .leftJoin('personal as p', (on) =>
          on.on('p.event_id', 'i.event_id').andOn('p.subscriber_id', 'i.subscriber_id'),
        )
        .where('i.event_id', eventId)
        .where('i.subscriber_id', '>', after)
        .whereRaw(occurrence ? hasPartSql : 'true')
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

    /** Answers for one date of a series: those given for it, else those for the whole. */
    async countsOf(eventId: number, occurrence: string): Promise<ReplyCounts> {
      const rows: { reply: ReplyState; n: number }[] = await db('invitee as i')
        .leftJoin('invitee_occurrence as o', (on) =>
          on
            .on('o.event_id', 'i.event_id')
            .andOn('o.subscriber_id', 'i.subscriber_id')
            .andOnVal('o.occurrence', occurrence),
        )
        .where('i.event_id', eventId)
        .whereNotNull('i.invited_at')
        .whereRaw(hasPartSql)
        .groupByRaw(replyOfDate)
        .select(db.raw(`${replyOfDate} as reply`), db.raw('count(*) as n'));
      return { ...noReplies(), ...Object.fromEntries(rows.map((row) => [row.reply, Number(row.n)])) };
    },

    async findByEmail(eventId: number, email: string, occurrence: string): Promise<StoredInvitee | null> {
      const row:
        | {
            subscriber_id: number;
            email: string;
            delegated_to: string;
            is_by_date: number;
            reply_sequence: number | null;
            reply_stamp: Date | null;
            holds_version: number | null;
            revision: number;
          }
        | undefined = await db('invitee as i')
        .join('subscriber as s', 's.id', 'i.subscriber_id')
        .leftJoin('invitee_occurrence as o', (on) =>
          on
            .on('o.event_id', 'i.event_id')
            .andOn('o.subscriber_id', 'i.subscriber_id')
            .andOnVal('o.occurrence', occurrence),
        )
        .leftJoin('personal as p', (on) =>
          on.on('p.event_id', 'i.event_id').andOn('p.subscriber_id', 'i.subscriber_id'),
        )
        .where({ 'i.event_id': eventId, 's.email': email })
        .whereNotNull('i.invited_at')
        .first(
          'i.subscriber_id',
          's.email',
          'i.delegated_to',
          'i.is_by_date',
          'i.holds_version',
          db.raw("if(? = '', i.reply_sequence, o.reply_sequence) as reply_sequence", [occurrence]),
          db.raw("if(? = '', i.reply_stamp, o.reply_stamp) as reply_stamp", [occurrence]),
          db.raw('coalesce(p.revision, 0) as revision'),
        );
      return row
        ? {
            subscriberId: row.subscriber_id,
            email: row.email,
            delegatedTo: row.delegated_to,
            isByDate: Boolean(row.is_by_date),
            lastSequence: row.reply_sequence,
            lastStampMs: row.reply_stamp?.getTime() ?? null,
            holdsVersion: row.holds_version,
            revision: row.revision,
          }
        : null;
    },

    /** Applies a reply, unless a newer one got in between: the ordering rule stands in the statement itself. */
    async applyReply(eventId: number, subscriberId: number, reply: AppliedReply, now: Date): Promise<boolean> {
      const changed = await db('invitee')
        .where({ event_id: eventId, subscriber_id: subscriberId })
        .where(hasNoNewer(reply))
        .update({ ...replyColumns(reply, now), delegated_to: reply.delegatedTo.slice(0, 254) });
      return changed > 0;
    },

    /** Makes people guests of events, whoever is none yet. @returns how many were none */
    async addGuests(guests: readonly NewGuest[], now: Date): Promise<number> {
      const events = [...new Set(guests.map(({ eventId }) => eventId))];
      const before = await countAll(events);
      for (let from = 0; from < guests.length; from += 1000) {
        const rows = guests
          .slice(from, from + 1000)
          .map(({ eventId, subscriberId, reply, holdsVersion, channel = 'email' }) => ({
            event_id: eventId,
            subscriber_id: subscriberId,
            channel,
            reply,
            invited_at: now,
            holds_version: holdsVersion,
          }));
        await db('invitee').insert(rows).onConflict(['event_id', 'subscriber_id']).ignore();
      }
      return (await countAll(events)) - before;
    },

    /** The guests of a series for those of its dates that go their own way; set-wise, however many they are. */
    async copyGuests(fromEventId: number, toEventId: number, keepReplies: boolean, now: Date): Promise<number> {
      const result: unknown = await db.raw(
        `insert into invitee (event_id, subscriber_id, channel, is_by_date, reply, reply_sequence, reply_stamp, replied_at, comment, invited_at, holds_version)
         select ?, subscriber_id, channel, is_by_date, if(?, reply, 'needs-action'), if(?, 0, null), null, if(?, replied_at, null), if(?, comment, ''), ?, 0
         from invitee where event_id = ? and invited_at is not null`,
        [toEventId, keepReplies, keepReplies, keepReplies, keepReplies, now, fromEventId],
      );
      return affectedRows(result);
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
    async isGuest(eventId: number, subscriberId: number): Promise<boolean> {
      return Boolean(await db('invitee').where({ event_id: eventId, subscriber_id: subscriberId }).first('event_id'));
    },
    countGuests: (eventId: number): Promise<number> => countAll([eventId]),

    /** Events that a person said yes to, for their own feed. */
    async acceptedEvents(subscriberId: number): Promise<number[]> {
      const whole: number[] = await db('invitee')
        .where({ subscriber_id: subscriberId, reply: 'accepted' })
        .pluck('event_id');
      const dates: number[] = await db('invitee_occurrence')
        .where({ subscriber_id: subscriberId, reply: 'accepted' })
        .pluck('event_id');
      return [...new Set([...whole, ...dates])];
    },
    /** Marks people as having got this version of the event, by invitation or notice. */
    async markHolding(eventId: number, subscriberIds: readonly number[], version: number, now: Date): Promise<void> {
      await db('invitee')
        .where({ event_id: eventId })
        .whereIn('subscriber_id', [...subscriberIds])
        .update({
          invited_at: db.raw('coalesce(invited_at, ?)', [now]),
          holds_version: db.raw('greatest(coalesce(holds_version, 0), ?)', [version]),
        });
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

    /** The first invitee, for a preview before anybody was chosen. */
    async anyId(eventId: number): Promise<number | null> {
      const row: { subscriber_id: number } | undefined = await db('invitee')
        .where({ event_id: eventId })
        .first('subscriber_id');
      return row?.subscriber_id ?? null;
    },

    async logReply(reply: {
      eventId: number | null;
      at: Date;
      from: string;
      attendee: string;
      state: string;
      verdict: string;
      reason: string;
      raw: string;
      occurrence?: string;
    }): Promise<void> {
      await db('reply').insert({
        event_id: reply.eventId,
        occurrence: reply.occurrence ?? '',
        received_at: reply.at,
        from_address: reply.from.slice(0, 254),
        attendee: reply.attendee.slice(0, 254),
        state: reply.state.slice(0, 12),
        verdict: reply.verdict,
        reason: reply.reason,
        raw: reply.raw.slice(0, 16_000),
      });
    },
    async findReply(
      eventId: number,
      id: number,
    ): Promise<{ attendee: string; state: string; occurrence: string; reason: string } | null> {
      const row: { attendee: string; state: string; occurrence: string; reason: string } | undefined = await db('reply')
        .where({ id, event_id: eventId, verdict: 'set-aside' })
        .first('attendee', 'state', 'occurrence', 'reason');
      return row ?? null;
    },
    async markCounted(id: number): Promise<void> {
      await db('reply').where({ id }).update({ verdict: 'apply', reason: 'counted' });
    },
    async setAside(
      eventId: number,
    ): Promise<{ id: number; at: Date; from: string; attendee: string; state: string; reason: string }[]> {
      const rows: {
        id: number;
        received_at: Date;
        from_address: string;
        attendee: string;
        state: string;
        reason: string;
      }[] = await db('reply')
        .where({ event_id: eventId })
        .whereNot('verdict', 'apply')
        .orderBy('id', 'desc')
        .limit(100);
      return rows.map((row) => ({
        id: row.id,
        at: row.received_at,
        from: row.from_address,
        attendee: row.attendee,
        state: row.state,
        reason: row.reason,
      }));
    },
    async countSetAsideSince(since: Date): Promise<{ eventId: number | null; count: number }[]> {
      const rows: { event_id: number | null; n: number }[] = await db('reply')
        .where('verdict', 'set-aside')
        .where('received_at', '>=', since)
        .groupBy('event_id')
        .select('event_id', db.raw('count(*) as n'));
      return rows.map((row) => ({ eventId: row.event_id, count: Number(row.n) }));
    },
  };
}

/** Somebody who becomes a guest without an invitation of ours; `holdsVersion` null is a guest without an entry. */
export interface NewGuest {
  readonly eventId: number;
  readonly subscriberId: number;
  readonly reply: ReplyState;
  readonly channel?: Channel;
  readonly holdsVersion: number | null;
}

/** What of a reply is stored. */
export interface AppliedReply {
  readonly state: ReplyState;
  readonly sequence: number;
  readonly stampMs: number;
  readonly comment: string;
  readonly delegatedTo: string;
}

/** The order of answers (RFC 5546 §2.1.5) stands in the statement itself, so that two at once cannot cross. */
export const hasNoNewer =
  ({ sequence, stampMs }: AppliedReply) =>
  (query: Knex.QueryBuilder): void =>
    void query
      .whereNull('reply_sequence')
      .orWhere('reply_sequence', '<', sequence)
      .orWhere((same) => same.where('reply_sequence', sequence).where('reply_stamp', '<=', new Date(stampMs)));

export const replyColumns = (reply: AppliedReply, now: Date): Record<string, unknown> => ({
  reply: reply.state,
  reply_sequence: reply.sequence,
  reply_stamp: new Date(reply.stampMs),
  replied_at: now,
  comment: reply.comment.slice(0, 500),
});

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
