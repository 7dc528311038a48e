import type { Knex } from 'knex';
import { notInvitedTo, type Channel, type Lane, type Who } from '@convite/core';
import { countsSql, getsSql, goesAtSql, peopleOf, type People } from './audience-sql';
import { countPeople, sizesFor } from './audiences';
import { affectedRows, sql } from './database';
import { whoNow } from './trees-now';
import { hasSomePartSql } from './registrations';

/** Puts a delivery beside each person that a firing is for, in one statement: nothing loads an audience. */
export function expansionStore(db: Knex) {
  return {
    /**
     * One delivery for everybody who gets the message, in one statement; a person who has one already keeps it.
     * In: firing, audience, channel. Out: rows added. Locks: the new rows only.
     */
    async expand(firingId: number, asked: Who, channel: Lane, now: Date): Promise<number> {
      const who = await whoNow(db, asked);
      return insertDeliveries(firingId, channel, now, getsSql(who, channel, await sizesFor(db, who.in)), who);
    },

    /** The same for an invitation: makes the people invitees first. */
    async expandInvitation(firingId: number, who: Who, channel: Channel, eventId: number, now: Date): Promise<number> {
      const gets = getsSql(notInvitedTo(eventId, await whoNow(db, who)), channel);
      await db.raw(
        `insert ignore into invitee (event_id, subscriber_id, channel, reply)
         select ?, s.id, ?, 'needs-action' from ${gets.from.text} where ${gets.where.text}`,
        [eventId, channel, ...gets.from.bindings, ...gets.where.bindings],
      );
      return insertDeliveries(firingId, channel, now, gets, who);
    },

    /** The same for an answer to one person, whoever they are: they asked. */
    expandAnswer: (firingId: number, people: readonly number[], channel: Channel, now: Date): Promise<number> =>
      insertDeliveries(firingId, channel, now, {
        from: sql('subscriber s'),
        where: sql(
          `s.id in (${people.map(() => '?').join(', ')}) and ${channel === 'email' ? 's.email is not null' : "s.mobile <> ''"}`,
          ...people,
        ),
      }),

    /** The same for a notice: invitees of that channel who hold an older version, and can be reached. */
    async expandNotice(
      firingId: number,
      channel: Channel,
      eventId: number,
      version: number,
      now: Date,
    ): Promise<number> {
      return insertDeliveries(firingId, channel, now, noticeSql(eventId, version, channel));
    },
    /** The same for a date that is off, to those who came to it alone. */
    expandGone: (firingId: number, eventId: number, key: string, version: number, now: Date): Promise<number> =>
      insertDeliveries(
        firingId,
        'email',
        now,
        peopleOf(
          sql(
            'select subscriber_id from invitee_occurrence where event_id = ? and occurrence = ? and gone_in = ?',
            eventId,
            key,
            version,
          ),
          sql('s.email is not null and s.bounced_at is null'),
        ),
      ),
    /** Of those put down for it, the ones who wait for the end of quiet hours. */
    async countWaiting(firingId: number, now: Date): Promise<number> {
      const [row] = await db('delivery')
        .where({ firing_id: firingId, state: 'queued' })
        .where('next_at', '>', now)
        .count({ n: '*' });
      return Number(row?.['n'] ?? 0);
    },
    async countNotice(eventId: number, version: number, channel: Channel): Promise<number> {
      return countPeople(db, noticeSql(eventId, version, channel));
    },
    /**
     * People who got a version that was overtaken on the way: put down for the newest notice that passed them over.
     */
    async joinNotice(eventId: number, version: number, people: readonly number[], now: Date): Promise<void> {
      const notices: { id: number; channel: Channel }[] = await db('firing as f')
        .join('event as e', 'e.id', 'f.event_id')
        .where({ 'f.event_id': eventId, 'f.kind': 'notice', 'f.is_expanded': true, 'f.slot': '' })
        .where('e.version', '>', version)
        .whereIn('f.state', ['sending', 'done', 'failed'])
        .whereRaw("json_value(f.content, '$.version') > ?", [version])
        .whereRaw("not coalesce(json_value(f.content, '$.isByDate'), false)")
        .orderBy('f.id', 'desc')
        .select('f.id', 'f.channel');
      for (const channel of ['email', 'text'] as const) {
        const notice = notices.find((one) => one.channel === channel);
        if (!notice) continue;
        const result: unknown = await db.raw(
          `insert ignore into delivery (firing_id, subscriber_id, channel, state, next_at)
           select ?, i.subscriber_id, i.channel, 'queued', ? from invitee i
           where i.event_id = ? and i.channel = ? and i.subscriber_id in (${people.map(() => '?').join(', ')})`,
          [notice.id, now, eventId, channel, ...people],
        );
        const joined = affectedRows(result);
        if (joined)
          await db('firing')
            .where({ id: notice.id })
            .update({ state: 'sending', planned: db.raw('planned + ?', [joined]) });
      }
    },
  };

  async function insertDeliveries(
    firingId: number,
    channel: Lane,
    now: Date,
    { from, where }: People,
    { limit = null, quiet = null }: Pick<Who, 'limit' | 'quiet'> = {},
  ): Promise<number> {
    const counts = countsSql(limit);
    const goesAt = goesAtSql(quiet, now);
    const result: unknown = await db.raw(
      `insert ignore into delivery (firing_id, subscriber_id, channel, state, next_at, counts)
       select ?, s.id, ?, 'queued', ${goesAt.text}, ${counts.text} from ${from.text} where ${where.text}`,
      [firingId, channel, ...goesAt.bindings, ...counts.bindings, ...from.bindings, ...where.bindings],
    );
    return affectedRows(result);
  }
}

/**
 * Who is to hear of a change. An opt-out from marketing does not keep it back: whoever holds the old version in their
 * calendar would stand before a closed door (docs/decisions.md).
 */
const noticeSql = (eventId: number, version: number, channel: Channel): People =>
  peopleOf(
    sql(
      `select i.subscriber_id from invitee i
       where i.event_id = ? and i.invited_at is not null and i.holds_version < ? and i.channel = ? and ${hasSomePartSql}`,
      eventId,
      version,
      channel,
    ),
    channel === 'email' ? sql('s.email is not null and s.bounced_at is null') : sql("s.mobile <> ''"),
  );
