import { of } from 'rxjs';
import type { LetterRow } from '@convite/contract';
import { BoardApi } from '../api/board';
import { openScreen } from '../testing/screen';
import { Letters } from './letters';

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
