import type { Knex } from 'knex';
import { deliveryStates, type LogRow, type MessageRow } from '@convite/contract';
import type { Lane } from '@convite/core';
import { manyFirings, type StoredFiring } from './firing-rows';

/** A message to one person, of a firing that is known. */
export interface LoggedDelivery {
  readonly id: number;
  readonly firingId: number;
  readonly personId: number;
  readonly state: MessageRow['state'];
  readonly sentAt: Date | null;
  readonly answer: string;
  readonly isKept: boolean;
}
/** Where a page within a firing goes on: state by state, each by when it is tried next, then by number. */
export interface PlaceInFiring {
  readonly state: number;
  readonly nextMs: number;
  readonly id: number;
}
export const beginningOfFiring: PlaceInFiring = { state: 0, nextMs: 0, id: 0 };

export interface LogFilter {
  readonly channel?: Lane | undefined;
  readonly eventId?: number | undefined;
  /** All where none is named. */
  readonly states: readonly MessageRow['state'][];
}
/** By what a firing keeps of itself: whether a message of that state can be among its own. */
const mayHold: Readonly<Record<MessageRow['state'], string>> = {
  failed: 'failed > 0',
  bounced: 'failed > 0',
  skipped: 'skipped > 0',
  stopped: "state = 'stopped'",
  sending: "state = 'sending'",
  queued: "state in ('sending', 'stopped')",
  sent: 'sent > 0',
  delivered: 'sent > 0',
};

/** What wants somebody stands first. */
const order: readonly MessageRow['state'][] = [...deliveryStates].sort((a, b) => rankOf(a) - rankOf(b));
function rankOf(state: MessageRow['state']): number {
  return ['failed', 'bounced', 'skipped', 'stopped', 'sending', 'queued', 'sent', 'delivered'].indexOf(state);
}

/** The log of what went out, of whatever age: each page by an index, however much there is. */
export function deliveryLog(db: Knex) {
  return {
    /** Firings that were carried out, the latest first. @param before those that were due before, or then with a lower number */
    async expandedBefore(
      { dueMs, id }: { readonly dueMs: number; readonly id: number },
      { channel, eventId, states }: LogFilter,
      limit: number,
    ): Promise<StoredFiring[]> {
      const at = new Date(dueMs);
      return manyFirings(
        db('firing')
          .where('due_at', '<=', at)
          .where((or) => or.where('due_at', '<', at).orWhere('id', '<', id))
          .where('is_expanded', true)
          .where('planned', '>', 0)
          .modify((query) => {
            if (channel) void query.where({ channel });
            if (eventId) void query.where({ event_id: eventId });
            if (states.length) void query.where((or) => states.forEach((state) => void or.orWhereRaw(mayHold[state])));
          })
          .orderBy([
            { column: 'due_at', order: 'desc' },
            { column: 'id', order: 'desc' },
          ])
          .limit(limit),
      );
    },
    /** Messages of one firing, those that did not arrive first. @param states that are looked for; all where none is named */
    async ofFiring(
      firingId: number,
      states: readonly MessageRow['state'][],
      from: PlaceInFiring,
      limit: number,
    ): Promise<{ readonly rows: readonly LoggedDelivery[]; readonly next: PlaceInFiring | null }> {
      const row: { is_past: number } | undefined = await db('firing').where({ id: firingId }).first('is_past');
      const table = row?.is_past ? 'delivery_past' : 'delivery';
      const found: { row: LogTableRow; place: PlaceInFiring }[] = [];
      for (let index = from.state; index < order.length && found.length <= limit; index += 1) {
        const state = order[index];
        if (state === undefined || (states.length && !states.includes(state))) continue;
        const after = index === from.state ? from : { ...beginningOfFiring, state: index };
        const rows = await inState(table, firingId, state, after, limit + 1 - found.length);
        found.push(
          ...rows.map((one) => ({
            row: one,
            place: { state: index, nextMs: one.next_at?.getTime() ?? 0, id: one.id },
          })),
        );
      }
      const page = found.slice(0, limit);
      return {
        rows: page.map((one) => loggedOf(one.row)),
        next: found.length > limit ? (page.at(-1)?.place ?? null) : null,
      };
    },
    /** What was answered to each of some deliveries, in the order of time. */
    async attemptsOf(ids: readonly number[]): Promise<Map<number, LogRow['attempts']>> {
      const rows: { delivery_id: number; at: Date; answer: string }[] = await db('attempt')
        .whereIn('delivery_id', [...ids])
        .orderBy('id')
        .select('delivery_id', 'at', 'answer');
      const attempts = new Map<number, LogRow['attempts']>();
      for (const { delivery_id, at, answer } of rows)
        attempts.set(delivery_id, [...(attempts.get(delivery_id) ?? []), { at: at.toISOString(), answer }]);
      return attempts;
    },
  };

  /** Of one state, by the index of a firing's states. */
  async function inState(
    table: 'delivery' | 'delivery_past',
    firingId: number,
    state: MessageRow['state'],
    { nextMs, id }: PlaceInFiring,
    limit: number,
  ): Promise<LogTableRow[]> {
    const query = db(`${table} as d`)
      .where({ 'd.firing_id': firingId, 'd.state': state })
      .limit(limit)
      .select('d.id', 'd.firing_id', 'd.subscriber_id', 'd.state', 'd.sent_at', 'd.answer');
    if (table === 'delivery_past')
      return query.where('d.id', '>', id).orderBy('d.id').select(db.raw('d.person is not null as is_kept'));
    const next = new Date(nextMs);
    return query
      .leftJoin('said as s', 's.delivery_id', 'd.id')
      .modify((rest) => {
        if (id > 0)
          void rest
            .where('d.next_at', '>=', next)
            .where((or) => or.where('d.next_at', '>', next).orWhere('d.id', '>', id));
      })
      .orderBy([{ column: 'd.next_at' }, { column: 'd.id' }])
      .select('d.next_at', db.raw('s.delivery_id is not null as is_kept'));
  }
}

interface LogTableRow {
  id: number;
  firing_id: number;
  subscriber_id: number;
  state: MessageRow['state'];
  sent_at: Date | null;
  next_at?: Date | null;
  answer: string;
  is_kept: number;
}
const loggedOf = (row: LogTableRow): LoggedDelivery => ({
  id: row.id,
  firingId: row.firing_id,
  personId: row.subscriber_id,
  state: row.state,
  sentAt: row.sent_at,
  answer: row.answer,
  isKept: Boolean(row.is_kept),
});
