import type { Knex } from 'knex';
import type { Guest, ReplyCounts } from '@convite/contract';
import type { CalendarReply, Channel, ReplyState } from '@convite/core';
import { likePrefix } from './database';

/** An invitee as a reply is held against them. */
export interface StoredInvitee {
  readonly subscriberId: number;
  readonly email: string;
  readonly lastSequence: number | null;
  readonly lastStampMs: number | null;
}

interface GuestRow {
  id: number;
  name: string;
  email: string | null;
  mobile: string;
  channel: Channel;
  reply: ReplyState;
  replied_at: Date | null;
  comment: string;
  invited_at: Date | null;
  holds_version: number | null;
}

export const noReplies = (): ReplyCounts => ({ 'needs-action': 0, accepted: 0, tentative: 0, declined: 0 });

export function inviteeStore(db: Knex) {
  const invited = (eventId: number) => db('invitee').where({ event_id: eventId }).whereNotNull('invited_at');

  return {
    /** Guests by key; those whose invitation is still under way are among them. */
    async page(
      eventId: number,
      search: string,
      after: number,
      limit: number,
    ): Promise<{ rows: Guest[]; next: number | null }> {
      const rows: GuestRow[] = await db('invitee as i')
        .join('subscriber as s', 's.id', 'i.subscriber_id')
        .where('i.event_id', eventId)
        .where('i.subscriber_id', '>', after)
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
          'i.reply',
          'i.replied_at',
          'i.comment',
          'i.invited_at',
          'i.holds_version',
        );
      const page = rows.slice(0, limit);
      return { rows: page.map(guestOf), next: rows.length > limit ? (page.at(-1)?.id ?? null) : null };
    },

    async counts(eventIds: readonly number[]): Promise<Map<number, ReplyCounts>> {
      const rows: { event_id: number; reply: ReplyState; n: number }[] = await db('invitee')
        .whereIn('event_id', [...eventIds])
        .whereNotNull('invited_at')
        .groupBy('event_id', 'reply')
        .select('event_id', 'reply', db.raw('count(*) as n'));
      const counts = new Map<number, ReplyCounts>(eventIds.map((id) => [id, noReplies()]));
      for (const row of rows) Object.assign(counts.get(row.event_id) ?? {}, { [row.reply]: Number(row.n) });
      return counts;
    },

    async findByEmail(eventId: number, email: string): Promise<StoredInvitee | null> {
      const row:
        { subscriber_id: number; email: string; reply_sequence: number | null; reply_stamp: Date | null } | undefined =
        await db('invitee as i')
          .join('subscriber as s', 's.id', 'i.subscriber_id')
          .where({ 'i.event_id': eventId, 's.email': email })
          .whereNotNull('i.invited_at')
          .first('i.subscriber_id', 's.email', 'i.reply_sequence', 'i.reply_stamp');
      return row
        ? {
            subscriberId: row.subscriber_id,
            email: row.email,
            lastSequence: row.reply_sequence,
            lastStampMs: row.reply_stamp?.getTime() ?? null,
          }
        : null;
    },

    /** Applies a reply, unless a newer one got in between: the ordering rule stands in the statement itself. */
    async applyReply(eventId: number, subscriberId: number, reply: CalendarReply, now: Date): Promise<boolean> {
      const changed = await db('invitee')
        .where({ event_id: eventId, subscriber_id: subscriberId })
        .where((or) =>
          or
            .whereNull('reply_sequence')
            .orWhere('reply_sequence', '<', reply.sequence)
            .orWhere((same) =>
              same.where('reply_sequence', reply.sequence).where('reply_stamp', '<=', new Date(reply.stampMs)),
            ),
        )
        .update({
          reply: reply.state,
          reply_sequence: reply.sequence,
          reply_stamp: new Date(reply.stampMs),
          replied_at: now,
          comment: reply.comment.slice(0, 500),
        });
      return changed > 0;
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
      const rows: { holds_version: number | null; n: number }[] = await invited(eventId)
        .groupBy('holds_version')
        .orderBy('holds_version', 'desc')
        .select('holds_version', db.raw('count(*) as n'));
      return rows.map((row) => ({ version: row.holds_version, count: Number(row.n) }));
    },

    /** Events whose invitees hold a version older than the newest, with how many do. */
    async behind(): Promise<{ eventId: number; count: number }[]> {
      const rows: { event_id: number; n: number }[] = await db('invitee as i')
        .join('event as e', 'e.id', 'i.event_id')
        .whereNotNull('i.invited_at')
        .whereRaw('i.holds_version < e.version')
        .groupBy('i.event_id')
        .select('i.event_id', db.raw('count(*) as n'));
      return rows.map((row) => ({ eventId: row.event_id, count: Number(row.n) }));
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
    }): Promise<void> {
      await db('reply').insert({
        event_id: reply.eventId,
        received_at: reply.at,
        from_address: reply.from.slice(0, 254),
        attendee: reply.attendee.slice(0, 254),
        state: reply.state,
        verdict: reply.verdict,
        reason: reply.reason,
        raw: reply.raw.slice(0, 1_000_000),
      });
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

const guestOf = (row: GuestRow): Guest => ({
  person: { id: row.id, name: row.name, email: row.email ?? '', mobile: row.mobile },
  channel: row.channel,
  reply: row.reply,
  repliedAt: row.replied_at?.toISOString() ?? null,
  comment: row.comment,
  invitedAt: row.invited_at?.toISOString() ?? null,
  holdsVersion: row.holds_version,
});
