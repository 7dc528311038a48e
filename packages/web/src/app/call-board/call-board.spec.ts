import { TestBed } from '@angular/core/testing';
import { of, throwError } from 'rxjs';
import type { Board, BoardItem, Need } from '@convite/contract';
import { BoardApi } from '../api/board';
import { EventsApi } from '../api/events';
import { ByHandSender } from '../by-hand-sender';
import { openScreen, refusal } from '../testing/screen';
import { SharedClock } from '../ui/shared-clock';
import { CallBoard } from './call-board';

const now = '2031-06-17T22:30:00.000Z';
const item = (over: Partial<BoardItem> = {}): BoardItem => ({
  firingId: 11,
  kind: 'cue',
  title: 'Tomorrow',
  eventId: 1,
  eventTitle: 'Dome night',
  occurrenceAt: null,
  zone: '',
  ownDay: null,
  step: null,
  otherZones: null,
  channel: 'email',
  dueAt: '2031-06-17T22:45:00.000Z',
  state: 'set',
  note: '',
  tally: { gets: 40, countedAt: '2026-10-01T00:00:00.000Z', finishAt: null, sent: 0, failed: 0, waiting: 0 },
  canSendByHand: false,
  ...over,
});
const empty: Board = {
  now,
  zone: 'Europe/Lisbon',
  ahead: [],
  behind: [],
  hasMore: { ahead: false, behind: false },
  starts: [],
  needs: [],
  load: [],
  beginning: null,
};
const need = (over: Partial<Need>): Need => ({
  kind: 'missed',
  eventId: 1,
  firingId: null,
  taskId: null,
  title: 'Dome night',
  count: 1,
  at: null,
  ...over,
});

