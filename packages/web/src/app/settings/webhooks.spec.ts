import { of, throwError } from 'rxjs';
import type { Webhook } from '@convite/contract';
import { WebhooksApi } from '../api/webhooks';
import { openScreen, refusal } from '../testing/screen';
import { Confirm } from '../ui/confirm';
import { Webhooks } from './webhooks';

describe('Webhooks', () => {
  const hook: Webhook = {
    id: 4,
    name: 'Customer file',
    url: 'https://file.example/told',
    kinds: ['opt-out'],
    isOn: true,
    failingSince: '2031-06-18T10:00:00.000Z',
    waiting: 1204,
  };
  const open = async (over: object = {}) => {
    const acts: unknown[][] = [];
    const does =
      (what: string, answer: unknown = of(null)) =>
      (...how: unknown[]) => (acts.push([what, ...how]), answer);
    const call = { id: 9, kind: 'opt-out', at: '2031-06-18T10:00:00.000Z', nextAt: '2031-06-18T10:00:00.000Z' };
    const api = {
      all: () => of([hook]),
      add: does('add', of({ id: 5, secret: 'shown-this-once' })),
      change: does('change'),
      remove: does('remove'),
      test: does('test'),
      calls: () =>
        of({
          rows: [{ ...call, state: 'failed', attempts: 8, answer: 'It answered 503.' }],
          next: null,
        }),
      again: does('again'),
      ...over,
    };
    const screen = await openScreen(Webhooks, {}, [
      { provide: WebhooksApi, useValue: api },
      { provide: Confirm, useValue: { ask: () => of(true) } },
    ]);
    const submit = async (): Promise<void> => {
      screen.find('form').dispatchEvent(new Event('submit', { cancelable: true }));
      await screen.settle();
    };
    return { ...screen, acts, submit };
  };

  it('adds one when all is there, and shows its secret this once', async () => {
    const { press, type, submit, text, acts, tick } = await open();
    await press('Tell another system');
    await submit();
    expect(text()).toContain('Give it a name.');
    await type('form input[maxlength="120"]', ' Desk ');
    await type('form input[maxlength="2000"]', 'desk.example');
    await submit();
    expect(text()).toContain('begins with https://');
    await type('form input[maxlength="2000"]', 'https://desk.example/told');
    await tick('an address bounces');
    await submit();
    expect(acts).toEqual([
      [
        'add',
        { name: 'Desk', url: 'https://desk.example/told', kinds: ['opt-out', 'reply', 'registration'], isOn: true },
      ],
    ]);
    expect(text()).toContain('shown-this-once');
  });

  it('says what one was told and whether it took it, posts it again, tests, changes and removes', async () => {
    const { press, text, acts, submit } = await open();
    expect(text()).toContain('1,204 to be told yet');
    expect(text()).toContain('Does not take it since');
    await press('What it was told');
    expect(text()).toContain('given up');
    expect(text()).toContain('It answered 503. 8 times posted.');
    await press('Post again');
    await press('Test');
    await press('Change');
    await submit();
    await press('Remove …');
    expect(acts.map(([what, ...how]) => [what, how[0]])).toEqual([
      ['again', 4],
      ['test', 4],
      ['change', 4],
      ['remove', 4],
    ]);
  });

  it('keeps what was typed when it is refused', async () => {
    const { press, type, submit, text, find } = await open({
      add: () => throwError(() => refusal({ detail: 'This address is not one.' })),
    });
    await press('Tell another system');
    await type('form input[maxlength="120"]', 'Desk');
    await type('form input[maxlength="2000"]', 'https://x');
    await submit();
    expect(text()).toContain('This address is not one.');
    expect(find('form input[maxlength="2000"]').value).toBe('https://x');
  });
});
