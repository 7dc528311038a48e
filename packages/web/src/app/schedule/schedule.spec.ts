import { of } from 'rxjs';
import type { BoardItem, Schedule } from '@convite/contract';
import { ScheduleApi } from '../api/schedule';
import { openScreen } from '../testing/screen';
import { ScheduleScreen } from './schedule';

const item = (over: Partial<BoardItem>): BoardItem => ({
  firingId: 1,
  kind: 'cue',
  title: 'Tomorrow',
  eventId: 3,
  eventTitle: 'Dome night',
  occurrenceAt: null,
  zone: '',
  ownDay: null,
  step: null,
  otherZones: null,
  channel: 'email',
  dueAt: '2026-12-01T10:00:00.000Z',
  state: 'set',
  note: '',
  tally: { gets: 1200, countedAt: '2026-11-28T09:00:00.000Z', sent: 0, failed: 0, waiting: 0, finishAt: null },
  canSendByHand: false,
  ...over,
});

describe('Schedule', () => {
  it('says by day and hour what is due and how many get it, held ones left out of the sum; a viewer takes no file', async () => {
    const asked: number[] = [];
    const rows = [
      item({}),
      item({ firingId: 2, title: 'Held', state: 'stopped', dueAt: '2026-12-01T12:00:00.000Z' }),
      item({
        firingId: 3,
        title: 'Week',
        kind: 'digest',
        eventId: null,
        eventTitle: '',
        dueAt: '2026-12-02T00:30:00.000Z',
      }),
    ];
    const answer: Schedule = {
      now: '2026-11-28T09:00:00.000Z',
      zone: 'Europe/Lisbon',
      rows,
      hasMore: false,
      feedUrl: 'http://convite.example/feed/team/1-x.ics',
    };
    const api = { read: (days: number) => (asked.push(days), of(answer)) };
    const { text, type, element } = await openScreen(
      ScheduleScreen,
      {},
      [{ provide: ScheduleApi, useValue: api }],
      false,
    );
    const [first, second] = [...element.querySelectorAll('section')].map((one) =>
      one.textContent?.replace(/\s+/g, ' '),
    );
    expect(first).toContain('Tue 1 Dec 2026 1,200 messages');
    expect(first).toMatch(/10:00 ?Tomorrow · Dome night.*12:00 ?Held/);
    expect(second).toContain('00:30');
    expect(text()).toContain('feed/team/1-x.ics');
    expect(text()).not.toContain('CSV');
    await type('select', '28', 'change');
    expect(asked).toEqual([14, 28]);
  });
});
