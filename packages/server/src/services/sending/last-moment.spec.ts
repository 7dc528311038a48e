import { deliver, invite } from '../../testing/acts';
import { actor, addPeople, byHand, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { expandFiring } from './expand-firing';
import { sendManual } from './write-manual';
import { nobodyChosen } from '@convite/contract';
import { plainDocument } from '@convite/core';

describe('a message that is on its way, asked about once more right before it leaves', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 6);
  });
  afterEach(() => stage.close());

  /** Everybody is put down for what is due; nothing has left. */
  const expand = () =>
    stage.context.store.transact(async (tx) => {
      const id = await tx.firings.lockDue(stage.clock.now());
      const firing = id === null ? null : await tx.firings.find(id);
      if (!firing) throw new Error('nothing is due');
      return expandFiring(tx, firing, stage.clock.now());
    });
  /** As an import that is undone leaves them: without the consent that it brought, and off its list. */
  const change = async () => {
    await stage.db('subscriber').whereIn('id', [2, 3]).update({ email_consent: false });
    await stage.context.store.lists.leave(stage.list, [4], new Date());
    await stage.context.store.consents.optOut(5, byHand, new Date());
  };
  const left = async () => (await deliver(stage)).map(({ to }) => to.address.replace('@people.example', '')).sort();
  const reasons = async () =>
    Object.fromEntries(
      (await stage.db('delivery').where({ state: 'skipped' }).orderBy('subscriber_id')).map((row) => [
        `p${row.subscriber_id}`,
        row.answer,
      ]),
    );

  it('an invitation goes only to who is still on its lists and still agrees, and to guests who came otherwise', async () => {
    const event = await publishedEvent(stage);
    // Registered by herself before: she hears of it whatever else she agreed to.
    await stage.context.store.registrations.ensureGuest(
      { eventId: event, subscriberId: 3, version: 0, isByDate: false },
      new Date(),
    );
    await stage.db('invitee').where({ event_id: event }).update({ holds_version: null });
    await invite(stage, event);
    expect(await expand()).toBe(6);
    await change();
    expect(await left()).toEqual(['p1', 'p3', 'p6']);
    expect(Object.keys(await reasons())).toEqual(['p2', 'p4', 'p5']);
  });

  it('a message by hand does so too', async () => {
    const wording = plainDocument('Hello', 'Hello.');
    const request = { ...nobodyChosen, lists: [stage.list], channel: 'email' as const, wording, confirmedCount: 6 };
    await sendManual(stage.context, request, actor, null);
    expect(await expand()).toBe(6);
    await change();
    expect(await left()).toEqual(['p1', 'p6']);
  });
});
