import type { Knex } from 'knex';
import type { ReplyState } from '@convite/core';
import { renameDates } from './rename-dates';
import { hasNoNewer, replyColumns, type AppliedReply } from './invitees';

/** What is known of single dates of a series: answers for that date alone, and who came. */
export function dateStore(db: Knex) {
  return {
    /** Applies an answer for one date of a series, unless a newer one got in between. */
    async applyReply(
      eventId: number,
      subscriberId: number,
      occurrence: string,
      reply: AppliedReply,
      now: Date,
    ): Promise<boolean> {
      const date = { event_id: eventId, subscriber_id: subscriberId, occurrence };
      await db('invitee_occurrence').insert(date).onConflict(['event_id', 'subscriber_id', 'occurrence']).ignore();
      return (await db('invitee_occurrence').where(date).where(hasNoNewer(reply)).update(replyColumns(reply, now))) > 0;
    },

    /** Has anybody answered for this date alone? */
    async isAnswered(eventId: number, occurrence: string): Promise<boolean> {
      const row: unknown = await db('invitee_occurrence')
        .where({ event_id: eventId, occurrence })
        .whereNotNull('reply')
        .first('subscriber_id');
      return row !== undefined;
    },

    /** Whether somebody came to a date; null takes the mark back. */
    async markAttended(
      eventId: number,
      subscriberId: number,
      occurrence: string,
      attended: boolean | null,
    ): Promise<void> {
      await db('invitee_occurrence')
        .insert({ event_id: eventId, subscriber_id: subscriberId, occurrence, attended })
        .onConflict(['event_id', 'subscriber_id', 'occurrence'])
        .merge(['attended']);
    },

    /** Moves what is known of single dates along when the dates of a series move; what has no new date is dropped. */
    async moveDates(eventId: number, moveKey: (key: string) => string | null): Promise<void> {
      await renameDates(db, 'invitee_occurrence', eventId, moveKey);
    },

    /** The answers for single dates go along; those of people who come by date always, for they have nothing else. */
    async copyDates(fromEventId: number, toEventId: number, fromKey: string, onlyByDate: boolean): Promise<void> {
      await db.raw(
        `insert into invitee_occurrence (event_id, subscriber_id, occurrence, reply, reply_sequence, reply_stamp, replied_at, comment, attended)
         select ?, o.subscriber_id, o.occurrence, o.reply, 0, null, o.replied_at, o.comment, o.attended
         from invitee_occurrence o join invitee i on i.event_id = o.event_id and i.subscriber_id = o.subscriber_id
         where o.event_id = ? and o.occurrence >= ? and (i.is_by_date or not ?)`,
        [toEventId, fromEventId, fromKey, onlyByDate],
      );
    },

    /** What a person answered to an event, and to its single dates; to the whole nothing when they come by date. */
    async answersOf(
      eventId: number,
      subscriberId: number,
    ): Promise<{ reply: ReplyState | null; isByDate: boolean; dates: Map<string, ReplyState> }> {
      const whole: { reply: ReplyState; is_by_date: number } | undefined = await db('invitee')
        .where({ event_id: eventId, subscriber_id: subscriberId })
        .first('reply', 'is_by_date');
      const rows: { occurrence: string; reply: ReplyState | null }[] = await db('invitee_occurrence')
        .where({ event_id: eventId, subscriber_id: subscriberId })
        .select('occurrence', 'reply');
      return {
        reply: whole && !whole.is_by_date ? whole.reply : null,
        isByDate: Boolean(whole?.is_by_date),
        dates: new Map(rows.flatMap(({ occurrence, reply }) => (reply ? [[occurrence, reply]] : []))),
      };
    },
  };
}
