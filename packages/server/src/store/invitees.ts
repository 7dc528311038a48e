import type { Knex } from 'knex';
import type { Channel, Presence, ReplyState } from '@convite/core';
import { affectedRows } from './database';
import { joinDate } from './registrations';

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

export function inviteeStore(db: Knex) {
  const countAll = async (eventIds: readonly number[]): Promise<number> => {
    const [row] = await db('invitee')
      .whereIn('event_id', [...eventIds])
      .count({ n: '*' });
    return Number(row?.['n'] ?? 0);
  };
  return {
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
        // An address of somebody who was found to be another is that one's.
        .join('subscriber as s', (on) => on.on('i.subscriber_id', db.raw('coalesce(s.same_as_id, s.id)')))
        .modify(joinDate, occurrence)
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
    /** What somebody answered of a date, or else of the whole event; null for who is no guest. */
    async replyOf(eventId: number, subscriberId: number, occurrence: string): Promise<ReplyState | null> {
      const row: { reply: ReplyState } | undefined = await db('invitee as i')
        .leftJoin('invitee_occurrence as o', (on) =>
          on
            .on('o.event_id', 'i.event_id')
            .andOn('o.subscriber_id', 'i.subscriber_id')
            .andOn('o.occurrence', db.raw('?', [occurrence])),
        )
        .where({ 'i.event_id': eventId, 'i.subscriber_id': subscriberId })
        .first(db.raw('coalesce(o.reply, i.reply) as reply'));
      return row?.reply ?? null;
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

    /** The first invitee, for a preview before anybody was chosen. */
    async anyId(eventId: number): Promise<number | null> {
      const row: { subscriber_id: number } | undefined = await db('invitee')
        .where({ event_id: eventId })
        .first('subscriber_id');
      return row?.subscriber_id ?? null;
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
  /** How they come, where they were asked. */
  readonly presence?: Presence | undefined;
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
      // One that came along from another series has no stamp of this one yet.
      .orWhere((same) =>
        same
          .where('reply_sequence', sequence)
          .where((stamp) => stamp.whereNull('reply_stamp').orWhere('reply_stamp', '<=', new Date(stampMs))),
      );

export const replyColumns = (reply: AppliedReply, now: Date): Record<string, unknown> => ({
  reply: reply.state,
  reply_sequence: reply.sequence,
  reply_stamp: new Date(reply.stampMs),
  replied_at: now,
  comment: reply.comment.slice(0, 500),
});
