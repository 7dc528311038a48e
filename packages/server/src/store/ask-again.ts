import type { Knex } from 'knex';
import type { StoredFiringState } from '@convite/core';

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
    /** Was found to be somebody else. */
    readonly isAbsorbed: boolean;
    readonly isInvented: boolean;
    readonly optedOut: boolean;
    readonly bounced: boolean;
    readonly textConsent: boolean;
  };
}

interface AskedRow {
  id: number;
  lease: string | null;
  said_version: number | null;
  may_have_left: number;
  firing_state: StoredFiringState;
  version: number | null;
  holds_version: number | null;
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
     */
    async askAgain(ids: readonly number[]): Promise<Map<number, AskedAgain>> {
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
