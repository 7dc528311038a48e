import type { Knex } from 'knex';
import { requeuedSql } from './claims';
import { affectedRows, inList } from './database';

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
    async leave(lease: string): Promise<void> {
      await putBack([lease], false);
      await db('worker').where({ lease }).delete();
    },
    /**
     * Puts back what dead workers held, some time after their lease: what they had on the wire is then written down, and
     * clocks of two database nodes may differ. A delivery cut off in mid-send is sent again under the same Message-ID.
     */
    async reclaim(graceSeconds: number): Promise<number> {
      const gone: string[] = await db('worker_firing as w')
        .leftJoin('worker as alive', (on) =>
          on
            .on('alive.lease', 'w.lease')
            .andOn('alive.alive_until', '>', db.raw('now(3) - interval ? second', [graceSeconds])),
        )
        .whereNull('alive.lease')
        .distinct('w.lease')
        .limit(20)
        .pluck('w.lease');
      const reclaimed = await putBack(gone, true);
      await db('worker').whereRaw('alive_until < now(3) - interval 1 hour').delete();
      return reclaimed;
    },
    /** Which firings a worker had in hand is of no use once they are over. */
    async forgetFirings(): Promise<void> {
      await db.raw(
        `delete w from worker_firing w left join firing f on f.id = w.firing_id
         where f.id is null or (f.state not in ('sending', 'stopped') and f.due_at < now(3) - interval 1 day)`,
      );
    },
    async liveWorkers(): Promise<number> {
      const [row] = await db('worker').whereRaw('alive_until > now(3)').count({ n: '*' });
      return Number(row?.['n'] ?? 0);
    },
  };

  /** Messages of leases that are over go back to the queue; they are looked for in the firings noted for them. */
  async function putBack(leases: readonly string[], mayHaveLeft: boolean): Promise<number> {
    if (leases.length === 0) return 0;
    const those = inList(leases);
    const [result]: unknown[] = await db.raw(
      `update delivery join (select distinct firing_id from worker_firing where lease in ${those.text}) w
         on w.firing_id = delivery.firing_id
       set delivery.state = ${requeuedSql}, delivery.lease = null${mayHaveLeft ? ', delivery.may_have_left = true' : ''}
       where delivery.state = 'sending' and delivery.lease in ${those.text}`,
      [...those.bindings, ...those.bindings],
    );
    await db('worker_firing')
      .whereIn('lease', [...leases])
      .delete();
    return affectedRows([result]);
  }
}
