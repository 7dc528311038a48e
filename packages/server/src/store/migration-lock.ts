import { hostname } from 'node:os';
import { randomUUID } from 'node:crypto';
import { affectedRows, openDatabase } from './database';
import { retryLocked } from './retry-locked';

/** Whoever holds the lock says so this often; who was silent for the other lost it. */
const renewEveryMs = 3000;
const aliveSeconds = 20;
const askEveryMs = 500;
const sayEveryMs = 10_000;

export interface LockOptions {
  readonly say: (sentence: string) => void;
  readonly longestWaitMs: number;
}

/**
 * Does some work while no other process does it: one row says whose turn it is, and until when. It is renewed from a connection of
 * its own, so that a statement that takes an hour loses nothing; one whose owner is gone is taken over by the next.
 * @param work asks by `hasLock` before each part of it whether the turn is still its own
 * @throws Error with a sentence where the turn does not come in time
 */
export async function withMigrationLock(
  urls: string,
  { say, longestWaitMs }: LockOptions,
  work: (hasLock: () => boolean) => Promise<void>,
): Promise<void> {
  const db = openDatabase(urls, 1);
  const owner = `${hostname()}, process ${process.pid}, ${randomUUID().slice(0, 8)}`;
  const take = async (): Promise<boolean> =>
    affectedRows(
      await retryLocked(() =>
        db.raw(
          `update migration_lock set owner = ?, alive_until = now(3) + interval ? second
         where id = 1 and (owner = ? or alive_until < now(3))`,
          [owner, aliveSeconds, owner],
        ),
      ),
    ) > 0;
  let isHeld = false;
  let timer: NodeJS.Timeout | undefined;
  try {
    await db.raw(`create table if not exists knex_migrations
      (id int unsigned not null auto_increment primary key, name varchar(255), batch int, migration_time timestamp null)`);
    await db.raw(
      `create table if not exists migration_step (name varchar(255) not null primary key, statements int unsigned not null)`,
    );
    await db.raw(`create table if not exists migration_lock
      (id tinyint not null primary key, owner varchar(200) not null, alive_until datetime(3) not null)`);
    await db.raw(`insert ignore into migration_lock values (1, '', '2000-01-01')`);
    const askedMs = performance.now();
    let saidMs = -Infinity;
    while (!(await take())) {
      const now = performance.now();
      const other: { owner: string } | undefined = await db('migration_lock').where({ id: 1 }).first('owner');
      if (now - askedMs > longestWaitMs)
        throw new Error(
          `The tables are being brought up to date by ${other?.owner ?? 'another process'}, which does not come to an end. End it, then try again.`,
        );
      if (now - saidMs > sayEveryMs) {
        saidMs = now;
        say(`The tables are being brought up to date by ${other?.owner ?? 'another process'}. Waiting for it.`);
      }
      await new Promise((resolve) => setTimeout(resolve, askEveryMs));
    }
    isHeld = true;
    timer = setInterval(() => {
      take().then(
        (still) => (isHeld = still),
        () => undefined,
      );
    }, renewEveryMs);
    await work(() => isHeld);
  } finally {
    clearInterval(timer);
    if (isHeld)
      await db('migration_lock')
        .where({ id: 1, owner })
        .update({ alive_until: db.raw('now(3) - interval 1 second') })
        .catch(() => undefined);
    await db.destroy();
  }
}
