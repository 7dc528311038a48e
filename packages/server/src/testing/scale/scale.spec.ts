import { openCounter } from '../../services/audience/keep-counts';
import { byHand, openStage, type Stage } from '../stage';
import { asks } from './asks';
import { fillScale, type Scale } from './fill';
import { rowsRead } from './statements';

/** What screens ask must not grow with the house: rows read, not seconds, in one of twenty thousand people. */
describe('in a house of twenty thousand', () => {
  let stage: Stage;
  let scale: Scale;
  beforeAll(async () => {
    stage = await openStage();
    scale = await fillScale(stage.db, 20_000, 100_000);
    const counter = openCounter(stage.context, 3600);
    while (await counter.look(() => false));
  }, 120_000);
  afterAll(() => stage.close());

  for (const { what, mostRows, run } of asks)
    it(`the ${what} reads at most ${mostRows} rows`, async () => {
      await run(stage.context, scale);
      const before = await rowsRead(stage.db);
      await run(stage.context, scale);
      expect((await rowsRead(stage.db)) - before).toBeLessThanOrEqual(mostRows);
    });

  it('takes the next people of a large task, and who was texted last, without reading those behind them', async () => {
    const { store } = stage.context;
    const firing = await store.firings.create({
      kind: 'cue',
      eventId: 1,
      channel: 'email',
      dueMs: 0,
      state: 'sending',
    });
    await stage.db('firing').where({ id: firing }).update({ channel: 'act' });
    await stage.db.raw(
      `insert into delivery (firing_id, subscriber_id, channel, state, next_at) select ?, id, 'act', 'queued', now(3) from subscriber`,
      [firing],
    );
    const later = new Date(Date.now() + 1_000_000);
    const reads = async (what: () => Promise<unknown>): Promise<number> => {
      await what();
      const before = await rowsRead(stage.db);
      await what();
      return (await rowsRead(stage.db)) - before;
    };
    expect(await reads(() => store.transact((tx) => tx.acts.takeNext(later, 500)))).toBeLessThanOrEqual(1100);
    const [one] = (await stage.db('subscriber').whereNot('mobile', '').limit(1).pluck('mobile')) as string[];
    expect(await reads(() => store.texted.lastAt(one ?? ''))).toBeLessThanOrEqual(100);
    await stage.db('delivery').where({ firing_id: firing }).delete();
  });

  it('finds people by the beginning of any word of their name, their address or number, all words together', async () => {
    const { store } = stage.context;
    await store.newcomers.ensure(
      {
        email: 'm.alves@people.example',
        name: 'Maria da Conceição Alves de Sousa',
        mobile: '+447700900999',
        zone: '',
        textConsent: false,
      },
      byHand,
      new Date(),
    );
    const find = async (search: string) =>
      (await store.subscribers.page({ search, after: 0, limit: 5 })).rows.map(({ name }) => name.split(' ').at(-1));
    for (const typed of ['maria', 'conceicao', 'alves', 'sousa', 'm.alves', '+447700900999', 'sousa maria', 'al maria'])
      expect(await find(typed))
        .withContext(typed)
        .toEqual(['Sousa']);
    for (const typed of ['so', 'ousa', 'maria bosque', '%', 'mar%', '_lves'])
      expect(await find(typed))
        .withContext(typed)
        .toEqual([]);
    expect(await find('da'))
      .withContext('a whole word')
      .toEqual(['Sousa']);
  });
});
