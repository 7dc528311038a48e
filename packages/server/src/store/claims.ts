import type { Knex } from 'knex';
import type { Channel, StoredFiringState } from '@convite/core';
import { affectedRows } from './database';
import { ownColumns, ownOf, type OwnColumns } from './personal';
import { byDateColumns, byDatesOf, type ByDateColumns } from './registrations';
import { inTransaction } from './retry-locked';
import type { Recipient } from './subscribers';

/** A message to one person that this worker holds. */
export interface ClaimedDelivery {
  readonly id: number;
  readonly firingId: number;
  readonly channel: Channel;
  readonly attempts: number;
  /** The date that its firing is for; empty for the whole. */
  readonly occurrence: string;
  readonly person: Recipient;
}

/** What is so of a claimed delivery right before it goes. */
export interface AskedAgain {
  readonly lease: string | null;
  readonly firingState: StoredFiringState;
  readonly mayHaveLeft: boolean;
  /** The version it was to say when it was claimed; null for what is about no event. */
  readonly saidVersion: number | null;
  /** The event's newest version now. */
  readonly eventVersion: number | null;
  readonly holdsVersion: number | null;
  readonly person: {
    readonly isErased: boolean;
    readonly optedOut: boolean;
    readonly bounced: boolean;
    readonly textConsent: boolean;
  };
}

/** What became of one attempt. */
export type Outcome =
  | { readonly id: number; readonly kind: 'sent' }
  | { readonly id: number; readonly kind: 'failed'; readonly answer: string }
  | {
      readonly id: number;
      readonly kind: 'retry';
      readonly answer: string;
      readonly nextMs: number;
      readonly mayHaveLeft: boolean;
    }
  /** Handed back untried; with a moment, behind the others. */
  | { readonly id: number; readonly kind: 'returned'; readonly nextMs: number | null }
  /** Not sent after all, because the firing was stopped. */
  | { readonly id: number; readonly kind: 'stopped' }
  /** Not sent after all: asked again, there is a reason against it. */
  | { readonly id: number; readonly kind: 'skipped'; readonly answer: string };
interface AskedRow {
  id: number;
  lease: string | null;
  said_version: number | null;
  may_have_left: number;
  firing_state: StoredFiringState;
  version: number | null;
  holds_version: number | null;
  person_id: number | null;
  opted_out_at: Date | null;
  bounced_at: Date | null;
  text_consent: number | null;
}
const askedOf = (row: AskedRow): AskedAgain => ({
  lease: row.lease,
  firingState: row.firing_state,
  mayHaveLeft: Boolean(row.may_have_left),
  saidVersion: row.said_version,
  eventVersion: row.version,
  holdsVersion: row.holds_version,
  person: {
    isErased: row.person_id === null,
    optedOut: row.opted_out_at !== null,
    bounced: row.bounced_at !== null,
    textConsent: Boolean(row.text_consent),
  },
});

/** Back to the queue, unless the firing was stopped while the delivery was held. */
const requeuedSql =
  "if((select f.state from firing f where f.id = delivery.firing_id) = 'stopped', 'stopped', 'queued')";
