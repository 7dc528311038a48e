import { houseWordings } from './house-wordings';
import { sendInvitations } from './invite';
import { sendManual } from './write-manual';
import { sendNotice } from './notices';
import { writeToGuests } from './write-to-guests';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { actor, addPeople, openStage, publishedEvent, specSettings, type Stage } from '../../testing/stage';
import { nobodyChosen } from '@convite/contract';
import { plainDocument } from '@convite/core';
import { previewByHand, sendFiringNow } from '../countdown/firings';
import { readBoard } from '../countdown/board';
import { saveEvent } from '../events/events';
import { getEvent } from '../events/get-event';

describe('what cannot be sent for want of Settings', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 3);
  });
  afterEach(() => stage.close());

  const save = (over: object) => stage.context.store.house.saveSettings({ ...specSettings, ...over });
  const withoutAddress = () => save({ postalAddress: ' ' });
  const withExample = () => save({ sender: { ...specSettings.sender, email: 'owner@example.org' } });
  const firings = async () => Number((await stage.db('firing').count({ n: '*' }).first())?.['n']);

  it('is refused before anything is written down, whatever is sent by hand, and is sent once it is filled in', async () => {
    const { context, list } = stage;
    const event = await publishedEvent(stage);
    const held = await publishedEvent(stage);
    await invite(stage, held);
    await deliver(stage);
    const { version } = await getEvent(context, held);
    await saveEvent(context, held, { facts: { ...version.facts, venue: 'Dome 2' }, basedOn: 1 }, actor);
    const wording = plainDocument('Hello', 'Hello.');
    const audience = { ...dayBeforeCue().audience, lists: [list] };
    const request = { channel: 'email' as const, wording, confirmedCount: 3 };
    const ways: readonly (() => Promise<unknown>)[] = [
      () => sendInvitations(context, event, { lists: [list], ...request, wording: houseWordings.invitation }, actor),
      () => sendManual(context, { ...nobodyChosen, lists: [list], ...request }, actor, null),
      () => writeToGuests(context, held, { ...request, audience, date: '' }, actor, null),
      () => sendNotice(context, held, houseWordings.change, 3, actor),
    ];
    const before = await firings();
    for (const lack of [withoutAddress, withExample]) {
      await lack();
      for (const [index, send] of ways.entries())
        await expectAsync(send())
          .withContext(`${lack.name} ${index}`)
          .toBeRejectedWith(jasmine.objectContaining({ status: 409, code: 'cannot-send-yet' }));
    }
    expect(await firings()).toBe(before);
    await save({});
    for (const send of ways) await send();
    expect((await deliver(stage)).length).toBe(12);
  });

  it('that failed for it can be sent once more, to those who are still to get it', async () => {
    const { context } = stage;
    const event = await publishedEvent(stage);
    await invite(stage, event);
    // It is emptied between the press and the sending.
    await withoutAddress();
    expect(await deliver(stage)).toEqual([]);
    const [firing] = await stage.db('firing').where({ kind: 'invitation' });
    expect([firing.state, firing.note]).toEqual(['failed', jasmine.stringContaining('postal address')]);
    const item = [...(await readBoard(context)).behind, ...(await readBoard(context)).ahead].find(
      ({ firingId }) => firingId === firing.id,
    );
    expect(item?.canSendByHand).toBeTrue();
    expect(await previewByHand(context, firing.id)).toEqual(jasmine.objectContaining({ gets: 3, refusal: '' }));
    await expectAsync(sendFiringNow(context, firing.id, 3, actor)).toBeRejectedWith(
      jasmine.objectContaining({ code: 'cannot-send-yet' }),
    );
    await save({});
    await sendFiringNow(context, firing.id, 3, actor);
    expect((await deliver(stage)).length).toBe(3);
  });
});
