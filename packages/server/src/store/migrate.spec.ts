import { readFileSync } from 'node:fs';
import { randomBytes } from 'node:crypto';
import type { Knex } from 'knex';
import { noPace, plainDocument } from '@convite/core';
import { openDatabase } from './database';
import { migrate } from './migrate';
import { openStore, type Store } from './store';

/** A database as it was before counts were kept: its tables as MariaDB wrote them out then, with a few rows of each kind. */
const dump = readFileSync(new URL('../testing/dumps/before-0007.sql', import.meta.url), 'utf8');

describe('an old database', () => {
  let db: Knex;
  let store: Store;
  let name: string;
  beforeAll(async () => {
    const base = process.env['SPEC_DATABASE_URL'] ?? '';
    name = `convite_spec_${randomBytes(5).toString('hex')}`;
    const admin = openDatabase(base, 1);
    await admin.raw(`create database ${name}`);
    await admin.destroy();
    const url = base.replace(/\/[^/]*$/, `/${name}`);
    // Tables in the order of their names know others that are yet to come.
    const loader = openDatabase(url, 1);
    await loader.raw('set foreign_key_checks = 0');
    for (const statement of dump.split(/;\n/)) if (statement.trim()) await loader.raw(statement.replaceAll('?', '\\?'));
    await loader.destroy();
    db = openDatabase(url);
    await migrate(url);
    store = openStore(db);
  }, 60_000);
  afterAll(async () => {
    await db.raw(`drop database ${name}`);
    await db.destroy();
  });

  it('is carried over: why firings were held, as codes with who did it', async () => {
    const firings = await store.firings.ofEvent(1);
    expect(firings.map(({ id, state, held, heldBy, note }) => [id, state, held, heldBy, note])).toEqual([
      [1, 'set', null, '', ''],
      [2, 'stopped', 'by-person', 'Marta Vilhena', ''],
      [3, 'stopped', 'date-off', '', ''],
      [4, 'missed', 'no-worker', '', ''],
      [5, 'done', null, '', 'Nobody was to get it.'],
      [6, 'sending', null, '', ''],
      [7, 'done', null, '', ''],
    ]);
    expect(firings.map(({ slot }) => slot)).toEqual(['o1', 'o2', 'o3', 'o4', 'o5', '', '']);
  });

  it('is carried over: what became of a sending, its place in the queue, and whom a dead worker held', async () => {
    const rows: Record<string, unknown>[] = await db('firing')
      .whereIn('id', [5, 6, 7])
      .orderBy('id')
      .select('planned', 'sent', 'failed', 'skipped', 'priority');
    expect(rows.map((row) => Object.values(row))).toEqual([
      [0, 0, 0, 0, 3],
      [4, 1, 1, 1, 2],
      [1, 1, 0, 0, 1],
    ]);
    expect(await store.leases.reclaim(0, Date.now())).toBe(1);
    expect((await store.claims.claim('mine', 'email', Date.now(), 10, noPace)).map(({ person }) => person.id)).toEqual([
      4,
    ]);
  });

  it('is carried over: further fields by value, lists that cues ask for, people by the words of their names', async () => {
    const gold = await store.audiences.countGets(
      { in: { kind: 'field', field: 1, test: { is: 'any-of', values: ['gold', 'SILVER'] } }, out: [], about: null },
      'email',
    );
    expect([gold, (await store.fields.all()).map((field) => field.name)]).toEqual([2, ['Level', 'town']]);
    expect((await store.fields.ofLists([1], 0, 10)).map(({ fields }) => fields)).toEqual([
      { Level: 'Gold', town: 'Évora' },
      { Level: 'silver' },
    ]);
    expect(await db('cue_list').orderBy('list_id').select('list_id', 'cue_id')).toEqual([
      { list_id: 1, cue_id: 1 },
      { list_id: 2, cue_id: 1 },
    ]);
    expect((await store.subscribers.page({ search: 'prado', after: 0, limit: 5 })).rows.length).toBe(1);
  });

  it('is carried over: whoever said yes has a place, where places are given', async () => {
    expect(await db('registration').select('event_id', 'subscriber_id', 'occurrence', 'state', 'places')).toEqual([
      { event_id: 1, subscriber_id: 1, occurrence: '', state: 'confirmed', places: 1 },
    ]);
  });

  it('is carried over: what cues say, and what was frozen with firings, as documents', async () => {
    expect((await store.cues.ofEvent(1)).map(({ wording }) => wording)).toEqual([
      plainDocument('s', 'b'),
      plainDocument('s', 'b'),
    ]);
    expect((await store.firings.find(6))?.content).toEqual({
      kind: 'notice',
      method: 'REQUEST',
      document: {
        subject: 'Moved: {{event.title}}',
        blocks: [{ kind: 'plain', text: 'Dear "you",\n\nsee {{link.event}} — é' }],
      },
      version: 2,
      stampMs: 5,
      occurrence: '',
      isByDate: false,
    });
    expect((await db('wording').select('id', 'version', 'kind')).map((row) => Object.values(row).join(' '))).toEqual([
      '1 1 cue',
      '2 1 cue',
    ]);
  });

  it('has its counts to be taken: of what is to come, and of the guests of every event', async () => {
    expect((await store.firings.takeUncounted(Date.now(), 10)).map(({ id }) => id)).toEqual([1]);
    expect(await store.eventTallies.uncounted(10)).toEqual([1]);
  });
});
