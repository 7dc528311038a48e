import type { BulkAct, BulkProgress, PeopleSelection } from '@convite/contract';
import { actor, addPeople, openStage, type Stage } from '../../testing/stage';
import { Failure } from '../failure';
import { exportPeople } from './export-people';
import { saveSegment } from './segments';
import { bulkPeople } from './bulk-people';
import { exportCards } from './export-people';

describe('What is done to many people at once', () => {
  let stage: Stage;
  let list: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 1200);
    list = await stage.context.store.lists.create('Chosen');
  });
  afterEach(() => stage.close());

  const run = async (selection: PeopleSelection, what: BulkAct, most = Infinity): Promise<BulkProgress[]> => {
    const seen: BulkProgress[] = [];
    for await (const one of await bulkPeople(stage.context, { selection, what }, actor)) {
      seen.push(one);
      if (seen.length >= most) break;
    }
    return seen;
  };
  const all: PeopleSelection = { search: '', list: null };
  const sizeOf = (id: number) => stage.context.store.lists.sizeOf(id);

  it('puts all on a list, chunk by chunk with how far it is, and takes off again who it was that joined', async () => {
    const seen = await run(all, { act: 'to-list', listId: list });
    expect(seen.map(({ done, isOver }) => [done, isOver])).toEqual([
      [500, false],
      [1000, false],
      [1200, false],
      [1200, true],
    ]);
    expect(await sizeOf(list)).toBe(1200);
    const off = await run({ search: 'p7@', list }, { act: 'off-list', listId: list });
    expect(off.at(-1)).toEqual(jasmine.objectContaining({ done: 1, changed: 1, isOver: true }));
    const ids = off.at(-1)?.changedIds ?? [];
    // Only who had left comes back: who was on it is not changed.
    const back = await run({ ids: [...ids, 1] }, { act: 'to-list', listId: list });
    expect([back.at(-1)?.changedIds, await sizeOf(list)]).toEqual([ids, 1200]);
  });

  it('stops where somebody stops it, and leaves what was done', async () => {
    await run(all, { act: 'to-list', listId: list }, 1);
    expect(await sizeOf(list)).toBe(500);
  });

  it('opts out with how, sets and empties a field, gives and takes a topic, and erases', async () => {
    const { store } = stage.context;
    const some: PeopleSelection = { ids: [1, 2, 3] };
    const last = async (what: BulkAct, selection = some) => (await run(selection, what)).at(-1)?.changed;
    expect(await last({ act: 'opt-out', how: 'on paper at the gate' })).toBe(3);
    expect(await last({ act: 'opt-out', how: 'once more' })).toBe(0);
    expect((await store.consents.latestOf(2)).map(({ how, by, isGiven }) => [how, by, isGiven])).toContain([
      'on paper at the gate',
      'Spec',
      false,
    ]);
    const fieldId = await store.fields.create('Visits', 'number');
    const field = async () => (await stage.db('subscriber_field').where({ field_id: fieldId })).length;
    await last({ act: 'set-field', fieldId, value: '12' });
    expect(await field()).toBe(3);
    await last({ act: 'set-field', fieldId, value: ' ' });
    expect(await field()).toBe(0);
    const refused = await run(some, { act: 'set-field', fieldId, value: 'often' }).catch((error: unknown) => error);
    expect(refused instanceof Failure && refused.more.problems?.[0]?.code).toBe('bad-value');
    expect(await last({ act: 'give-topic', topic: 'moon' })).toBe(3);
    expect(await last({ act: 'give-topic', topic: 'moon' }, { ids: [3, 4] })).toBe(1);
    expect(await last({ act: 'take-topic', topic: 'moon' })).toBe(3);
    expect(await last({ act: 'erase' })).toBe(3);
    expect((await store.subscribers.topicsOf([4])).get(4)).toEqual(['moon']);
  });

  it('is stopped by nobody who is gone, and by no number that is nobody’s', async () => {
    await run({ ids: [5] }, { act: 'erase' });
    const seen = await run({ ids: [4, 5, 6, 999_999] }, { act: 'to-list', listId: list });
    expect(seen.at(-1)?.changedIds).toEqual([4, 6]);
    const missing = await run(all, { act: 'to-list', listId: 999 }).catch((error: unknown) => error);
    expect(missing instanceof Failure && missing.status).toBe(404);
  });

  it('hands out all who match as an address book, page by page', async () => {
    let cards = 0;
    let pieces = 0;
    for await (const piece of await exportCards(stage.context, { search: '' }, actor)) {
      pieces += 1;
      cards += piece.split('BEGIN:VCARD').length - 1;
    }
    expect([pieces, cards]).toEqual([2, 1200]);
  });

  it('by two at once puts everybody on the list once', async () => {
    const both = await Promise.all([
      run(all, { act: 'to-list', listId: list }),
      run(all, { act: 'to-list', listId: list }),
    ]);
    expect(both.map((seen) => seen.at(-1)?.isOver)).toEqual([true, true]);
    const [row] = await stage.db('list_member').where({ list_id: list }).count({ n: '*' });
    expect([Number(row?.['n']), await sizeOf(list)]).toEqual([1200, 1200]);
  });

  it('does it to all who are in a segment now, and exports them', async () => {
    const { context } = stage;
    const conditions = { kind: 'person', ids: [2, 4, 5] } as const;
    const segment = await saveSegment(context, null, { name: 'Some', description: '', conditions }, actor);
    const target = await context.store.lists.create('Target');
    const progress = await run({ search: '', list: null, segment }, { act: 'to-list', listId: target });
    expect(progress.at(-1)).toEqual(jasmine.objectContaining({ done: 3, changed: 3, isOver: true }));
    const emails: (string | undefined)[] = [];
    for await (const rows of await exportPeople(context, { search: '', segment }, actor))
      emails.push(...rows.map((row) => row[1]));
    expect(emails).toEqual([2, 4, 5].map((id) => `p${id}@people.example`));
  });
});