describe('CallBoard', () => {
  const open = async (
    over: Partial<Board> = {},
    canMarket = true,
    api: Partial<Record<keyof BoardApi, unknown>> = {},
  ) => {
    const done: unknown[][] = [];
    const asked: unknown[] = [];
    const act =
      (name: string) =>
      (...what: unknown[]) => {
        done.push([name, ...what]);
        return of(null);
      };
    const screen = await openScreen(
      CallBoard,
      {},
      [
        {
          provide: BoardApi,
          useValue: {
            board: (query: unknown) => {
              asked.push(query);
              return of({ ...empty, ...over });
            },
            stop: act('stop'),
            setAgain: act('set'),
            ...api,
          },
        },
        { provide: EventsApi, useValue: { list: () => of({ rows: [], total: 0, next: null }) } },
        { provide: ByHandSender, useValue: { send: act('send') } },
        { provide: SharedClock, useValue: { nowMs: () => Date.parse(now) } },
      ],
      canMarket,
    );
    const words = (selector: string): string[] =>
      [...screen.element.querySelectorAll(selector)].map((one) => one.textContent?.replace(/\s+/g, ' ').trim() ?? '');
    return { ...screen, done, words, asked };
  };

  it('runs down the page in time, by the days of the house’s zone and not of UTC', async () => {
    const { words } = await open({
      ahead: [
        item({ dueAt: '2031-06-17T23:15:00.000Z', title: 'After midnight' }),
        item({ dueAt: '2031-06-17T22:45:00.000Z', title: 'Before midnight' }),
      ],
      starts: [
        { eventId: 2, title: 'Open day', at: '2031-06-17T22:50:00.000Z', zone: 'Europe/Lisbon' },
        { eventId: 3, title: 'Over', at: '2031-06-17T20:00:00.000Z', zone: 'Europe/Lisbon' },
      ],
    });
    expect(words('h2').slice(0, 2)).toEqual(['Today, Tue 17 Jun 2031', 'Wed 18 Jun 2031']);
    const rows = words('cv-board-row');
    expect(rows[0]).toMatch(/^23:45 Lisbon.*Before midnight/);
    expect(rows[1]).toMatch(/^23:50 Lisbon.*Open day begins/);
    expect(rows[2]).toMatch(/^00:15 Lisbon.*After midnight/);
    expect(rows.length).toBe(3);
  });

  it('folds days beyond a week to a line each, which opens', async () => {
    const { words, press } = await open({
      ahead: [
        item({ dueAt: '2031-06-20T10:00:00.000Z', title: 'Within the week' }),
        item({ dueAt: '2031-07-01T10:00:00.000Z', title: 'Far' }),
        item({ dueAt: '2031-07-01T12:00:00.000Z', title: 'Also far' }),
      ],
      starts: [{ eventId: 2, title: 'Open day', at: '2031-07-01T18:00:00.000Z', zone: 'Europe/Lisbon' }],
    });
    expect(words('cv-board-row').length).toBe(1);
    expect(words('.far')[0]).toContain('2 sendings to about 80 · ★ Open day');
    await press('Tue 1 Jul');
    expect(words('cv-board-row').length).toBe(4);
  });

  it('is narrowed where it is read, reads further back and ahead on a press, and says what nothing is of', async () => {
    const { fixture, settle, asked, press, text } = await open({
      hasMore: { ahead: true, behind: true },
      behind: [item({ state: 'done' })],
    });
    await press('All that went out');
    expect(asked.at(-1)).toEqual({ channel: '', kind: '', state: '', event: 0, ahead: 40, behind: 40 });
    await press('Show what comes later');
    expect(asked.at(-1)).toEqual({ channel: '', kind: '', state: '', event: 0, ahead: 80, behind: 40 });
    for (const ahead of [160, 320, 400]) {
      await press('Show what comes later');
      expect(asked.at(-1)).toEqual({ channel: '', kind: '', state: '', event: 0, ahead, behind: 40 });
    }
    expect(text()).toContain('The first 400. Narrow the board to see others.');
    await press('Channel');
    const choice = [...document.querySelectorAll<HTMLElement>('button[mat-menu-item]')].find((one) =>
      one.textContent?.includes('by text'),
    );
    choice?.click();
    await settle();
    expect(asked.at(-1)).toEqual({ channel: 'text', kind: '', state: '', event: 0, ahead: 400, behind: 40 });
    expect(text()).toContain('Nothing of this kind is set to go out.');
    await press('Show everything');
    expect(asked.at(-1)).toEqual({ channel: '', kind: '', state: '', event: 0, ahead: 400, behind: 40 });
    fixture.destroy();
  });

  it('says how far each is: whom it will reach, how many it reached, how many failed', async () => {
    const tally = { gets: 40, countedAt: '2026-10-01T00:00:00.000Z', finishAt: null, sent: 25, failed: 2, waiting: 13 };
    const { words } = await open({
      ahead: [item(), item({ state: 'sending', tally })],
      behind: [item({ state: 'done', tally: { ...tally, sent: 38, waiting: 0 } })],
    });
    expect(words('.count')).toEqual(['38', '→ 40', '25 of 40']);
  });

  for (const [state, kind, offered] of [
    ['set', 'cue', ['Hold']],
    ['sending', 'invitation', ['Hold']],
    ['done', 'cue', []],
    ['stopped', 'cue', ['Set again', 'Send now']],
    ['missed', 'cue', ['Send now']],
    ['missed', 'digest', []],
  ] as const)
    it(`offers a ${kind} that is ${state}: ${offered.join(', ') || 'nothing'}`, async () => {
      const { words } = await open({
        ahead: [item({ state, kind, canSendByHand: offered.some((one) => one === 'Send now') })],
      });
      expect(words('.act button')).toEqual([...offered]);
    });

  it('holds what was pressed and reads the board again; a viewer has nothing to press', async () => {
    const { find, settle, done, said } = await open({ ahead: [item({ firingId: 12 })] });
    find<HTMLButtonElement>('.act button').click();
    await settle();
    expect(done).toEqual([['stop', 12]]);
    expect(said).toEqual(['Held: “Tomorrow” will not go out.']);
    TestBed.resetTestingModule();
    const viewed = await open({ ahead: [item()] }, false);
    expect(viewed.words('.act button')).toEqual([]);
  });

  it('names a task that a cue gave, and is told when it is done', async () => {
    const finished: number[] = [];
    const finishTask = (id: number) => (finished.push(id), of(null));
    const task = need({ kind: 'task', taskId: 4, title: 'Ana: Ring the caterer' });
    const { press, text } = await open({ needs: [task] }, true, { finishTask });
    expect(text()).toContain('Ana: Ring the caterer');
    await press('Done');
    expect(finished).toEqual([4]);
  });

  it('lets a viewer finish no task', async () => {
    const { words } = await open({ needs: [need({ kind: 'task', taskId: 4 })] }, false);
    expect(words('cv-needs-you button')).toEqual([]);
  });

  it('names what needs a person, and leads to where it is settled', async () => {
    const { element, words } = await open({
      needs: [
        need({ kind: 'old-version', count: 240 }),
        need({ kind: 'bounced', count: 1, eventId: null }),
        need({ kind: 'watch-failing', eventId: null }),
        need({ kind: 'proposal' }),
      ],
    });
    expect(words('cv-needs-you a')).toEqual([
      '240 hold or know an old version',
      '1 address bounces',
      'A watched calendar cannot be read',
      'Another time is proposed',
    ]);
    expect([...element.querySelectorAll('cv-needs-you a')].map((one) => one.getAttribute('href'))).toEqual([
      '/events/1/changes',
      '/audience',
      '/events/import',
      '/events/1/guests',
    ]);
  });

  it('says what to do when there is nothing, and offers to try again when it cannot be read', async () => {
    const { text } = await open();
    expect(text()).toContain('Nothing is set to go out. A cue is one timed message of an event');
    expect(text()).toContain('Nothing. Everything is in hand.');
    TestBed.resetTestingModule();
    let isAway = true;
    const away = await open({}, true, {
      board: () => (isAway ? throwError(() => refusal({ status: 503 })) : of(empty)),
    });
    expect(away.text()).toContain('The call board cannot be read just now.');
    isAway = false;
    await away.press('Try again');
    expect(away.text()).toContain('Nothing is set to go out.');
  });

  it('draws the load day by day, and says its busiest day to those who do not see it', async () => {
    const day = (date: string, email: number, text: number) => ({ day: date, email, text, starts: [] });
    const { element } = await open({
      load: [day('2031-06-17', 10, 0), day('2031-06-18', 300, 20), day('2031-06-19', 0, 0)],
    });
    const heights = [...element.querySelectorAll('rect.email')].map((bar) => Number(bar.getAttribute('height')));
    expect(heights[1] ?? 0).toBeCloseTo(30 * (heights[0] ?? 0), 0);
    expect(element.querySelector('cv-load-chart')?.outerHTML).toContain(
      'The busiest is Wed 18 Jun 2031 with 300 emails and 20 texts.',
    );
  });

  it('shows what several events send side by side, each on its own line, and which day is fullest', async () => {
    const of = (firingId: number, eventId: number | null, at: string, gets: number): BoardItem =>
      item({
        ...{ firingId, eventId, dueAt: at, title: `Message ${firingId}` },
        eventTitle: eventId === null ? '' : `Event ${eventId}`,
        tally: { ...item().tally, gets },
      });
    const { element, press, text } = await open({
      ahead: [
        of(1, 1, '2031-06-18T10:00:00.000Z', 10),
        of(2, 2, '2031-06-19T10:00:00.000Z', 400),
        of(3, null, '2031-06-19T12:00:00.000Z', 90),
        of(4, 1, '2031-06-20T10:00:00.000Z', 20),
      ],
    });
    await press('side by side');
    expect([...element.querySelectorAll('cv-side-by-side .name')].map((one) => one.textContent?.trim())).toEqual([
      'Event 1',
      'Event 2',
      'Message 3',
    ]);
    expect(element.querySelectorAll('cv-side-by-side circle').length).toBe(4);
    expect(element.querySelector('cv-side-by-side')?.outerHTML).toContain('2 messages to 490 people');
    await press('in time order');
    expect(text()).toContain('Message 2');
  });
});
