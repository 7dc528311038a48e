import ICAL from 'ical.js';
import { dayBeforeCue } from '../../testing/acts';
import { openHttpStage, pathOf, type HttpStage } from '../../testing/http-stage';
import { actor, clockTo, countAll, publishedEvent } from '../../testing/stage';
import { saveCue } from './cues';
import { stopFiring } from './firings';
import { exportSchedule, readSchedule } from './schedule';

describe('the schedule', () => {
  let http: HttpStage;
  let memberId: number;
  beforeEach(async () => {
    http = await openHttpStage(3);
    const { stage } = http;
    await clockTo(stage, Date.UTC(2031, 5, 10, 9));
    const event = await publishedEvent(stage, { title: 'Dome, night' });
    const audience = { invitees: [], lists: [stage.list], exceptLists: [], exceptReplies: [], topics: null };
    await saveCue(stage.context, event, null, dayBeforeCue({ audience }), actor);
    const held = await saveCue(stage.context, event, null, dayBeforeCue({ audience, name: 'Held' }), actor);
    const [firing] = await stage.context.store.firings.ofCue(held);
    await stopFiring(stage.context, firing?.id ?? 0, { name: 'Ana' });
    await countAll(stage);
    memberId = (await stage.context.store.members.byEmail('marketer@serradabruma.example'))?.id ?? 0;
  });
  afterEach(() => http.close());

  it('says what is due, by whom it is held, and how many get it; as rows of text too', async () => {
    const { context } = http.stage;
    const { rows, hasMore, feedUrl } = await readSchedule(context, 14, { name: 'Marta', memberId });
    expect(rows.map(({ title, tally, state, note }) => [title, tally.gets, state, note])).toEqual([
      ['Tomorrow', 3, 'set', ''],
      ['Held', 3, 'stopped', 'Stopped by Ana.'],
    ]);
    expect([hasMore, feedUrl]).toEqual([false, context.links.teamFeed(memberId)]);
    expect((await readSchedule(context, 2, actor)).rows).toEqual([]);
    const lines: string[][] = [];
    for await (const some of await exportSchedule(context, 14, actor)) lines.push(...some.map((row) => [...row]));
    expect(lines[0]).toEqual(['2031-06-17T18:30:00.000Z', 'Tomorrow', 'Dome, night', 'email', '3', 'set', '']);
  });

  it('stands in the calendar of whoever is on the team, at an address that nobody guesses, until they leave', async () => {
    const { links, store } = http.stage.context;
    const path = pathOf(links.teamFeed(memberId));
    const seen = await http.visitor().call('GET', path);
    expect([seen.status, seen.headers.get('content-type')]).toEqual([200, 'text/calendar; charset=utf-8']);
    const events = new ICAL.Component(ICAL.parse(String(seen.body))).getAllSubcomponents('vevent');
    expect(events.map((one) => new ICAL.Event(one).summary)).toEqual([
      'Tomorrow, Dome, night → 3 by email',
      'stopped: Held, Dome, night → 3 by email',
    ]);
    for (const forged of [
      path.replace(/-[0-9a-f]/, '-x'),
      pathOf(links.teamFeed(9999)),
      '/feed/team/x.ics',
      '/feed/team/1.ics',
    ])
      expect((await http.visitor().call('GET', forged)).status)
        .withContext(forged)
        .toBe(404);
    await store.members.remove(memberId);
    expect((await http.visitor().call('GET', path)).status).toBe(404);
  });
});
