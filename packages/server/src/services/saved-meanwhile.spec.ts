import { letter } from '@convite/core';
import { nobodyChosen } from '@convite/contract';
import { dayBeforeCue } from '../testing/acts';
import { actor, openStage, publishedEvent, type Stage } from '../testing/stage';
import { saveCue } from './countdown/cues';
import { saveDigest } from './digests/digests';
import { Failure } from './failure';
import { readSettings, saveSettings } from './settings';

/** Two members with the same form open, who save at once. */
describe('What somebody saved meanwhile', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
  });
  afterEach(() => stage.close());

  const outcomes = async (saves: readonly Promise<unknown>[]): Promise<string[]> =>
    (await Promise.allSettled(saves))
      .map((one) => (one.status === 'fulfilled' ? 'saved' : one.reason instanceof Failure ? one.reason.code : 'failed'))
      .sort();
  const names = ['One', 'Two', 'Three'];
  const oneOfThem = ['changed-meanwhile', 'changed-meanwhile', 'saved'];

  it('is not written over in a cue', async () => {
    const event = await publishedEvent(stage);
    const was = dayBeforeCue();
    const id = await saveCue(stage.context, event, null, was, actor);
    expect(
      await outcomes(names.map((name) => saveCue(stage.context, event, id, { ...was, name, was }, actor))),
    ).toEqual(oneOfThem);
    const now = (await stage.context.store.cues.find(id))?.name ?? '';
    expect(names).toContain(now);
    // Who saw what they saved may save on top of it; and whoever says nothing of what was is not asked.
    await saveCue(stage.context, event, id, { ...was, name: 'On top', was: { ...was, name: now } }, actor);
    await saveCue(stage.context, event, id, { ...was, name: 'By a program' }, actor);
    expect((await stage.context.store.cues.find(id))?.name).toBe('By a program');
  });

  it('is not written over in a digest', async () => {
    const listId = await stage.context.store.lists.create('Readers of it');
    const was = {
      ...{
        name: 'Coming up',
        weekday: 5,
        at: '13:00',
        zone: 'Europe/Lisbon',
        windowDays: 10,
        whom: { ...nobodyChosen, lists: [listId] },
      },
      ...{ wording: letter('Coming up', ''), isOn: true, senderId: null },
    };
    const id = await saveDigest(stage.context, null, was, actor);
    expect(await outcomes(names.map((name) => saveDigest(stage.context, id, { ...was, name, was }, actor)))).toEqual(
      oneOfThem,
    );
  });

  it('is not written over in the settings', async () => {
    const was = await readSettings(stage.context);
    expect(
      await outcomes(names.map((organisation) => saveSettings(stage.context, { ...was, organisation, was }, actor))),
    ).toEqual(oneOfThem);
    expect(names).toContain((await readSettings(stage.context)).organisation);
  });
});
