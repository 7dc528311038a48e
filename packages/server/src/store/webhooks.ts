import type { Knex } from 'knex';
import { webhookCallStates, webhookKinds, type WebhookFields, type WebhookKind } from '@convite/contract';
import type { Channel } from '@convite/core';
import { inTransaction } from './retry-locked';

export interface StoredWebhook extends WebhookFields {
  readonly id: number;
  /** Sealed. */
  readonly secret: string;
  readonly failingSince: Date | null;
}
/** Something that another system is told. */
export interface StoredCall {
  readonly id: number;
  readonly kind: WebhookKind | 'cue' | 'test';
  readonly state: (typeof webhookCallStates)[number];
  readonly subscriberId: number | null;
  readonly eventId: number | null;
  readonly occurrence: string;
  readonly channel: Channel | null;
  readonly detail: string;
  readonly at: Date;
  readonly attempts: number;
  readonly answer: string;
  readonly nextAt: Date;
}
/** What happened, beside whom it happened to. */
export interface Happened {
  readonly kind: WebhookKind;
  readonly eventId?: number;
  readonly occurrence?: string;
  readonly channel?: Channel;
  readonly detail?: string;
}

/** While one is called, nobody else calls it: real time, however the clock is moved. */
const leaseSeconds = 120;
const longestAnswer = 300;

/** Other systems that are told of things, and what they are told. */
export function webhookStore(db: Knex) {
  return {
    async all(): Promise<StoredWebhook[]> {
      const rows: Row[] = await db('webhook').orderBy('id');
      return rows.map(webhookOf);
    },
    async find(id: number): Promise<StoredWebhook | null> {
      const row: Row | undefined = await db('webhook').where({ id }).first();
      return row ? webhookOf(row) : null;
    },
    async create(fields: WebhookFields, secret: string, now: Date): Promise<number> {
      const [id] = await db('webhook').insert({ ...columnsOf(fields), secret, next_at: now });
      return Number(id);
    },
    /** What waits is tried anew. */
    async update(id: number, fields: WebhookFields, now: Date): Promise<void> {
      await db('webhook')
        .where({ id })
        .update({ ...columnsOf(fields), next_at: now, failing_since: null });
      await db('webhook_call').where({ webhook_id: id, state: 'waiting' }).update({ next_at: now });
    },
    async remove(id: number): Promise<boolean> {
      return (await db('webhook').where({ id }).delete()) > 0;
    },
    /** How many calls of each wait; counts no further than `most`. */
    async waiting(id: number, most: number): Promise<number> {
      const rows: unknown[] = await db('webhook_call')
        .where({ webhook_id: id, state: 'waiting' })
        .limit(most)
        .select('id');
      return rows.length;
    },
    tell: (ids: readonly number[], happened: Happened, at: Date): Promise<void> => tellOthers(db, ids, happened, at),
    /** A cue calls it, whatever it is told of otherwise. */
    async call(id: number, { eventId, occurrence = '', detail = '' }: Omit<Happened, 'kind'>, at: Date): Promise<void> {
      await db('webhook_call').insert({
        ...{ webhook_id: id, kind: 'cue', state: 'waiting', event_id: eventId ?? null, occurrence },
        ...{ detail: detail.slice(0, 100), at, next_at: at },
      });
      await db('webhook').where({ id }).update({ next_at: at });
    },
    async test(id: number, now: Date): Promise<void> {
      await db('webhook_call').insert({ webhook_id: id, kind: 'test', state: 'waiting', at: now, next_at: now });
      await db('webhook').where({ id }).update({ next_at: now });
    },

    /**
     * Takes the first that is due to be called, with the next of its calls in their order. Nobody else calls it meanwhile.
     * @returns null when none is
     */
    takeDue(
      now: Date,
      most: number,
    ): Promise<{ readonly webhook: StoredWebhook; readonly calls: StoredCall[] } | null> {
      return inTransaction(db, async (tx) => {
        const row: Row | undefined = await tx('webhook as w')
          .where('w.is_on', true)
          .where('w.next_at', '<=', now)
          .whereRaw('w.lease_until < now(3)')
          .whereExists(
            tx('webhook_call as c')
              .whereRaw("c.webhook_id = w.id and c.state = 'waiting'")
              .where('c.next_at', '<=', now),
          )
          .orderBy('w.next_at')
          .forUpdate()
          .skipLocked()
          .first('w.*');
        if (!row) return null;
        await tx('webhook')
          .where({ id: row.id })
          .update({ lease_until: tx.raw(`now(3) + interval ${leaseSeconds} second`) });
        const calls: CallRow[] = await tx('webhook_call')
          .where({ webhook_id: row.id, state: 'waiting' })
          .where('next_at', '<=', now)
          .orderBy('id')
          .limit(most);
        return { webhook: webhookOf(row), calls: calls.map(callOf) };
      });
    },
    /** What became of a call. @param nextMs when it is tried again; null for never */
    async record(
      id: number,
      { isTaken, answer }: { isTaken: boolean; answer: string },
      next: Date | null,
    ): Promise<void> {
      await db('webhook_call')
        .where({ id })
        .update({
          state: isTaken ? 'done' : next === null ? 'failed' : 'waiting',
          attempts: db.raw('attempts + 1'),
          answer: answer.slice(0, longestAnswer),
          ...(next !== null && { next_at: next }),
        });
    },
    /** Lets others call it again, from then on. */
    async settle(id: number, nextAt: Date, isFailing: boolean, now: Date): Promise<void> {
      await db('webhook')
        .where({ id })
        .update({
          next_at: nextAt,
          lease_until: db.raw("'1970-01-01'"),
          failing_since: isFailing ? db.raw('coalesce(failing_since, ?)', [now]) : null,
        });
    },
    /** The newest calls of one, before one of them. */
    async log(id: number, before: number, limit: number): Promise<StoredCall[]> {
      const rows: CallRow[] = await db('webhook_call')
        .where({ webhook_id: id })
        .modify((query) => void (before > 0 && query.where('id', '<', before)))
        .orderBy('id', 'desc')
        .limit(limit);
      return rows.map(callOf);
    },
    /** Posts it again, whatever became of it. @returns whether it is there */
    async again(id: number, callId: number, now: Date): Promise<boolean> {
      const changed = await db('webhook_call')
        .where({ id: callId, webhook_id: id })
        .whereNot('state', 'waiting')
        .update({ state: 'waiting', attempts: 0, next_at: now });
      if (changed) await db('webhook').where({ id }).update({ next_at: now });
      return changed > 0;
    },
    /** What was done with so long ago. */
    async forget(before: Date): Promise<void> {
      for (const state of ['done', 'failed'])
        await db('webhook_call').where({ state }).where('next_at', '<', before).limit(5000).delete();
    },
  };
}

