import type { Knex } from 'knex';
import type { AudienceCount, Unreached } from '@convite/contract';
import { listsOf, notInvitedTo, type Channel, type Reason, type Tree, type Who } from '@convite/core';
import {
  candidatesOf,
  getsByPart,
  getsSql,
  peopleOf,
  populationSql,
  reasonSql,
  type People,
  type SizeOf,
} from './audience-sql';
import { affectedRows, inList, sql } from './database';
import { hasSomePartSql } from './registrations';
import { inTransaction } from './retry-locked';
import { moving } from './waiting';

interface UnreachedRow {
  id: number;
  subscriber_id: number;
  state: Unreached['state'];
  answer: string;
  name: string | null;
  email: string | null;
  mobile: string | null;
}
export function deliveryStore(db: Knex) {
  return {
    /**
     * How many get a message, and the reasons for everybody else it could mean.
     * @param guestsOf an event whose guests are worth a reason too, whoever is in
     * @param within only of people with these numbers, both included; null for all
     */
    async countAudience(
      who: Who,
      channel: Channel,
      guestsOf: number | null,
      within: { readonly from: number; readonly to: number } | null = null,
    ): Promise<AudienceCount> {
      const reason = reasonSql(who, channel);
      const { from, where } =
        guestsOf === null
          ? candidatesOf(who)
          : peopleOf(
              populationSql(
                who,
                sql('select subscriber_id from invitee where event_id = ? and invited_at is not null', guestsOf),
              ),
            );
      const [rows = []]: { reason: AudienceCount['without'][number]['reason'] | null; n: number }[][] = await db.raw(
        `select reason, count(*) as n from (
           select ${reason.text} as reason from ${from.text} where ${where.text}
           ${within ? 'and c.subscriber_id between ? and ?' : ''}) as judged group by reason`,
        [...reason.bindings, ...from.bindings, ...where.bindings, ...(within ? [within.from, within.to] : [])],
      );
      return {
        gets: Number(rows.find((row) => row.reason === null)?.n ?? 0),
        without: rows.flatMap(({ reason: why, n }) => (why === null ? [] : [{ reason: why, count: Number(n) }])),
      };
    },

    /** How many get a message; without the reasons of everybody else it looks at the candidates alone. */
    async countGets(who: Who, channel: Channel): Promise<number> {
      return count(getsSql(who, channel, await sizesFor(who.in)));
    },

    /** The same, by the zones that people are in. */
    async countGetsByZone(who: Who, channel: Channel): Promise<Map<string, number>> {
      const { from, where } = getsSql(who, channel, await sizesFor(who.in));
      const [rows = []]: { zone: string; n: number }[][] = await db.raw(
        `select s.zone, count(*) as n from ${from.text} where ${where.text} group by s.zone`,
        [...from.bindings, ...where.bindings],
      );
      return new Map(rows.map(({ zone, n }) => [zone, Number(n)]));
    },

    /** Somebody who gets it, for a preview; null when nobody does. */
    async firstOf(who: Who, channel: Channel): Promise<number | null> {
      // Each part ends at the first that fits; putting them together first would look at all.
      for (const { from, where } of getsByPart(who, channel)) {
        const [rows = []]: { id: number }[][] = await db.raw(
          `select s.id from ${from.text} where ${where.text} limit 1`,
          [...from.bindings, ...where.bindings],
        );
        if (rows[0]) return rows[0].id;
      }
      return null;
    },

    /** Of some people those who do not get a message any more, with the first reason. */
    async whyNot(who: Who, channel: Channel, ids: readonly number[]): Promise<Map<number, Reason>> {
      const reason = reasonSql(who, channel);
      const those = inList(ids);
      const [rows = []]: { id: number; reason: Reason }[][] = await db.raw(
        `select id, reason from (select s.id, ${reason.text} as reason from subscriber s where s.id in ${those.text}) as judged
         where reason is not null`,
        [...reason.bindings, ...those.bindings],
      );
      return new Map(rows.map((row) => [row.id, row.reason]));
    },

    /**
     * One delivery for everybody who gets the message, in one statement; a person who has one already keeps it.
     * In: firing, audience, channel. Out: rows added. Locks: the new rows only.
     */
    async expand(firingId: number, who: Who, channel: Channel, now: Date): Promise<number> {
      return insertDeliveries(firingId, channel, now, getsSql(who, channel, await sizesFor(who.in)));
    },

    /** The same for an invitation: makes the people invitees first. */
    async expandInvitation(firingId: number, who: Who, channel: Channel, eventId: number, now: Date): Promise<number> {
      const gets = getsSql(notInvitedTo(eventId, who), channel);
      await db.raw(
        `insert ignore into invitee (event_id, subscriber_id, channel, reply)
         select ?, s.id, ?, 'needs-action' from ${gets.from.text} where ${gets.where.text}`,
        [eventId, channel, ...gets.from.bindings, ...gets.where.bindings],
      );
      return insertDeliveries(firingId, channel, now, gets);
    },

    /** The same for an answer to one person, whoever they are: they asked. */
    expandAnswer: (firingId: number, personId: number, now: Date): Promise<number> =>
      insertDeliveries(firingId, 'email', now, {
        from: sql('subscriber s'),
        where: sql('s.id = ? and s.email is not null', personId),
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
    async countNotice(eventId: number, version: number, channel: Channel): Promise<number> {
      return count(noticeSql(eventId, version, channel));
    },
    /** Is anything on its way at this moment? */
    async hasDue(nowMs: number): Promise<boolean> {
      const row: unknown = await moving(db, nowMs).first('f.id');
      return row !== undefined;
    },
    /** When a delivery that was put off is tried next; null when none is. */
    async nextRetryMs(): Promise<number | null> {
      const [rows = []]: { at: Date | null }[][] = await db.raw(
        `select min((select d.next_at from delivery d where d.firing_id = f.id and d.state = 'queued'
                     order by d.next_at limit 1)) as at
         from firing f where f.state = 'sending'`,
      );
      return rows[0]?.at?.getTime() ?? null;
    },
    /** Those whom a firing did not reach, with the words of whoever refused them. */
    async unreached(
      firingId: number,
      after: number,
      limit: number,
    ): Promise<{ rows: Omit<Unreached, 'advice'>[]; next: number | null }> {
      const firing: { is_past: number } | undefined = await db('firing').where({ id: firingId }).first('is_past');
      const rows: UnreachedRow[] = await db(firing?.is_past ? 'delivery_past as d' : 'delivery as d')
        .leftJoin('subscriber as s', 's.id', 'd.subscriber_id')
        .where('d.firing_id', firingId)
        .whereIn('d.state', ['failed', 'bounced', 'skipped'])
        .where('d.id', '>', after)
        .orderBy('d.id')
        .limit(limit + 1)
        .select('d.id', 'd.subscriber_id', 'd.state', 'd.answer', 's.name', 's.email', 's.mobile');
      const page = rows.slice(0, limit);
      const attempts = await attemptsOf(page.map(({ id }) => id));
      return {
        rows: page.map(({ id, subscriber_id, state, answer, name, email, mobile }) => ({
          deliveryId: id,
          person: { id: subscriber_id, name: name ?? '', email: email ?? '', mobile: mobile ?? '' },
          state,
          answer,
          attempts: attempts.get(id) ?? [],
        })),
        next: rows.length > limit ? (page.at(-1)?.id ?? null) : null,
      };
    },

    async find(
      id: number,
    ): Promise<{ firingId: number; subscriberId: number; channel: Channel; state: string } | null> {
      const row: { firing_id: number; subscriber_id: number; channel: Channel; state: string } | undefined = await db(
        'delivery',
      )
        .where({ id })
        .first();
      return row
        ? { firingId: row.firing_id, subscriberId: row.subscriber_id, channel: row.channel, state: row.state }
        : null;
    },
    /**
     * What came back later: a bounce, or a gateway's receipt. Keeps the counts of a firing that is over true. Locks the
     * firing, then the delivery, as closing does.
     */
    setAftermath(id: number, state: 'bounced' | 'delivered' | 'failed', answer: string, now: Date): Promise<boolean> {
      return inTransaction(db, async (tx) => {
        const row: { firing_id: number } | undefined = await tx('delivery').where({ id }).first('firing_id');
        if (!row) return false;
        await tx('firing').where({ id: row.firing_id }).forUpdate().first('id');
        const from = ['sent', 'sending', 'delivered'].filter((one) => one !== state);
        const before: { state: string } | undefined = await tx('delivery')
          .where({ id })
          .whereIn('state', from)
          .forUpdate()
          .first('state');
        if (!before) return false;
        await tx('delivery')
          .where({ id })
          .update({ state, answer: answer.slice(0, 500) });
        if (answer) await tx('attempt').insert({ delivery_id: id, at: now, kind: state, answer: answer.slice(0, 500) });
        // One that is still in a worker's hands was not counted as sent yet.
        const wasSent = before.state === 'sending' ? 0 : 1;
        const isSent = state === 'delivered' ? 1 : 0;
        await tx('firing')
          .where({ id: row.firing_id })
          .update({
            sent: tx.raw('greatest(sent + ? - ?, 0)', [isSent, wasSent]),
            failed: tx.raw('failed + ?', [1 - isSent]),
            // MariaDB reads the counts as they were just set.
            state: tx.raw("if(state in ('done', 'failed'), if(failed > 0 and sent = 0, 'failed', 'done'), state)"),
          });
        return true;
      });
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

  async function count({ from, where }: People): Promise<number> {
    const [rows = []]: { n: number }[][] = await db.raw(`select count(*) as n from ${from.text} where ${where.text}`, [
      ...from.bindings,
      ...where.bindings,
    ]);
    return Number(rows[0]?.n ?? 0);
  }

  /** What was answered to each of some deliveries, in the order of time. */
  async function attemptsOf(ids: readonly number[]): Promise<Map<number, Unreached['attempts']>> {
    const rows: { delivery_id: number; at: Date; answer: string }[] = await db('attempt')
      .whereIn('delivery_id', [...ids])
      .orderBy('id')
      .select('delivery_id', 'at', 'answer');
    const attempts = new Map<number, Unreached['attempts']>();
    for (const { delivery_id, at, answer } of rows)
      attempts.set(delivery_id, [...(attempts.get(delivery_id) ?? []), { at: at.toISOString(), answer }]);
    return attempts;
  }

  /** Sizes of lists matter only where one of several sets is to begin with. */
  async function sizesFor(tree: Tree): Promise<SizeOf> {
    const lists = tree.kind === 'all' ? listsOf(tree) : [];
    if (lists.length === 0) return () => undefined;
    const rows: { id: number; size: number }[] = await db('list').whereIn('id', lists).select('id', 'size');
    const sizes = new Map(rows.map(({ id, size }) => [id, size]));
    return (list) => sizes.get(list);
  }

  async function insertDeliveries(
    firingId: number,
    channel: Channel,
    now: Date,
    { from, where }: People,
  ): Promise<number> {
    const result: unknown = await db.raw(
      `insert ignore into delivery (firing_id, subscriber_id, channel, state, next_at)
       select ?, s.id, ?, 'queued', ? from ${from.text} where ${where.text}`,
      [firingId, channel, now, ...from.bindings, ...where.bindings],
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
