import { of, throwError } from 'rxjs';
import type { LetterRow } from '@convite/contract';
import { BoardApi } from '../api/board';
import { openScreen } from '../testing/screen';
import { Letters } from './letters';

describe('Letters', () => {
  it('shows what people wrote as text, and is told when it is seen to', async () => {
    const letter: LetterRow = {
      id: 9,
      channel: 'email',
      name: '',
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

  it('are answered under what was asked; what was typed stays until the answer is taken', async () => {
    const letter: LetterRow = {
      ...{ id: 4, channel: 'text', eventId: 2, subscriberId: 7, name: 'Ana', to: '', subject: '', isOpen: true },
      ...{ from: '+351000000001', receivedAt: '2031-06-17T12:00:00.000Z', text: 'Is there parking?' },
    };
    const asked: unknown[][] = [];
    const api = {
      letters: () => of([letter, { ...letter, id: 5, subscriberId: null, name: '' }]),
      answerLetter: (...what: unknown[]) => (
        asked.push(what),
        asked.length === 1 ? throwError(() => new Error('away')) : of(null)
      ),
    };
    const { text, press, type, find } = await openScreen(Letters, {}, [{ provide: BoardApi, useValue: api }]);
    expect(text()).toContain('by text from +351000000001');
    // Only who is known can be answered.
    expect(text().match(/Answer/g)).toHaveSize(1);
    await press('Answer');
    await type('textarea', 'Behind the dome.');
    expect(text()).toContain('16 of 160 characters, 1 text');
    await press('Send the answer');
    expect(find<HTMLTextAreaElement>('textarea').value).toBe('Behind the dome.');
    await press('Send the answer');
    expect(asked.map(([id, said]) => [id, said])).toEqual([
      [4, 'Behind the dome.'],
      [4, 'Behind the dome.'],
    ]);
    expect(asked[0]?.[2]).toBe(asked[1]?.[2]);
  });
});