/** Writes down what happened to some people for whoever is told of it, in the transaction in which it did. */
export async function tellOthers(
  db: Knex,
  ids: readonly number[],
  { kind, eventId, occurrence = '', channel, detail = '' }: Happened,
  at: Date,
): Promise<void> {
  if (ids.length === 0) return;
  await db.raw(
    `insert into webhook_call (webhook_id, kind, state, subscriber_id, event_id, occurrence, channel, detail, at, next_at)
     select w.id, ?, 'waiting', s.id, ?, ?, ?, ?, ?, ?
     from webhook w join subscriber s on s.id in (${ids.map(() => '?').join()})
     where w.is_on and find_in_set(?, w.kinds)`,
    [kind, eventId ?? null, occurrence, channel ?? null, detail.slice(0, 100), at, at, ...ids, kind],
  );
}

interface Row {
  id: number;
  name: string;
  url: string;
  kinds: string;
  is_on: number;
  secret: string;
  failing_since: Date | null;
}
const webhookOf = (row: Row): StoredWebhook => ({
  id: row.id,
  name: row.name,
  url: row.url,
  kinds: webhookKinds.filter((kind) => row.kinds.split(',').includes(kind)),
  isOn: Boolean(row.is_on),
  secret: row.secret,
  failingSince: row.failing_since,
});
const columnsOf = ({ name, url, kinds, isOn }: WebhookFields) => ({ name, url, kinds: kinds.join(','), is_on: isOn });

interface CallRow {
  id: number;
  kind: string;
  state: string;
  subscriber_id: number | null;
  event_id: number | null;
  occurrence: string;
  channel: Channel | null;
  detail: string;
  at: Date;
  attempts: number;
  answer: string;
  next_at: Date;
}
const callOf = (row: CallRow): StoredCall => ({
  id: row.id,
  kind: row.kind === 'cue' ? row.kind : (webhookKinds.find((kind) => kind === row.kind) ?? 'test'),
  state: webhookCallStates.find((state) => state === row.state) ?? 'failed',
  subscriberId: row.subscriber_id,
  eventId: row.event_id,
  occurrence: row.occurrence,
  channel: row.channel,
  detail: row.detail,
  at: row.at,
  attempts: row.attempts,
  answer: row.answer,
  nextAt: row.next_at,
});
