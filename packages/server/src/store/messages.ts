import type { Knex } from 'knex';
import type { FiringKind, MessageRow } from '@convite/contract';

/** A message to one person, of whatever age. */
export interface StoredMessage {
  readonly deliveryId: number;
  /** Of a message by hand; empty for what is called otherwise. */
  readonly title: string;
  readonly firingId: number;
  readonly personId: number;
  readonly kind: FiringKind;
  readonly channel: 'email' | 'text';
  readonly eventId: number | null;
  readonly cueId: number | null;
  readonly digestId: number | null;
  readonly state: MessageRow['state'];
  readonly sentAt: Date | null;
  /** When its firing was due. */
  readonly dueAt: Date;
  readonly answer: string;
  readonly isKept: boolean;
}

interface Row {
  id: number;
  title: string;
  firing_id: number;
  subscriber_id: number;
  kind: FiringKind;
  channel: 'email' | 'text';
  event_id: number | null;
  cue_id: number | null;
  digest_id: number | null;
  state: MessageRow['state'];
  sent_at: Date | null;
  due_at: Date;
  answer: string;
  is_kept: number;
}

/** The one reader of messages that are under way or lately gone, and of those long past. */
export function messageStore(db: Knex) {
  const isPartOf = { delivery: 's.delivery_id is not null', delivery_past: 'd.person is not null' };
  const latestIn = async (
    table: 'delivery' | 'delivery_past',
    ids: readonly number[],
    before: number,
    limit: number,
  ): Promise<Row[]> =>
    db(`${table} as d`)
      .join('firing as f', 'f.id', 'd.firing_id')
      .modify((query) => void (table === 'delivery' && query.leftJoin('said as s', 's.delivery_id', 'd.id')))
      .whereIn('d.subscriber_id', [...ids])
      .whereNot('d.channel', 'act')
      .modify((query) => void (before > 0 && query.where('d.id', '<', before)))
      .orderBy('d.id', 'desc')
      .limit(limit)
      .select(
        'd.id',
        'd.firing_id',
        'd.subscriber_id',
        'f.kind',
        'f.title',
        'd.channel',
        'f.event_id',
        'f.cue_id',
        'f.digest_id',
        'd.state',
        'd.sent_at',
        'f.due_at',
        'd.answer',
        db.raw(`${isPartOf[table]} as is_kept`),
      );
  return {
    /** A person's, the latest first. @param ids theirs, and of whoever was found to be them @param before the number of the last one seen; 0 for the first page */
    async ofPerson(
      ids: readonly number[],
      before: number,
      limit: number,
    ): Promise<{ rows: StoredMessage[]; next: number | null }> {
      const [hot, past] = await Promise.all([
        latestIn('delivery', ids, before, limit + 1),
        latestIn('delivery_past', ids, before, limit + 1),
      ]);
      const found = [...hot, ...past].sort((a, b) => b.id - a.id);
      const rows = found.slice(0, limit);
      return { rows: rows.map(messageOf), next: found.length > limit ? (rows.at(-1)?.id ?? null) : null };
    },
  };
}

const messageOf = (row: Row): StoredMessage => ({
  deliveryId: row.id,
  title: row.title,
  firingId: row.firing_id,
  personId: row.subscriber_id,
  kind: row.kind,
  channel: row.channel,
  eventId: row.event_id,
  cueId: row.cue_id,
  digestId: row.digest_id,
  state: row.state,
  sentAt: row.sent_at,
  dueAt: row.due_at,
  answer: row.answer,
  isKept: Boolean(row.is_kept),
});
