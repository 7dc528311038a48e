import { logQuery, type LogPage } from '@convite/contract';
import type { Refusal } from '../../mail/message';
import { deliver, invite } from '../../testing/acts';
import { actor, addPeople, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { exportLog, readLog } from './read-log';

describe('the delivery log', () => {
  let stage: Stage;
  let first: number;
  let second: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 7);
    [first, second] = [await publishedEvent(stage), await publishedEvent(stage, { title: 'Second night' })];
    const refusal: Refusal = { kind: 'permanent', about: 'address', answer: '550 5.1.1 nobody' };
    await invite(stage, first);
    await deliver(stage, ({ to }) => (to.address === 'p3@people.example' ? refusal : null));
    await invite(stage, second);
    await deliver(stage);
  });
  afterEach(() => stage.close());

  const read = (query: Record<string, unknown>, limit?: number): Promise<LogPage> =>
    readLog(stage.context, logQuery.parse(query), limit);
  /** Everything that a query finds, page by page. */
  const all = async (query: Record<string, unknown>, limit: number): Promise<string[]> => {
    const found: string[] = [];
    for (let after: string | null = ''; after !== null;) {
      const page: LogPage = await read({ ...query, after }, limit);
      expect(page.rows.length).toBeLessThanOrEqual(limit);
      found.push(
        ...page.rows.map(({ eventTitle, person, state }) => `${eventTitle} ${person.email.slice(0, 2)} ${state}`),
      );
      after = page.next;
    }
    return found;
  };

  it('has everything that went out once, the latest sending first, however the pages fall', async () => {
    const whole = await all({}, 100);
    // Who was refused bounced: the second sending leaves them out.
    expect(whole.length).toBe(13);
    expect(whole.slice(0, 6).every((line) => line.startsWith('Second night'))).toBeTrue();
    expect(whole[6]).toMatch(/p3 failed$/);
    for (const limit of [1, 2, 3, 5, 6, 7, 13])
      expect(await all({}, limit))
        .withContext(`${limit} a page`)
        .toEqual(whole);
  });

  it('is narrowed to a sending, an event, a channel, a state, and to whoever is searched for', async () => {
    const [{ id = 0 } = {}] = await stage.context.store.firings.ofEvent(first);
    expect((await all({ firing: id }, 3)).length).toBe(7);
    expect(await all({ firing: id, state: 'not-reached' }, 1)).toEqual([(await all({ state: 'failed' }, 50))[0] ?? '']);
    expect((await all({ event: second }, 4)).length).toBe(6);
    expect(await all({ channel: 'text' }, 4)).toEqual([]);
    expect((await all({ search: 'p2@' }, 1)).length).toBe(2);
    expect((await all({ search: 'p2@', event: first }, 5)).length).toBe(1);
    expect(await all({ search: 'nobody-of-ours' }, 5)).toEqual([]);
    const { rows, title, zone } = await read({ firing: id, state: 'failed' });
    expect([title, zone, rows[0]?.answer, rows[0]?.attempts.length]).toEqual([
      'Invitation',
      'Europe/Lisbon',
      '550 5.1.1 nobody',
      1,
    ]);
    expect(rows[0]?.advice).toContain('does not exist');
    await expectAsync(read({ firing: 999_999 })).toBeRejectedWithError(/There is no such sending/);
  });

  it('leaves as a file, with how late each was', async () => {
    const lines: string[][] = [];
    for await (const rows of await exportLog(stage.context, logQuery.parse({}), actor))
      lines.push(...rows.map((row) => [...row]));
    expect(lines.length).toBe(13);
    const [sent] = lines;
    expect([sent?.[3], sent?.[5], sent?.[9]]).toEqual(['email', 'Second night', 'sent']);
    expect(Number(sent?.[8])).toBeLessThan(60);
  });
});
