import { of, throwError } from 'rxjs';
import { AudienceApi } from '../api/audience';
import { openScreen, refusal } from '../testing/screen';
import { Confirm } from '../ui/confirm';
import { PersonSame } from './person-same';

describe('PersonSame', () => {
  const other = { id: 9, name: 'Ana V.', email: 'ana.v@people.example', mobile: '' };
  const open = async (over: object = {}, canMarket = true) => {
    const acts: unknown[][] = [];
    const asked: { title: string; text: string }[] = [];
    const api = {
      same: () =>
        of({
          absorbed: [
            {
              mergeId: 4,
              person: { ...other, id: 8, name: 'A. Vilhena' },
              at: '2031-06-18T10:00:00.000Z',
              by: 'Marta',
            },
          ],
          likely: [other],
          isReally: null,
        }),
      previewMerge: () =>
        of({
          fills: [{ fact: 'zone', value: 'Europe/Lisbon' }],
          email: 'ana.v@people.example',
          joins: ['Members'],
          optsOut: true,
        }),
      merge: (...what: unknown[]) => (acts.push(['merge', ...what]), of(null)),
      part: (...what: unknown[]) => (acts.push(['part', ...what]), of(null)),
      ...over,
    };
    const screen = await openScreen(
      PersonSame,
      { personId: 7 },
      [
        { provide: AudienceApi, useValue: api },
        {
          provide: Confirm,
          useValue: { ask: (question: { title: string; text: string }) => (asked.push(question), of(true)) },
        },
      ],
      canMarket,
    );
    return { ...screen, acts, asked };
  };

  it('says what goes over before two are put together, and parts them again', async () => {
    const { press, acts, asked, text } = await open();
    expect(text()).toContain('Perhaps also Ana V. · ana.v@people.example');
    await press('Put together …');
    const [question] = asked;
    expect(question?.title).toBe('Is Ana V. the same person?');
    for (const words of ['the time zone (Europe/Lisbon)', 'the address (ana.v@people.example)', 'Members', 'opted out'])
      expect(question?.text).toContain(words);
    await press('Part again');
    expect(acts).toEqual([
      ['merge', 7, 9],
      ['part', 4],
    ]);
  });
  it('shows a viewer who was put together, and nothing to press', async () => {
    const { text, element } = await open({}, false);
    expect(text()).toContain('A. Vilhena');
    expect(element.querySelector('button')).toBeNull();
  });
  it('says why it was refused', async () => {
    const { press, said } = await open({
      merge: () => throwError(() => refusal({ detail: 'One of them is not there.' })),
    });
    await press('Put together …');
    expect(said).toEqual(['One of them is not there.']);
  });
});
