import { randomBytes } from 'node:crypto';
import type { Knex } from 'knex';
import { openDatabase } from './database';
import { withMigrationLock } from './migration-lock';
import { migrate } from './migrate';
import { resumably } from './resumably';

describe('bringing the tables up to date', () => {
  let db: Knex;
  let url: string;
  let name: string;
  beforeEach(async () => {
    const base = process.env['SPEC_DATABASE_URL'] ?? '';
    name = `convite_spec_${randomBytes(5).toString('hex')}`;
    url = base.replace(/\/[^/]*$/, `/${name}`);
    const admin = openDatabase(base, 1);
    await admin.raw(`create database ${name}`);
    await admin.destroy();
    db = openDatabase(url, 1);
    await withMigrationLock(url, { say: () => undefined, longestWaitMs: 1000 }, () => Promise.resolve());
  });
  afterEach(async () => {
    await db.raw(`drop database ${name}`);
    await db.destroy();
  });

  const step = async (on: Knex): Promise<void> => {
    await on.schema.createTable('dome', (t) => {
      t.increments('id');
      t.string('name', 20);
    });
    await on.raw(`insert into dome (name) values ('north'), ('south')`);
    await on.schema.alterTable('dome', (t) => t.boolean('is_open').notNullable().defaultTo(false));
    await on.raw(`insert into dome (name) select concat(name, ' 2') from dome`);
    await on.raw('alter table dome rename column name to title');
    await on.raw(`update dome set is_open = true where title = 'north'`);
    await on.schema.alterTable('dome', (t) => t.index(['title']));
  };
  const result = async () => ({
    rows: await db('dome').orderBy('id').select('title', 'is_open'),
    indexed: (await db.raw('show index from dome'))[0].length as number,
  });

  /** The connection goes after the nth statement that changes something, before or after that is noted. */
  const cutOff = async (after: number, isNoted: boolean): Promise<void> => {
    const other = openDatabase(url, 1);
    const client: { _query(connection: unknown, query: { sql: string }): Promise<unknown> } = other.client;
    const send = client._query.bind(client);
    let seen = 0;
    client._query = async (connection, query) => {
      if (seen >= after) throw new Error('cut off');
      if (query.sql.startsWith('update migration_step')) {
        seen += 1;
        if (seen === after && !isNoted) throw new Error('cut off');
      }
      return send(connection, query);
    };
    await expectAsync(resumably(other, 'dome', () => step(other))).toBeRejectedWithError(/cut off/);
    await other.destroy();
  };

  it('is carried on wherever it was cut off, and each statement counts once', async () => {
    await resumably(db, 'dome', () => step(db));
    const whole = await result();
    expect(whole.rows.length).toBe(4);
    for (const isNoted of [true, false])
      for (let after = 1; after <= 7; after += 1) {
        await db.raw('drop table dome');
        await db('migration_step').delete();
        if (after < 7 || !isNoted) await cutOff(after, isNoted);
        await resumably(db, 'dome', () => step(db));
        expect([isNoted, after, await result()]).toEqual([isNoted, after, whole]);
      }
  });

  it('stops at a statement that cannot be done, and hides no other fault behind being done already', async () => {
    const wrong = async (): Promise<void> => {
      await db.raw('create table dome (id int)');
      await db.raw('alter table nowhere add column x int');
    };
    await expectAsync(resumably(db, 'dome', wrong)).toBeRejectedWithError(/nowhere/);
    await db.raw('drop table dome');
    await db.raw('create table dome (id int)');
    await db('migration_step').delete();
    // It is there, and nobody began this step: it is somebody else's.
    await expectAsync(resumably(db, 'dome', wrong)).toBeRejectedWithError(/already exists/);
  });

  it('is done by one process at a time: the other waits, and says for whom; who is gone is taken over', async () => {
    let slow: Promise<void> = Promise.resolve();
    const order: string[] = [];
    const said: string[] = [];
    const say = (sentence: string): void => void said.push(sentence);
    let goOn = (): void => undefined;
    const begun = new Promise<void>((begins) => {
      slow = withMigrationLock(url, { say, longestWaitMs: 20_000 }, async (hasLock) => {
        order.push('one begins');
        begins();
        await new Promise<void>((resolve) => (goOn = resolve));
        order.push(`one ends ${hasLock()}`);
      });
    });
    await begun;
    await expectAsync(
      withMigrationLock(url, { say, longestWaitMs: 100 }, () => Promise.resolve()),
    ).toBeRejectedWithError(/does not come to an end. End it, then try again/);
    const next = withMigrationLock(url, { say, longestWaitMs: 20_000 }, () => Promise.resolve(void order.push('two')));
    goOn();
    await Promise.all([slow, next]);
    expect(order).toEqual(['one begins', 'one ends true', 'two']);
    expect(said[0]).toMatch(/^The tables are being brought up to date by .*, process \d+, \w+. Waiting for it.$/);
    // A process that was killed renews nothing.
    await db('migration_lock').update({ owner: 'gone', alive_until: db.raw('now(3) - interval 1 second') });
    await withMigrationLock(url, { say, longestWaitMs: 1000 }, () => Promise.resolve(void order.push('three')));
    expect(order.at(-1)).toBe('three');
  });

  it('says what went wrong without what stands in a row', async () => {
    await db.raw('create table guest (email varchar(40) unique, note varchar(5))');
    await db('guest').insert({ email: 'ana@secret.example', note: '' });
    for (const work of [
      () => db('guest').insert({ email: 'ana@secret.example', note: '' }),
      () => db('guest').insert({ email: 'ben@secret.example', note: 'too long a secret' }),
      () => db.raw(`insert into guest values ('ana@secret.example', '')`),
      () => db.raw(`select * from nowhere where email = 'ana@secret.example'`),
    ]) {
      const error: unknown = await work().then(
        () => null,
        (thrown: unknown) => thrown,
      );
      const said = error instanceof Error ? `${error.message} ${error.stack} ${JSON.stringify(error)}` : '';
      expect([/secret/.test(said), /guest|nowhere/.test(said)]).toEqual([false, true]);
    }
  });

  it('works on an empty database, two at once, and says nothing where there is nothing to do', async () => {
    const said: string[] = [];
    await Promise.all([migrate(url, (one) => said.push(one)), migrate(url)]);
    const steps: string[] = await db('knex_migrations').pluck('name');
    expect([steps.length > 60, new Set(steps).size]).toEqual([true, steps.length]);
    expect(await db('migration_step')).toEqual([]);
    said.length = 0;
    await migrate(url, (one) => said.push(one));
    expect(said).toEqual([]);
  }, 120_000);
});
