import { bringPasted } from '../services/audience/bring-pasted';
import { changeImport } from '../services/audience/take-in';
import { actor, openStage, type Stage } from '../testing/stage';

describe('the kept size of a list', () => {
  let stage: Stage;
  beforeEach(async () => (stage = await openStage()));
  afterEach(() => stage.close());

  /** Kept and counted, for each list. */
  const sizes = async (): Promise<[number, number][]> => {
    const lists = await stage.context.store.lists.all();
    return Promise.all(
      lists.map(async ({ id, count }): Promise<[number, number]> => {
        const members: unknown[] = await stage.db('list_member').where({ list_id: id });
        return [count, members.length];
      }),
    );
  };
  const emails = (from: number, to: number): string =>
    Array.from({ length: to - from + 1 }, (_, n) => `p${from + n}@people.example`).join('\n');

  it('is what one would count, whatever comes, goes, comes twice, or at the same moment', async () => {
    const { context, list } = stage;
    const second = await context.store.lists.create('Second');
    const paste = (listId: number, text: string) => bringPasted(context, listId, { text, how: 'said so' }, actor);
    await paste(list, emails(1, 40));
    await paste(list, emails(30, 60));
    await Promise.all([paste(second, emails(1, 50)), paste(second, emails(20, 70)), paste(list, emails(50, 90))]);
    expect(await sizes()).toEqual([
      [90, 90],
      [70, 70],
    ]);
    const person = (await context.store.subscribers.idByEmail('p1@people.example')) ?? 0;
    await context.store.transact((tx) => tx.lists.setOf(person, [second], new Date(0)));
    await context.store.transact((tx) => tx.lists.setOf(person, [second, second, 999], new Date(0)));
    const [last] = await context.store.peopleImports.latest(1);
    await changeImport(context, last?.id ?? 0, 'undo', actor);
    for (const [kept, counted] of await sizes()) expect(kept).toBe(counted);
    expect((await context.store.subscribers.page({ search: '', list, after: 0, limit: 5 })).total).toBe(
      (await sizes())[0]?.[0] ?? null,
    );
  });
});
