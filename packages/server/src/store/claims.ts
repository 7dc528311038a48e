import type { Knex } from 'knex';
import { shareOut, type Channel, type Pace, type ReplyState, type WaitingClass } from '@convite/core';
import { askAgain } from './ask-again';
import { inList, sql, type Sql } from './database';
import { requeuedSql } from './outcomes';
import { houseSender } from './came-of';
import { drawPace, returnPaces } from './pace';
import { senderStore } from './senders';
import { lockDue, waitingClasses } from './waiting';
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
  readonly slot: string;
  readonly person: Recipient;
}

/** How long after its moment a firing is still looked at for messages that were in somebody's hands when it was stopped. */
const stoppedWithinMs = 7 * 86_400_000;

/** Firings of which workers may have messages in their hands, by key. */
export const inHand = (nowMs: number): Sql =>
  sql(
    `select id from firing where state = 'sending'
     union all select id from firing where state = 'stopped' and due_at > ? and is_expanded`,
    new Date(nowMs - stoppedWithinMs),
  );

/** Deliveries in the hands of workers: each is claimed under a lease, asked about once more, and written down. */
export function claimStore(db: Knex) {
  return { ...claims(db), ...askAgain(db) };
}

function claims(db: Knex) {
  /** Of each priority the firing whose turn was last. */
  const turns = new Map<number, number>();
  return {
    /**
     * Takes up to `limit` due deliveries under this worker's lease, skipping what others are taking: by priority, and round
     * the firings that wait, as core's `shareOut` says.
     * @param paceOfHouse how fast this channel may go; all workers draw from the same
     */
    async claim(
      lease: string,
      channel: Channel,
      nowMs: number,
      limit: number,
      paceOfHouse: Pace,
    ): Promise<ClaimedDelivery[]> {
      const classes = await waitingClasses(db, channel, nowMs, turns);
      if (classes.every(({ firings }) => firings.length === 0)) return [];
      /** What some firings get now; the next turn is that of those behind them. */
      const shareNow = (among: readonly WaitingClass[], howMany: number): Map<number, number> => {
        const shares = shareOut(among, howMany);
        for (const { priority, firings } of among) {
          const last = firings.findLast((id) => shares.has(id));
          if (last !== undefined) turns.set(priority, last);
        }
        return shares;
      };
      const takeShares = async (
        tx: Knex,
        wanted: ReadonlyMap<number, number>,
        have: readonly number[] = [],
      ): Promise<Paced> => {
        const due: Due[] = [];
        const had = new Set(have);
        for (const [firingId, share] of wanted) {
          // What this transaction holds already is found again.
          const found = await lockDue(tx, firingId, share + had.size, nowMs);
          const fresh = found.filter((id) => !had.has(id)).slice(0, share);
          for (const id of fresh) due.push({ id, firingId });
        }
        return asPaced(tx, channel, paceOfHouse, due);
      };
      const take = async (tx: Knex): Promise<number[]> => {
        const mine: number[] = [];
        let others = classes;
        // What a slow sender does not let out is not kept from the others.
        for (let goesOn = true; goesOn && mine.length < limit;) {
          const { ids, slow, isSpent } = await takeShares(tx, shareNow(others, limit - mine.length), mine);
          mine.push(...ids);
          others = others.map((one) => ({ ...one, firings: one.firings.filter((id) => !slow.has(id)) }));
          goesOn = !isSpent && slow.size > 0 && others.some(({ firings }) => firings.length > 0);
        }
        if (mine.length)
          await tx('delivery')
            .whereIn('id', mine)
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
        return mine;
      };
      const ids = await inTransaction(db, take);
      if (ids.length === 0) return [];
      const rows: ClaimRow[] = await db('delivery as d')
        .join('firing as f', 'f.id', 'd.firing_id')
        // Who was erased meanwhile is asked about once more before anything goes.
        .leftJoin('subscriber as s', 's.id', 'd.subscriber_id')
        .leftJoin('personal as p', (on) => on.on('p.event_id', 'f.event_id').andOn('p.subscriber_id', 's.id'))
        .leftJoin('invitee as i', (on) => on.on('i.event_id', 'f.event_id').andOn('i.subscriber_id', 's.id'))
        // An answer for the date goes before that for the whole.
        .leftJoin('invitee_occurrence as io', (on) =>
          on
            .on('io.event_id', 'f.event_id')
            .andOn('io.subscriber_id', 's.id')
            .andOn('io.occurrence', db.raw("substring_index(f.slot, '@', -1)")),
        )
        .whereIn('d.id', ids)
        .orderBy('d.id')
        .select(
          'd.id',
          'd.firing_id',
          'd.channel',
          'd.attempts',
          'f.slot',
          'd.subscriber_id as person_id',
          's.name',
          's.email',
          's.mobile',
          's.zone',
          's.language',
          's.feed_nonce',
          's.minds_noting',
          ...ownColumns,
          ...byDateColumns(db),
          db.raw(`coalesce(io.reply, i.reply, 'needs-action') as reply`),
        );
      return rows.map(claimOf);
    },

    /** Puts back what this lease holds and its worker does not remember. */
    async returnStrays(lease: string, channel: Channel, remembered: readonly number[], nowMs: number): Promise<void> {
      const firings = inHand(nowMs);
      const kept = inList([0, ...remembered]);
      await db.raw(
        `update delivery join (${firings.text}) f on f.id = delivery.firing_id
         set delivery.state = ${requeuedSql}, delivery.lease = null
         where delivery.state = 'sending' and delivery.channel = ? and delivery.lease = ? and delivery.id not in ${kept.text}`,
        [...firings.bindings, channel, lease, ...kept.bindings],
      );
    },
  };
}