/** Deliveries in the hands of workers: each is claimed under a lease, asked about once more, and written down. */
export function claimStore(db: Knex) {
  const requeued = db.raw(requeuedSql);
  return {
    /** Takes up to `limit` due deliveries under this worker's lease, skipping what others are taking. */
    async claim(lease: string, channel: Channel, nowMs: number, limit: number): Promise<ClaimedDelivery[]> {
      const take = async (tx: Knex): Promise<number[]> => {
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
            .update({
              state: 'sending',
              lease,
              attempts: tx.raw('attempts + 1'),
              // Whoever finds it cut off says what it was to say; what may have left before keeps what it said.
              said_version: tx.raw(
                `if(may_have_left, said_version, (select e.version from firing f join event e on e.id = f.event_id
                                                  where f.id = delivery.firing_id))`,
              ),
            });
        return due;
      };
      const ids = await inTransaction(db, take);
      if (ids.length === 0) return [];
      const rows: ClaimRow[] = await db('delivery as d')
        .join('firing as f', 'f.id', 'd.firing_id')
        // Who was erased meanwhile is asked about once more before anything goes.
        .leftJoin('subscriber as s', 's.id', 'd.subscriber_id')
        .leftJoin('personal as p', (on) => on.on('p.event_id', 'f.event_id').andOn('p.subscriber_id', 's.id'))
        .leftJoin('invitee as i', (on) => on.on('i.event_id', 'f.event_id').andOn('i.subscriber_id', 's.id'))
        .whereIn('d.id', ids)
        .orderBy('d.id')
        .select(
          'd.id',
          'd.firing_id',
          'd.channel',
          'd.attempts',
          'f.occurrence',
          'd.subscriber_id as person_id',
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

    /**
     * How things stand with some claimed deliveries at this moment. What the newest version says is what they are to say,
     * unless a former attempt may have left.
     */
    async askAgain(ids: readonly number[]): Promise<Map<number, AskedAgain>> {
      const rows: AskedRow[] = await db('delivery as d')
        .join('firing as f', 'f.id', 'd.firing_id')
        .leftJoin('event as e', 'e.id', 'f.event_id')
        .leftJoin('subscriber as s', 's.id', 'd.subscriber_id')
        .leftJoin('invitee as i', (on) => on.on('i.event_id', 'f.event_id').andOn('i.subscriber_id', 'd.subscriber_id'))
        .whereIn('d.id', [...ids])
        .select(
          'd.id',
          'd.lease',
          'd.said_version',
          'd.may_have_left',
          'f.state as firing_state',
          'e.version',
          'i.holds_version',
          's.id as person_id',
          's.opted_out_at',
          's.bounced_at',
          's.text_consent',
        );
      const overtaken = rows.filter((row) => !row.may_have_left && row.said_version !== row.version);
      if (overtaken.length)
        await db('delivery')
          .whereIn(
            'id',
            overtaken.map(({ id }) => id),
          )
          .where('may_have_left', false)
          .update({
            said_version: db.raw(
              '(select e.version from firing f join event e on e.id = f.event_id where f.id = delivery.firing_id)',
            ),
          });
      return new Map(rows.map((row) => [row.id, askedOf(row)]));
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
      // A bounce or a receipt may be written down before the hand-over is: what came later stands.
      await update('sent', {
        state: db.raw("if(state = 'sending', 'sent', state)"),
        sent_at: now,
        answer: db.raw("if(state = 'sent', '', answer)"),
      });
      await update('stopped', { state: 'stopped' });
      for (const outcome of outcomes) {
        const answer = 'answer' in outcome ? outcome.answer.slice(0, 500) : '';
        const one = held([outcome.id]).where('state', 'sending');
        if (outcome.kind === 'failed') await one.update({ state: 'failed', lease: null, answer });
        if (outcome.kind === 'skipped') await one.update({ state: 'skipped', lease: null, answer });
        if (outcome.kind === 'returned')
          await one.update({
            state: requeued,
            lease: null,
            attempts: db.raw('greatest(attempts, 1) - 1'),
            ...(outcome.nextMs !== null && { next_at: new Date(outcome.nextMs) }),
          });
        if (outcome.kind === 'retry')
          await one.update({
            state: requeued,
            lease: null,
            next_at: new Date(outcome.nextMs),
            answer,
            ...(outcome.mayHaveLeft && { may_have_left: true }),
          });
      }
    },
    /** A worker begins. On real time: the demonstration's clock must not end a lease. */
    async enter(lease: string, leaseSeconds: number): Promise<void> {
      await db.raw('insert into worker (lease, alive_until) values (?, now(3) + interval ? second)', [
        lease,
        leaseSeconds,
      ]);
    },
    /** Renews this worker's claims. False when they ran out: others may have taken them over. */
    async beat(lease: string, leaseSeconds: number): Promise<boolean> {
      const result: unknown = await db.raw(
        'update worker set alive_until = now(3) + interval ? second where lease = ? and alive_until > now(3)',
        [leaseSeconds, lease],
      );
      return affectedRows(result) > 0;
    },
    async leave(lease: string): Promise<void> {
      await db('delivery').where({ lease, state: 'sending' }).update({ state: requeued, lease: null });
      await db('worker').where({ lease }).delete();
    },
    /**
     * Puts back what dead workers held, some time after their lease: what they had on the wire is then written down, and
     * clocks of two database nodes may differ. A delivery cut off in mid-send is sent again under the same Message-ID.
     */
    async reclaim(graceSeconds: number): Promise<number> {
      const [result]: unknown[] = await db.raw(
        `update delivery set state = ${requeuedSql}, lease = null, may_have_left = true
         where channel in ('email', 'text') and state = 'sending'
           and lease not in (select lease from worker where alive_until > now(3) - interval ? second)`,
        [graceSeconds],
      );
      await db('worker').whereRaw('alive_until < now(3) - interval 1 hour').delete();
      return affectedRows([result]);
    },
    async liveWorkers(): Promise<number> {
      const [row] = await db('worker').whereRaw('alive_until > now(3)').count({ n: '*' });
      return Number(row?.['n'] ?? 0);
    },
  };
}

interface ClaimRow extends OwnColumns, ByDateColumns {
  id: number;
  firing_id: number;
  channel: Channel;
  attempts: number;
  occurrence: string;
  person_id: number;
  name: string | null;
  email: string | null;
  mobile: string | null;
  zone: string | null;
  feed_nonce: number | null;
}
const claimOf = (row: ClaimRow): ClaimedDelivery => ({
  id: row.id,
  firingId: row.firing_id,
  channel: row.channel,
  attempts: row.attempts,
  occurrence: row.occurrence,
  person: {
    id: row.person_id,
    name: row.name ?? '',
    email: row.email ?? '',
    mobile: row.mobile ?? '',
    zone: row.zone ?? '',
    feedNonce: row.feed_nonce ?? 0,
    own: ownOf(row),
    dates: byDatesOf(row),
    isGuest: row.is_by_date !== null,
  },
});
