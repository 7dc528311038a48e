import type { Knex } from 'knex';
import { pressureWindowMs, type StoredFiringState } from '@convite/core';
import { inList, sql, type Sql } from './database';

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
  /** They had enough if all went that others hold for them, of which some may be on their way already. */
  readonly isCrowded: boolean;
  readonly person: {
    readonly isErased: boolean;
    /** Was found to be somebody else. */
    readonly isAbsorbed: boolean;
    readonly isInvented: boolean;
    readonly optedOut: boolean;
    readonly bounced: boolean;
    readonly textConsent: boolean;
  };
}

const noLimit = 1_000_000_000;
/**
 * Of two that are in hand at once the later firing gives way, as core's `hadEnough` says. This is asked of the earlier one: the
 * later may have been asked about before that was there. By the index of what counts.
 * @param unasked those that are asked about together or later: they will find it
 */
function crowded(perWeek: number | null, unasked: readonly number[]): Sql {
  const most = perWeek ?? noLimit;
  const later = inList(unasked);
  return sql(
    `(d.counts
      and (select count(*) from delivery o where o.subscriber_id = d.subscriber_id and o.counts and o.sent_at is null
             and o.state = 'sending' and o.firing_id > d.firing_id and o.id not in ${later.text}) > 0
      and (select count(*) from delivery o where o.subscriber_id = d.subscriber_id and o.counts and o.firing_id <> d.firing_id
             and ((o.sent_at >= f.due_at - interval ${pressureWindowMs / 1000} second and o.state in ('sent', 'delivered'))
               or (o.sent_at is null and o.state = 'sending' and (o.firing_id < d.firing_id or o.id not in ${later.text}))))
          >= least(coalesce(s.most_per_week, ?), ?))`,
    ...later.bindings,
    ...later.bindings,
    most,
    most,
  );
}

interface AskedRow {
  id: number;
  lease: string | null;
  said_version: number | null;
  may_have_left: number;
  firing_state: StoredFiringState;
  version: number | null;
  holds_version: number | null;
  is_crowded: number;
  person_id: number | null;
  same_as_id: number | null;
  invented_id: number | null;
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
  isCrowded: Boolean(row.is_crowded),
  person: {
    isErased: row.person_id === null,
    isAbsorbed: row.same_as_id !== null,
    isInvented: row.invented_id !== null,
    optedOut: row.opted_out_at !== null,
    bounced: row.bounced_at !== null,
    textConsent: Boolean(row.text_consent),
  },
});

/** What is asked about once more, right before it goes. */
export function askAgain(db: Knex) {
  return {
    /**
     * How things stand with some claimed deliveries at this moment. What the newest version says is what they are to say,
     * unless a former attempt may have left.
     * @param perWeek how many the house allows to one person; null for no limit but the person's own
     * @param behind what else this worker holds and has not asked about yet
     */
    async askAgain(
      ids: readonly number[],
      perWeek: number | null,
      behind: readonly number[],
    ): Promise<Map<number, AskedAgain>> {
      const isCrowded = crowded(perWeek, [...ids, ...behind]);
      const rows: AskedRow[] = await db('delivery as d')
        .join('firing as f', 'f.id', 'd.firing_id')
        .leftJoin('event as e', 'e.id', 'f.event_id')
        .leftJoin('subscriber as s', 's.id', 'd.subscriber_id')
        .leftJoin('invented as v', (on) => on.on('v.id', 'd.subscriber_id').andOnVal('v.kind', 'person'))
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
          's.same_as_id',
          'v.id as invented_id',
          's.opted_out_at',
          's.bounced_at',
          's.text_consent',
          db.raw(`${isCrowded.text} as is_crowded`, isCrowded.bindings),
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
  };
}
