import { of, Subject, throwError } from 'rxjs';
import type { BulkProgress, BulkRequest } from '@convite/contract';
import { AudienceApi } from '../api/audience';
import { SettingsApi } from '../api/settings';
import { openScreen, refusal } from '../testing/screen';
import { Confirm } from '../ui/confirm';
import { BulkPeople } from './bulk-people';

const over = (changedIds: number[] | null, changed = changedIds?.length ?? 0): BulkProgress => ({
  done: 3,
  changed,
  isOver: true,
  changedIds,
});

describe('BulkPeople', () => {
  const open = async (count = 3, answer: (request: BulkRequest) => unknown = () => of(over([1, 2]))) => {
    const asked: BulkRequest[] = [];
    const questions: string[] = [];
    const screen = await openScreen(
      BulkPeople,
      { selection: { ids: [1, 2, 3] }, count, lists: [{ id: 5, name: 'Members', count: 9 }] },
      [
        {
          provide: AudienceApi,
          useValue: {
            fields: () => of([{ id: 8, name: 'Visits', type: 'number' }]),
            bulk: (request: BulkRequest) => (asked.push(request), answer(request)),
          },
        },
        { provide: SettingsApi, useValue: { get: () => of({ topics: ['moon'] }) } },
        { provide: Confirm, useValue: { ask: ({ title }: { title: string }) => (questions.push(title), of(true)) } },
      ],
    );
    const choose = async (kind: string, which = ''): Promise<void> => {
      await screen.type('select[aria-label="What to do with them"]', kind, 'change');
      if (which) await screen.type('select:not([aria-label="What to do with them"])', which, 'change');
    };
    return { ...screen, asked, questions, choose };
  };

  it('puts a few on a list without a question, and takes only those off again who joined', async () => {
    const { choose, press, asked, questions, said, undo, settle } = await open();
    await choose('to-list', '5');
    await press('Do it to 3 people');
    expect([questions, said]).toEqual([[], ['Put on Members: 2 people.']]);
    undo();
    await settle();
    expect(asked).toEqual([
      { selection: { ids: [1, 2, 3] }, what: { act: 'to-list', listId: 5 } },
      { selection: { ids: [1, 2] }, what: { act: 'off-list', listId: 5 } },
    ]);
  });

  for (const [kind, which, words, what] of [
    ['give-topic', 'moon', '', { act: 'give-topic', topic: 'moon' }],
    ['set-field', '8', '12', { act: 'set-field', fieldId: 8, value: '12' }],
    ['opt-out', '', 'on paper', { act: 'opt-out', how: 'on paper' }],
    ['erase', '', '', { act: 'erase' }],
  ] as const)
    it(`asks before it does it to many, or for good (${kind})`, async () => {
      const { choose, press, type, asked, questions } = await open(1200, () => of(over(null, 1200)));
      await choose(kind, which);
      if (words) await type('input', words);
      await press('Do it to 1,200 people');
      expect(questions.length).toBe(1);
      expect(asked[0]?.what).toEqual(what);
    });

  it('cannot be begun before all is said', async () => {
    const { choose, find } = await open();
    await choose('opt-out');
    expect(find<HTMLButtonElement>('button[matButton="filled"]').disabled).toBeTrue();
  });

  it('says how far it is, and is stopped where it is', async () => {
    const lines = new Subject<BulkProgress>();
    const { choose, press, text, said, settle, fixture } = await open(2000, () => lines);
    await choose('to-list', '5');
    await press('Do it to 2,000 people');
    lines.next({ done: 500, changed: 480, isOver: false, changedIds: null });
    await settle();
    expect(text()).toContain('500 looked at, 480 changed');
    expect(fixture.componentInstance.isRunning()).toBeTrue();
    await press('Stop');
    expect([lines.observed, said]).toEqual([false, ['Stopped: 480 people were changed before.']]);
  });

  it('says what is wrong with a value, in words', async () => {
    const problems = [{ code: 'bad-value', path: 'value', facts: { text: 'often', type: 'number' } }];
    const { choose, press, type, text } = await open(3, () => throwError(() => refusal({ status: 422, problems })));
    await choose('set-field', '8');
    await type('input', 'often');
    await press('Do it to 3 people');
    expect(text()).toContain('“often” is no number.');
  });
});
