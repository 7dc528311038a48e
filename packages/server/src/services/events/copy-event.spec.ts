import { dayBeforeCue, invite } from '../../testing/acts';
import { actor, addPeople, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { copyEvent, deleteDraft } from './copy-event';
import { getEvent } from './get-event';

describe('an event once more', () => {
  let stage: Stage;
  beforeAll(async () => {
    stage = await openStage();
    await addPeople(stage, 3);
  });
  afterAll(() => stage.close());

  it('is a draft of its own with the same facts, with its countdown or without, and with nobody invited', async () => {
    const event = await publishedEvent(stage, { topics: ['moon'] });
    await saveCue(stage.context, event, null, dayBeforeCue(), actor);
    await invite(stage, event);
    const before = await getEvent(stage.context, event);
    const alone = await getEvent(stage.context, await copyEvent(stage.context, event, false, actor));
    const whole = await copyEvent(stage.context, event, true, actor);
    expect(alone.version.facts).toEqual({ ...before.version.facts, title: 'Copy of Dome night' });
    expect([alone.status, alone.reach, alone.uid === before.uid]).toEqual(['draft', before.reach, false]);
    const { cues, firings, invitees } = stage.context.store;
    expect([(await cues.ofEvent(alone.id)).length, (await cues.ofEvent(whole)).map(({ name }) => name)]).toEqual([
      0,
      ['Tomorrow'],
    ]);
    expect((await firings.ofEvent(whole)).map(({ state }) => state)).toEqual(['draft']);
    expect(await invitees.countGuests(whole)).toBe(0);
  });

  it('is deleted with all that is its own while nobody has heard of it, and never after', async () => {
    const event = await publishedEvent(stage);
    await saveCue(stage.context, event, null, dayBeforeCue(), actor);
    const draft = await copyEvent(stage.context, event, true, actor);
    const wordings = async () => (await stage.db('wording').select('id')).length;
    const before = await wordings();
    await deleteDraft(stage.context, draft, actor);
    expect(await stage.context.store.events.find(draft)).toBeNull();
    expect(await wordings()).toBe(before - 1);
    await expectAsync(deleteDraft(stage.context, draft, actor)).toBeRejectedWithError(/no such event/);
    await expectAsync(deleteDraft(stage.context, event, actor)).toBeRejectedWithError(/call it off/);
    await stage.db('event').where({ id: event }).update({ status: 'draft' });
    await stage.context.store.invitees.addGuests(
      [{ eventId: event, subscriberId: 1, reply: 'accepted', holdsVersion: 1 }],
      new Date(),
    );
    await expectAsync(deleteDraft(stage.context, event, actor)).toBeRejectedWithError(/call it off/);
  });
});
