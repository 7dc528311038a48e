import { readBoard } from '../services/countdown/board';
import { listEvents } from '../services/events/list-events';
import { countAll, openStage, type Stage } from '../testing/stage';
import { loadDemo } from './load';
import { inventPeople } from './people';
import { seededRandom } from './random';

describe('the demonstration', () => {
  let stage: Stage;
  beforeAll(async () => {
    stage = await openStage();
    await stage.db('list').delete();
    await stage.db('setting').delete();
    await stage.db.raw('alter table list auto_increment = 1');
    // At noon: a draft that is due in the morning stands by, or is a week and some minutes off, just before.
    const noon = new Date().setUTCHours(12, 0, 0, 0);
    stage.clock.shiftTo(noon - Date.now());
    await loadDemo(stage.context.store, stage.bulk, {
      nowMs: noon,
      webCalendarUrl: 'http://127.0.0.1:1/calendar',
      people: 1500,
    });
  });
  afterAll(() => stage.close());

  const list = async (when: 'coming' | 'past') =>
    (await listEvents(stage.context, { when, search: '', after: 0 })).rows;

  it('is the same for everybody, spread over 15 zones, with names in several scripts, addresses and numbers made up', () => {
    const people = inventPeople(seededRandom(7), 1500, 0);
    expect(inventPeople(seededRandom(7), 1500, 0)).toEqual(people);
    expect(new Set(people.map(({ zone }) => zone)).size).toBe(15);
    expect(new Set(people.map(({ email }) => email)).size).toBe(1500);
    expect(people.every(({ email }) => email?.endsWith('.example'))).toBeTrue();
    // 07700 900xxx and 555-01xx are set aside for fiction.
    expect(
      people.every(({ mobile }) => mobile === '' || /^(\+447700900\d{3}|\+1\d{3}55501\d{2})$/.test(mobile)),
    ).toBeTrue();
    expect(people.some(({ name }) => /\p{Script=Hebrew}|\p{Script=Arabic}/u.test(name))).toBeTrue();
  });

  it('is alive: a past with answers and failures, a future with cues of both channels, and something that needs a person', async () => {
    await countAll(stage);
    expect(await stage.db('firing').where({ state: 'done' }).whereNotNull('held')).toEqual([]);
    const board = await readBoard(stage.context);
    expect(board.behind.some(({ tally }) => tally.sent > 100)).toBeTrue();
    expect(new Set(board.ahead.map(({ channel }) => channel))).toEqual(new Set(['email', 'text']));
    expect(board.ahead.filter(({ state }) => state === 'set').length).toBeGreaterThan(8);
    expect(new Set(board.needs.map(({ kind }) => kind).filter((kind) => kind !== 'trouble'))).toEqual(
      new Set(['draft-due', 'missed', 'failed', 'old-version', 'bounced', 'proposal']),
    );
    expect(board.load.length).toBe(28);
    const [coming, past] = [await list('coming'), await list('past')];
    const events = [...coming, ...past];
    expect(events.length).toBe(10);
    expect(events.filter(({ repeats }) => repeats).map(({ title }) => title)).toContain('Open Dome Fridays');
    expect(past.length).toBeGreaterThan(0);
    expect(events.some(({ status, title }) => status === 'draft' && /\p{Script=Arabic}/u.test(title))).toBeTrue();
    expect(events.some(({ isAllDay }) => isAllDay)).toBeTrue();
  });
});
