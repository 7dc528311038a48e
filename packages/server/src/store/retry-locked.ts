import type { Knex } from 'knex';
import { errnoOf } from './database';

/** Deadlock or a certification failure of the cluster (1213), and a lock waited for in vain (1205): nothing was done. */
const lockErrors: readonly number[] = [1213, 1205];
const attempts = 6;
const firstWaitMs = 20;

/**
 * Does some work again when the database gave it up for another's sake. Waits grow, and differ by chance, so that two
 * that met once do not meet again.
 */
export async function retryLocked<T>(work: () => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt += 1) {
    try {
      return await work();
    } catch (error) {
      if (attempt === attempts || !lockErrors.includes(errnoOf(error))) throw error;
      await sleep(firstWaitMs * 2 ** attempt * (0.5 + Math.random()));
    }
  }
}

/** Some work in one transaction, done again as `retryLocked` says. Inside a transaction it is a part of that one. */
export const inTransaction = <T>(db: Knex, work: (tx: Knex) => Promise<T>): Promise<T> =>
  db.isTransaction ? work(db) : retryLocked(() => db.transaction(work));

const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));
