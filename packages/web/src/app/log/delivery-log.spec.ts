import { TestBed } from '@angular/core/testing';
import { of } from 'rxjs';
import type { LogPage, LogQuery, LogRow } from '@convite/contract';
import { EventsApi } from '../api/events';
import { LogApi } from '../api/log';
import { openScreen } from '../testing/screen';
import { DeliveryLog } from './delivery-log';

const row = (over: Partial<LogRow>): LogRow => ({
  deliveryId: 1,
  firingId: 5,
  kind: 'cue',
  channel: 'email',
  title: 'Tomorrow',
  eventTitle: 'Dome night',
  person: { id: 1, name: 'Ana', email: 'ana@x.example', mobile: '' },
  dueAt: '2026-10-01T10:00:00.000Z',
  sentAt: '2026-10-01T10:03:00.000Z',
  state: 'sent',
  answer: '',
  attempts: [],
  advice: '',
  isKept: true,
  ...over,
});
const refused = row({
  deliveryId: 2,
  state: 'failed',
  sentAt: null,
  answer: '550 5.1.1 nobody',
  attempts: [
    { at: '2026-10-01T10:00:00.000Z', answer: '451 later' },
    { at: '2026-10-01T10:05:00.000Z', answer: '550 5.1.1 nobody' },
  ],
  advice: 'Ask for another one.',
  isKept: false,
});

describe('DeliveryLog', () => {
  const open = async (rows: LogRow[], inputs = {}, canMarket = true) => {
    const asked: Partial<LogQuery>[] = [];
    const tried: number[] = [];
    const api = {
      page: (query: Partial<LogQuery>) => {
        asked.push(query);
        return of<LogPage>({
          zone: 'Europe/Lisbon',
          title: 'Tomorrow',
          eventTitle: 'Dome night',
          rows,
          hasMorePeople: false,
          next: null,
        });
      },
      message: () =>
        of({ channel: 'text', sentAt: null, to: '+351', subject: '', text: 'The very words.', html: '', calendar: '' }),
      tryAgain: (id: number) => (tried.push(id), of(null)),
    };
    const screen = await openScreen(
      DeliveryLog,
      inputs,
      [
        { provide: LogApi, useValue: api },
        { provide: EventsApi, useValue: { list: () => of({ rows: [], total: 0, next: null }) } },
      ],
      canMarket,
    );
    return { ...screen, asked, tried };
  };

  it('says of each message how late it left and what became of it, and shows it as it went', async () => {
    const { text, press, find, asked } = await open([row({}), refused]);
    expect(text()).toContain('left 3 minutes later, Thu 1 Oct 2026 11:03 Lisbon');
    expect(text()).toContain('taken by their server');
    expect(text()).toContain('2 answers in all');
    expect(text()).toContain('Ask for another one.');
    expect(text()).not.toContain('Try those refused again');
    await press('Show it');
    expect(text()).toContain('The very words.');
    expect(asked.at(-1)).toEqual({ firing: 0, event: 0, channel: '', state: '', search: '', after: '' });
    expect(find<HTMLAnchorElement>('a[href^="/sendings/"]').textContent).toBe('Tomorrow');
  });

  it('of one sending tries the refused again, begins with what the address asks for, and offers a viewer nothing', async () => {
    const { text, press, tried, said, asked } = await open([refused], { id: '5', state: 'not-reached' });
    expect(asked.at(-1)).toEqual({ firing: 5, event: 0, channel: '', state: 'not-reached', search: '', after: '' });
    expect(text()).toContain('Tomorrow · Dome night');
    await press('Try those refused again');
    expect([tried, said]).toEqual([[5], ['They are tried again.']]);
    TestBed.resetTestingModule();
    const viewed = await open([refused, row({})], { id: '5' }, false);
    expect(viewed.text()).not.toContain('Try those');
    expect(viewed.element.querySelector('tbody td:last-child button')).toBeNull();
    TestBed.resetTestingModule();
    const none = await open([], { id: '5', state: 'not-reached' });
    expect(none.text()).toContain('Everybody was reached');
  });
});
