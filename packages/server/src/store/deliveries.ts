import type { Knex } from 'knex';
import type { AudienceCount } from '@convite/contract';
import type { Audience, Channel } from '@convite/core';
import { candidatesSql, getsSql, populationSql, reasonSql, wholeEvent, type Target } from './audience-sql';
import { affectedRows, sql, type Sql } from './database';
import { ownColumns, ownOf, type OwnColumns } from './personal';
import { byDateColumns, byDatesOf, hasSomePartSql, type ByDateColumns } from './registrations';
import type { Recipient } from './subscribers';

/** A message to one person that this worker holds. */
export interface ClaimedDelivery {
  readonly id: number;
  readonly firingId: number;
  readonly channel: Channel;
  readonly attempts: number;
  readonly person: Recipient;
}

/** What became of one attempt. */
export type Outcome =
  | { readonly id: number; readonly kind: 'sent' }
  | { readonly id: number; readonly kind: 'failed'; readonly answer: string }
  | { readonly id: number; readonly kind: 'retry'; readonly answer: string; readonly nextMs: number }
  /** Handed back untried: the mail server was not there at all. */
  | { readonly id: number; readonly kind: 'returned' }
  /** Not sent after all: the firing was stopped, or there was nothing to say to this person. */
  | { readonly id: number; readonly kind: 'stopped' | 'skipped' };

/** Back to the queue, unless the firing was stopped while the delivery was held. */
const requeuedSql =
  "if((select f.state from firing f where f.id = delivery.firing_id) = 'stopped', 'stopped', 'queued')";

