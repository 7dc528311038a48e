import { dayBeforeCue } from '../../testing/acts';
import { actor, addPeople, clockTo, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { Failure } from '../failure';
import { bulkPeople } from './bulk-people';
import { changeList, describeList } from './lists';

describe('A list', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await clockTo(stage, Date.UTC(2031, 4, 20, 12));
    await addPeople(stage, 10);
  });
  afterEach(() => stage.close());

  const fields = { name: 'Stars', description: 'Who looks up', isArchived: false };
  const failed = (one: Promise<unknown>): Promise<string> =>
    one.then(
      () => 'done',
      (error: unknown) => (error instanceof Failure ? error.code : String(error)),
    );
  const many = async (act: 'to-list' | 'off-list', listId: number, ids: number[]): Promise<void> => {
    for await (const _ of await bulkPeople(stage.context, { selection: { ids }, what: { act, listId } }, actor));
  };

  it('is renamed, described and put away, never over what somebody else saved, nor to a name that is taken', async () => {
    const { context } = stage;
    const id = await context.store.lists.create('Moon');
    const was = { name: 'Moon', description: '', isArchived: false };
    await changeList(context, id, { ...fields, was }, actor);
    expect(await describeList(context, id)).toEqual(jasmine.objectContaining({ ...fields, count: 0 }));
    expect(await failed(changeList(context, id, { ...fields, name: 'Sun', was }, actor))).toBe('changed-meanwhile');
    expect(await failed(changeList(context, id, { ...fields, name: 'Everybody' }, actor))).toBe('list-exists');
    expect(await failed(changeList(context, 999, fields, actor))).toBe('not-found');
    await changeList(context, id, { ...fields, isArchived: true, was: fields }, actor);
    expect((await context.store.lists.all()).find((one) => one.id === id)?.isArchived).toBeTrue();
  });

  it('says month by month who came, went and began to bounce, and what uses it', async () => {
    const { context } = stage;
    const id = await context.store.lists.create('Moon');
    await many('to-list', id, [1, 2, 3, 4]);
    await many('to-list', id, [4, 5]);
    await clockTo(stage, Date.UTC(2031, 5, 2, 12));
    await many('off-list', id, [1, 9]);
    await context.store.refusals.markBounced(2, 'gone', new Date(stage.clock.now()));
    const event = await publishedEvent(stage);
    const cue = dayBeforeCue();
    const cueId = await saveCue(context, event, null, { ...cue, audience: { ...cue.audience, lists: [id] } }, actor);
    const { growth, cues, digests, count } = await describeList(context, id);
    expect(growth.map(({ month }) => month).slice(-3)).toEqual(['2031-04', '2031-05', '2031-06']);
    expect(growth.slice(-2)).toEqual([
      { month: '2031-05', came: 5, went: 0, bounced: 0 },
      { month: '2031-06', came: 0, went: 1, bounced: 1 },
    ]);
    const sum = growth.reduce((all, { came, went }) => all + came - went, 0);
    expect([count, sum]).toEqual([4, 4]);
    expect(cues).toEqual([{ id: cueId, name: 'Tomorrow', eventId: event }]);
    expect(digests).toEqual([]);
  });
});