interface Due {
  readonly id: number;
  readonly firingId: number;
}
interface Paced {
  readonly ids: readonly number[];
  /** Firings whose sender lets nothing more out now. */
  readonly slow: ReadonlySet<number>;
  /** The house itself lets nothing more out now. */
  readonly isSpent: boolean;
}

/** As many of some messages as the house lets out now, and of those of a sender with a pace of its own as that does. */
async function asPaced(tx: Knex, channel: Channel, paceOfHouse: Pace, due: readonly Due[]): Promise<Paced> {
  const paces = await senderStore(tx).pacesOf([...new Set(due.map(({ firingId }) => firingId))]);
  const left = new Map<number, number>();
  for (const { senderId, pace } of new Map([...paces.values()].map((one) => [one.senderId, one])).values()) {
    const wanted = due.filter(({ firingId }) => paces.get(firingId)?.senderId === senderId).length;
    left.set(senderId, await drawPace(tx, senderId, channel, pace, wanted));
  }
  const slow = new Set<number>();
  const may = due.filter(({ firingId }) => {
    const { senderId = houseSender } = paces.get(firingId) ?? {};
    const rest = left.get(senderId);
    if (rest === undefined) return true;
    left.set(senderId, rest - 1);
    if (rest <= 0) slow.add(firingId);
    return rest > 0;
  });
  const granted = await drawPace(tx, houseSender, channel, paceOfHouse, may.length);
  const dropped = may.slice(granted).map(({ firingId }) => firingId);
  await returnPaces(tx, channel, dropped, paces);
  return { ids: may.slice(0, granted).map(({ id }) => id), slow, isSpent: granted < may.length };
}

interface ClaimRow extends OwnColumns, ByDateColumns {
  id: number;
  firing_id: number;
  channel: Channel;
  attempts: number;
  slot: string;
  person_id: number;
  name: string | null;
  email: string | null;
  mobile: string | null;
  zone: string | null;
  language: string | null;
  feed_nonce: number | null;
  minds_noting: number | null;
  reply: ReplyState;
}
const claimOf = (row: ClaimRow): ClaimedDelivery => ({
  id: row.id,
  firingId: row.firing_id,
  channel: row.channel,
  attempts: row.attempts,
  slot: row.slot,
  person: {
    id: row.person_id,
    name: row.name ?? '',
    email: row.email ?? '',
    mobile: row.mobile ?? '',
    zone: row.zone ?? '',
    language: row.language ?? '',
    feedNonce: row.feed_nonce ?? 0,
    own: ownOf(row),
    dates: byDatesOf(row),
    isGuest: row.is_by_date !== null,
    reply: row.reply,
    ...(row.minds_noting && { mindsNoting: true }),
  },
});
