import type { Knex } from 'knex';

/** A time that a person proposed instead, as it is kept. */
export interface StoredProposal {
  readonly id: number;
  readonly eventId: number;
  readonly subscriberId: number;
  readonly name: string;
  readonly email: string;
  readonly mobile: string;
  readonly occurrence: string;
  readonly startMs: number;
  readonly endMs: number;
  readonly comment: string;
  readonly state: 'open' | 'accepted' | 'declined';
  readonly at: Date;
}

interface Row {
  id: number;
  event_id: number;
  subscriber_id: number;
  name: string;
  email: string | null;
  mobile: string;
  occurrence: string;
  starts_at: Date;
  ends_at: Date;
  comment: string;
  state: StoredProposal['state'];
  received_at: Date;
}

export function proposalStore(db: Knex) {
  const rows = () =>
    db('proposal as p')
      .join('subscriber as s', 's.id', 'p.subscriber_id')
      .select('p.*', 's.name', 's.email', 's.mobile');
  return {
    /** A person's newer proposal for the same date takes the place of the one before. */
    async add(proposal: {
      eventId: number;
      subscriberId: number;
      occurrence: string;
      startMs: number;
      endMs: number;
      comment: string;
      now: Date;
    }): Promise<void> {
      const { eventId, subscriberId, occurrence, startMs, endMs, comment, now } = proposal;
      await db('proposal')
        .where({ event_id: eventId, subscriber_id: subscriberId, occurrence, state: 'open' })
        .delete();
      await db('proposal').insert({
        event_id: eventId,
        subscriber_id: subscriberId,
        occurrence,
        starts_at: new Date(startMs),
        ends_at: new Date(endMs),
        comment: comment.slice(0, 500),
        state: 'open',
        received_at: now,
      });
    },
    async open(eventId: number): Promise<StoredProposal[]> {
      const found: Row[] = await rows().where({ 'p.event_id': eventId, 'p.state': 'open' }).orderBy('p.id').limit(200);
      return found.map(proposalOf);
    },
    async find(id: number): Promise<StoredProposal | null> {
      const row: Row | undefined = await rows().where({ 'p.id': id }).first();
      return row ? proposalOf(row) : null;
    },
    /** Closes an open proposal; false when somebody else just did. */
    async close(id: number, state: 'accepted' | 'declined'): Promise<boolean> {
      return (await db('proposal').where({ id, state: 'open' }).update({ state })) > 0;
    },
    async countOpen(): Promise<{ eventId: number; count: number }[]> {
      const found: { event_id: number; n: number }[] = await db('proposal')
        .where({ state: 'open' })
        .groupBy('event_id')
        .select('event_id', db.raw('count(*) as n'));
      return found.map((row) => ({ eventId: row.event_id, count: Number(row.n) }));
    },
  };
}

const proposalOf = (row: Row): StoredProposal => ({
  id: row.id,
  eventId: row.event_id,
  subscriberId: row.subscriber_id,
  name: row.name,
  email: row.email ?? '',
  mobile: row.mobile,
  occurrence: row.occurrence,
  startMs: row.starts_at.getTime(),
  endMs: row.ends_at.getTime(),
  comment: row.comment,
  state: row.state,
  at: row.received_at,
});
