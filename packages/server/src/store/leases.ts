import type { Knex } from 'knex';
import { inHand } from './claims';
import { requeuedSql } from './outcomes';
import { affectedRows, sql, type Sql } from './database';
import { retryLocked } from './retry-locked';

/** Workers and how long their claims are good. */
export function leaseStore(db: Knex) {
  return {
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
    async leave(lease: string, nowMs: number): Promise<void> {
      await putBack(sql('lease = ?', lease), nowMs, false);
      await db('worker').where({ lease }).delete();
    },
    /**
     * Puts back what dead workers held, some time after their lease: what they had on the wire is then written down, and
     * clocks of two database nodes may differ. A delivery cut off in mid-send is sent again under the same Message-ID.
     */
    async reclaim(graceSeconds: number, nowMs: number): Promise<number> {
      const dead = sql(
        'lease not in (select lease from worker where alive_until > now(3) - interval ? second)',
        graceSeconds,
      );
      const reclaimed = await putBack(dead, nowMs, true);
      await db('worker').whereRaw('alive_until < now(3) - interval 1 hour').delete();
      return reclaimed;
    },
    async liveWorkers(): Promise<number> {
      const [row] = await db('worker').whereRaw('alive_until > now(3)').count({ n: '*' });
      return Number(row?.['n'] ?? 0);
    },
  };

  /** Messages held under some leases go back to the queue. */
  async function putBack(held: Sql, nowMs: number, mayHaveLeft: boolean): Promise<number> {
    const firings = inHand(nowMs);
    const putThemBack = (): Promise<unknown[]> =>
      db.raw(
        `update delivery join (${firings.text}) f on f.id = delivery.firing_id
       set delivery.state = ${requeuedSql}, delivery.lease = null${mayHaveLeft ? ', delivery.may_have_left = true' : ''}
       where delivery.state = 'sending' and delivery.${held.text}`,
        [...firings.bindings, ...held.bindings],
      );
    const [result] = await retryLocked(putThemBack);
    return affectedRows([result]);
  }
}
