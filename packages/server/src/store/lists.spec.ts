import { bringPasted } from '../services/audience/bring-pasted';
import type { PourList, PourProgress } from '@convite/contract';
import { pourList } from '../services/audience/lists';
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

  it('stays so when a list is copied, and when two are put together', async () => {
    const { context, list } = stage;
    await bringPasted(context, list, { text: emails(1, 40), how: 'said so' }, actor);
    const second = await context.store.lists.create('Second');
    await bringPasted(context, second, { text: emails(30, 60), how: 'said so' }, actor);
    const pour = async (id: number, how: PourList): Promise<PourProgress | undefined> => {
      let last: PourProgress | undefined;
      for await (const progress of await pourList(context, id, how, actor)) last = progress;
      return last;
    };
    const copied = await pour(list, { into: 'copy', name: 'Copy' });
    expect([copied?.done, copied?.joined, copied?.isOver]).toEqual([40, 40, true]);
    expect((await pour(second, { into: 'list', listId: list }))?.joined).toBe(20);
    expect((await context.store.lists.all()).map(({ name, count, isArchived }) => [name, count, isArchived])).toEqual([
      ['Copy', 40, false],
      ['Everybody', 60, false],
      ['Second', 31, true],
    ]);
    for (const [kept, counted] of await sizes()) expect(kept).toBe(counted);
    await expectAsync(pourList(context, list, { into: 'list', listId: list }, actor)).toBeRejectedWithError(
      /with itself/,
    );
    await expectAsync(pourList(context, list, { into: 'copy', name: 'Copy' }, actor)).toBeRejectedWithError(/already/);
  });
});
