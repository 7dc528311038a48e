import { of, throwError } from 'rxjs';
import type { ShownMessage } from '@convite/contract';
import { letter, plainDocument, type WordingDocument } from '@convite/core';
import { noWordingSource, openScreen, shown } from '../../testing/screen';
import { AsRead } from './as-read';
import { WordingSource } from './wording-source';

describe('AsRead', () => {
  const open = async (message: ShownMessage, wording: WordingDocument = letter('S', 'See you.'), over = {}) => {
    const source = { provide: WordingSource, useValue: { ...noWordingSource, ...over } };
    const screen = await openScreen(AsRead, { message, wording }, [source]);
    return { ...screen, body: () => screen.element.querySelector('cv-mail-body') };
  };

  it('shows a mail at a desk, on a phone, in the dark, as plain text, and as it stands in a list of mails', async () => {
    const night = '<style>@media (prefers-color-scheme: dark) { p { color: rgb(1, 2, 3); } }</style>';
    const { text, press, body } = await open(shown({ html: `${night}<p>See you.</p>` }));
    const colour = () => getComputedStyle(body()?.shadowRoot?.querySelector('p') as Element).color;
    expect(colour()).not.toBe('rgb(1, 2, 3)');
    expect(text()).toContain('Nothing found that a reader would stumble over.');
    expect(body()?.shadowRoot?.textContent).toBe('See you.');
    await press('phone');
    expect(body()?.clientWidth).toBeLessThanOrEqual(360);
    await press('dark');
    expect(colour()).toBe('rgb(1, 2, 3)');
    await press('plain text');
    expect([body(), text()]).toEqual([null, jasmine.stringContaining('See you.')]);
    await press('inbox');
    for (const part of ['Serra da Bruma', 'Tomorrow: Dome night', 'Bring a coat']) expect(text()).toContain(part);
  });

  it('says what it found, and what a text costs', async () => {
    const { text } = await open(
      shown({
        channel: 'text',
        html: '',
        text: 'a'.repeat(161),
        textPrice: { perPart: 0.06, currency: 'EUR' },
        findings: [
          { code: 'other-time', path: 'body', facts: { written: '19:00', start: '19:30', end: '22:00' } },
          { code: 'no-way-out', path: 'body' },
        ],
      }),
      plainDocument('', 'a'),
    );
    expect(text()).toContain('161 of 153, GSM 7-bit, 2 parts, €0.12 to each who reads this');
    expect(text()).toContain('You wrote 19:00; the event starts 19:30 and ends 22:00.');
    expect(text()).toContain('It does not say how to stop these texts');
  });

  it('asks the addresses that were typed whether they answer, and again after one that could not be asked', async () => {
    const asked: (readonly string[])[] = [];
    let isAway = true;
    const askLinks = (addresses: readonly string[]) => {
      asked.push(addresses);
      return isAway
        ? throwError(() => new Error('away'))
        : of([{ address: 'https://a.example/x', isGood: false, said: 'It answers 404 instead of a page.' }]);
    };
    const { text, press } = await open(shown(), letter('S', 'See https://a.example/x'), { askLinks });
    await press('Ask 1 link');
    isAway = false;
    await press('Ask 1 link');
    expect(asked).toEqual([['https://a.example/x'], ['https://a.example/x']]);
    expect(text()).toContain('https://a.example/x: It answers 404 instead of a page.');
  });
});
