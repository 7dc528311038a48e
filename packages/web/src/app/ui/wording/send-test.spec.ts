import { of, throwError } from 'rxjs';
import type { TestRequest } from '@convite/contract';
import { letter } from '@convite/core';
import { noWordingSource, openScreen, refusal } from '../../testing/screen';
import { SendTest, type Tried } from './send-test';
import { WordingSource } from './wording-source';

describe('SendTest', () => {
  const mail: Tried = { kind: 'cue', channel: 'email', wording: letter('S', 'b'), eventId: 3, personId: 4 };
  const open = async (tried: Tried, answer?: () => unknown) => {
    const asked: TestRequest[] = [];
    const sendTest = (request: TestRequest) => {
      asked.push(request);
      return answer?.() ?? of({ sent: 1, to: request.to.length ? request.to : ['me@house.example'], refused: [] });
    };
    const source = { provide: WordingSource, useValue: { ...noWordingSource, sendTest } };
    return { ...(await openScreen(SendTest, { tried }, [source])), asked };
  };

  it('goes to oneself, or to whom one types, as one person or as five', async () => {
    const { press, type, tick, text, asked } = await open(mail);
    await press('Send the test');
    expect(text()).toContain('Sent 1 test to me@house.example.');
    await type('input', 'a@x.example, b@x.example;');
    await tick('as five readers');
    await press('Send the test');
    expect(asked.map(({ to, asFive, personId }) => [to, asFive, personId])).toEqual([
      [[], false, 4],
      [['a@x.example', 'b@x.example'], true, 4],
    ]);
  });

  it('wants a number for a text, and says beside it what is wrong, in whose words', async () => {
    const bad = () =>
      throwError(() => refusal({ problems: [{ code: 'bad-mobile', path: 'to', facts: { text: '12' } }] }));
    const { press, type, text, find } = await open({ ...mail, channel: 'text' }, bad);
    expect(find<HTMLButtonElement>('button').disabled).toBeTrue();
    await type('input', '12');
    await press('Send the test');
    expect(text()).toContain('“12” is not a telephone number.');
    expect(find('input').value).toBe('12');
  });
});
