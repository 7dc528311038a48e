import { TestBed } from '@angular/core/testing';
import { of } from 'rxjs';
import type { LetterRow, UnreachedPage } from '@convite/contract';
import { BoardApi } from '../api/board';
import { openScreen } from '../testing/screen';
import { Letters } from './letters';
import { UnreachedPeople } from './unreached';

const row = (state: 'failed' | 'bounced' | 'skipped', answer: string) => ({
  deliveryId: 1,
  person: { id: 1, name: 'Ana', email: 'ana@x.example', mobile: '' },
  state,
  answer,
  attempts: [
    { at: '2026-10-01T00:00:00.000Z', answer: '451 later' },
    { at: '2026-10-01T00:05:00.000Z', answer },
  ],
  advice: state === 'skipped' ? '' : 'Ask for another one.',
});

describe('UnreachedPeople', () => {
  const open = async (rows: UnreachedPage['rows'], canMarket = true) => {
    const tried: number[] = [];
    const api = {
      unreached: () => of({ zone: 'Europe/Lisbon', title: 'Tomorrow', eventTitle: 'Dome night', rows, next: null }),
      tryAgain: (id: number) => (tried.push(id), of(null)),
    };
    const screen = await openScreen(UnreachedPeople, { id: '5' }, [{ provide: BoardApi, useValue: api }], canMarket);
    return { ...screen, tried };
  };

  it('names exactly those people, the server’s words and what to do, and tries the refused again', async () => {
    const { text, press, tried, said } = await open([
      row('failed', '550 5.1.1 nobody'),
      row('skipped', 'Opted out before it went.'),
    ]);
    expect(text()).toContain('Tomorrow · Dome night');
    expect(text()).toContain('550 5.1.1 nobody');
    expect(text()).toContain('2 answers in all');
    expect(text()).toContain('451 later');
    expect(text()).toContain('Ask for another one.');
    await press('Try those refused again');
    expect([tried, said]).toEqual([[5], ['They are tried again.']]);
  });

  it('offers nothing to try where nobody was refused, or to whoever may only look', async () => {
    expect((await open([row('bounced', 'gone')])).text()).not.toContain('Try those');
    TestBed.resetTestingModule();
    expect((await open([row('failed', 'x')], false)).text()).not.toContain('Try those');
    TestBed.resetTestingModule();
    expect((await open([])).text()).toContain('Everybody was reached');
  });
});

describe('Letters', () => {
  it('shows what people wrote as text, and is told when it is seen to', async () => {
    const letter: LetterRow = {
      id: 9,
      eventId: null,
      subscriberId: null,
      receivedAt: '2031-06-17T12:00:00.000Z',
      from: 'x@y.example',
      to: 'replies@in.example',
      subject: 'Parking',
      text: '<b>Is</b> there any?',
      isOpen: true,
    };
    const settled: unknown[][] = [];
    const api = {
      letters: () => of([letter]),
      settleLetter: (...what: unknown[]) => (settled.push(what), of(null)),
    };
    const { text, press } = await openScreen(Letters, {}, [{ provide: BoardApi, useValue: api }]);
    expect(text()).toContain('<b>Is</b> there any?');
    await press('Seen to');
    expect(settled).toEqual([[9, false]]);
  });
});