export function deliveryStore(db: Knex) {
  const requeued = db.raw(requeuedSql);
  return {
    /**
     * How many get a message, and the reasons for everybody else it could mean.
     * @param invitingTo an event: people invited to it already are left out (for invitations)
     */
    async countAudience(
      audience: Audience,
      channel: Channel,
      target: Target,
      invitingTo: number | null = null,
    ): Promise<AudienceCount> {
      const reason = reasonSql(audience, channel, target);
      const population = invitingTo === null ? populationSql(audience, target) : candidatesSql(audience, target);
      const invited = invitedSql(invitingTo);
      const [rows = []]: { reason: AudienceCount['without'][number]['reason'] | null; n: number }[][] = await db.raw(
        `select reason, count(*) as n from (
           select case when ${invited.text} then 'already-invited' else (${reason.text}) end as reason
           from subscriber s where s.id in (${population.text})) as judged group by reason`,
        [...invited.bindings, ...reason.bindings, ...population.bindings],
      );
      return {
        gets: Number(rows.find((row) => row.reason === null)?.n ?? 0),
        without: rows.flatMap(({ reason: why, n }) => (why === null ? [] : [{ reason: why, count: Number(n) }])),
      };
    },

    /** How many get a message; without the reasons of everybody else it looks at the candidates alone. */
    async countGets(audience: Audience, channel: Channel, target: Target): Promise<number> {
      const gets = getsSql(audience, channel, target);
      const [rows = []]: { n: number }[][] = await db.raw(`select count(*) as n from subscriber s where ${gets.text}`, [
        ...gets.bindings,
      ]);
      return Number(rows[0]?.n ?? 0);
    },

    /** Somebody who gets it, for a preview; null when nobody does. */
    async firstOf(audience: Audience, channel: Channel, target: Target): Promise<number | null> {
      const gets = getsSql(audience, channel, target);
      const [rows = []]: { id: number }[][] = await db.raw(
        `select s.id from subscriber s where ${gets.text} order by s.id limit 1`,
        [...gets.bindings],
      );
      return rows[0]?.id ?? null;
    },

    /**
     * One delivery for everybody who gets the message, in one statement; a person who has one already keeps it.
     * In: firing, audience, channel. Out: rows added. Locks: the new rows only.
     */
    async expand(firingId: number, audience: Audience, channel: Channel, target: Target, now: Date): Promise<number> {
      return insertDeliveries(firingId, channel, now, getsSql(audience, channel, target));
    },

    /** The same for an invitation: makes the people invitees first, and passes over who was invited before. */
    async expandInvitation(
      firingId: number,
      audience: Audience,
      channel: Channel,
      eventId: number,
      now: Date,
    ): Promise<number> {
      const gets = getsSql(audience, channel, wholeEvent(eventId));
      const invited = invitedSql(eventId);
      await db.raw(
        `insert ignore into invitee (event_id, subscriber_id, channel, reply)
         select ?, s.id, ?, 'needs-action' from subscriber s where ${gets.text}`,
        [eventId, channel, ...gets.bindings],
      );
      return insertDeliveries(
        firingId,
        channel,
        now,
        sql(`${gets.text} and not (${invited.text})`, ...gets.bindings, ...invited.bindings),
      );
    },

    /** The same for an answer to one person, whoever they are: they asked. */
    expandAnswer: (firingId: number, personId: number, now: Date): Promise<number> =>
      insertDeliveries(firingId, 'email', now, sql('s.id = ? and s.email is not null', personId)),

    /** The same for a notice: invitees of that channel who hold an older version, and can be reached. */
    async expandNotice(
      firingId: number,
      channel: Channel,
      eventId: number,
      version: number,
      now: Date,
    ): Promise<number> {
      const behind = noticeSql(eventId, version, channel);
      return insertDeliveries(firingId, channel, now, sql(behind.text, ...behind.bindings));
    },
    /** The same for a date that is off, to those who came to it alone. */
    expandGone: (firingId: number, eventId: number, key: string, version: number, now: Date): Promise<number> =>
      insertDeliveries(
        firingId,
        'email',
        now,
        sql(
          `s.id in (select subscriber_id from invitee_occurrence where event_id = ? and occurrence = ? and gone_in = ?)
           and s.email is not null and s.bounced_at is null`,
          eventId,
          key,
          version,
        ),
      ),
    async countNotice(eventId: number, version: number, channel: Channel): Promise<number> {
      const behind = noticeSql(eventId, version, channel);
      const [rows = []]: { n: number }[][] = await db.raw(
        `select count(*) as n from subscriber s where ${behind.text}`,
        [...behind.bindings],
      );
      return Number(rows[0]?.n ?? 0);
    },

    /** Takes up to `limit` due deliveries under this worker's lease, skipping what others are taking. */
    async claim(lease: string, channel: Channel, nowMs: number, limit: number): Promise<ClaimedDelivery[]> {
      const ids = await db.transaction(async (tx) => {
        const due: number[] = await tx('delivery')
          .where({ channel, state: 'queued' })
          .where('next_at', '<=', new Date(nowMs))
          .orderBy('next_at')
          .limit(limit)
          .forUpdate()
          .skipLocked()
          .pluck('id');
        if (due.length)
          await tx('delivery')
            .whereIn('id', due)
            .update({ state: 'sending', lease, attempts: tx.raw('attempts + 1') });
        return due;
      });
      if (ids.length === 0) return [];
      const rows: ClaimRow[] = await db('delivery as d')
        .join('subscriber as s', 's.id', 'd.subscriber_id')
        .join('firing as f', 'f.id', 'd.firing_id')
        .leftJoin('personal as p', (on) => on.on('p.event_id', 'f.event_id').andOn('p.subscriber_id', 's.id'))
        .leftJoin('invitee as i', (on) => on.on('i.event_id', 'f.event_id').andOn('i.subscriber_id', 's.id'))
        .whereIn('d.id', ids)
        .orderBy('d.id')
        .select(
          'd.id',
          'd.firing_id',
          'd.channel',
          'd.attempts',
          's.id as person_id',
          's.name',
          's.email',
          's.mobile',
          's.zone',
          's.feed_nonce',
          ...ownColumns,
          ...byDateColumns(db),
        );
      return rows.map(claimOf);
    },

    /** Puts back what this lease holds and its worker does not remember. */
    async returnStrays(lease: string, channel: Channel, remembered: readonly number[]): Promise<void> {
      await db('delivery')
        .where({ lease, channel, state: 'sending' })
        .whereNotIn('id', [...remembered])
        .update({ state: requeued, lease: null });
    },

    /** Writes down what became of deliveries, each only while this lease still holds it. */
    async record(lease: string, outcomes: readonly Outcome[], now: Date): Promise<void> {
      const held = (ids: readonly number[]) =>
        db('delivery')
          .whereIn('id', [...ids])
          .where({ lease });
      const idsOf = (kind: Outcome['kind']): number[] =>
        outcomes.flatMap((outcome) => (outcome.kind === kind ? [outcome.id] : []));
      const update = async (kind: Outcome['kind'], change: Record<string, unknown>): Promise<void> => {
        const ids = idsOf(kind);
        if (ids.length) await held(ids).update({ ...change, lease: null });
      };
      await update('sent', { state: 'sent', sent_at: now, answer: '' });
      await update('stopped', { state: 'stopped' });
      await update('skipped', { state: 'skipped' });
      await update('returned', { state: requeued, attempts: db.raw('greatest(attempts, 1) - 1') });
      for (const outcome of outcomes) {
        const answer = 'answer' in outcome ? outcome.answer.slice(0, 500) : '';
        if (outcome.kind === 'failed') await held([outcome.id]).update({ state: 'failed', lease: null, answer });
        if (outcome.kind === 'retry')
          await held([outcome.id]).update({ state: requeued, lease: null, next_at: new Date(outcome.nextMs), answer });
      }
    },

    /** Is anything on its way at this moment? */
    async hasDue(nowMs: number): Promise<boolean> {
      const row: unknown = await db('delivery')
        .whereIn('channel', ['email', 'text'])
        .where((or) =>
          or
            .where('state', 'sending')
            .orWhere((due) => due.where('state', 'queued').where('next_at', '<=', new Date(nowMs))),
        )
        .first('id');
      return row !== undefined;
    },
    /** When a delivery that was put off is tried next; null when none is. */
    async nextRetryMs(): Promise<number | null> {
      const [row]: { at: Date | null }[] = await db('delivery')
        .whereIn('channel', ['email', 'text'])
        .where({ state: 'queued' })
        .min({ at: 'next_at' });
      return row?.at?.getTime() ?? null;
    },

    /** Renews this worker's claims. On real time: the demonstration's clock must not end a lease. */
    async beat(lease: string, leaseSeconds: number): Promise<void> {
      await db.raw(
        `insert into worker (lease, alive_until) values (?, now(3) + interval ? second)
         on duplicate key update alive_until = values(alive_until)`,
        [lease, leaseSeconds],
      );
    },
    async leave(lease: string): Promise<void> {
      await db('delivery').where({ lease, state: 'sending' }).update({ state: requeued, lease: null });
      await db('worker').where({ lease }).delete();
    },
    /** Puts back what dead workers held. A delivery cut off in mid-send is sent again under the same Message-ID. */
    async reclaim(): Promise<number> {
      const [result]: unknown[] = await db.raw(
        `update delivery set state = ${requeuedSql}, lease = null
         where channel in ('email', 'text') and state = 'sending' and lease not in (select lease from worker where alive_until > now(3))`,
      );
      await db('worker').whereRaw('alive_until < now(3) - interval 1 hour').delete();
      return affectedRows([result]);
    },
    async liveWorkers(): Promise<number> {
      const [row] = await db('worker').whereRaw('alive_until > now(3)').count({ n: '*' });
      return Number(row?.['n'] ?? 0);
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
    /** What came back later: a bounce, or a gateway's receipt. */
    async setAftermath(id: number, state: 'bounced' | 'delivered' | 'failed', answer: string): Promise<boolean> {
      return (
        (await db('delivery')
          .where({ id })
          .whereIn('state', ['sent', 'sending', 'delivered'])
          .update({ state, answer: answer.slice(0, 500) })) > 0
      );
    },
  };

  async function insertDeliveries(firingId: number, channel: Channel, now: Date, where: Sql): Promise<number> {
    const result: unknown = await db.raw(
      `insert ignore into delivery (firing_id, subscriber_id, channel, state, next_at)
       select ?, s.id, ?, 'queued', ? from subscriber s where ${where.text}`,
      [firingId, channel, now, ...where.bindings],
    );
    return affectedRows(result);
  }
}

interface ClaimRow extends OwnColumns, ByDateColumns {
  id: number;
  firing_id: number;
  channel: Channel;
  attempts: number;
  person_id: number;
  name: string;
  email: string | null;
  mobile: string;
  zone: string;
  feed_nonce: number;
}
const claimOf = (row: ClaimRow): ClaimedDelivery => ({
  id: row.id,
  firingId: row.firing_id,
  channel: row.channel,
  attempts: row.attempts,
  person: {
    id: row.person_id,
    name: row.name,
    email: row.email ?? '',
    mobile: row.mobile,
    zone: row.zone,
    feedNonce: row.feed_nonce,
    own: ownOf(row),
    dates: byDatesOf(row),
  },
});

/** Invited already, or about to be by another sending. */
const invitedSql = (eventId: number | null): Sql =>
  eventId === null
    ? sql('false')
    : sql(
        `(s.id in (select subscriber_id from invitee where event_id = ? and holds_version is not null)
          or exists (select 1 from delivery d join firing f on f.id = d.firing_id
                     where d.subscriber_id = s.id and d.state in ('queued', 'sending') and f.event_id = ? and f.kind = 'invitation'))`,
        eventId,
        eventId,
      );

/**
 * Who is to hear of a change. An opt-out from marketing does not keep it back: whoever holds the old version in their
 * calendar would stand before a closed door (docs/decisions.md).
 */
const noticeSql = (eventId: number, version: number, channel: Channel): Sql =>
  sql(
    `s.id in (select i.subscriber_id from invitee i
       where i.event_id = ? and i.invited_at is not null and i.holds_version < ? and i.channel = ? and ${hasSomePartSql})
     and ${channel === 'email' ? 's.email is not null and s.bounced_at is null' : "s.mobile <> ''"}`,
    eventId,
    version,
    channel,
  );
