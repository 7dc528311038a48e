import { letter, type Block } from '@convite/core';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { actor, addPeople, clockTo, countAll, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { createEvent, saveEvent } from '../events/events';
import { getEvent } from '../events/get-event';
import { doubtsOfPublishing } from '../sending/doubts';
import { saveCue } from './cues';
import { findNeeds } from './find-needs';
import { listCues } from './list-cues';
import { previewCue } from './preview-cue';
import { rehearse } from './rehearse';

describe('a cue that depends on the join link', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 5);
    await clockTo(stage, Date.UTC(2031, 5, 14));
  });
  afterEach(() => stage.close());

  const joinLink = 'https://live.spec.example/room';
  const button: Block = {
    kind: 'button',
    label: 'Join',
    address: { kind: 'field', field: 'event.joinLink', fallback: '' },
  };
  const join = (over = {}) => ({
    ...dayBeforeCue({ name: 'How to join', audience: { ...dayBeforeCue().audience, lists: [stage.list] } }),
    wording: letter('How to join', 'press the button below.', button),
    ...over,
  });
  /** Two of the five are invited. */
  const onlineEvent = async (facts = {}): Promise<number> => {
    const event = await publishedEvent(stage, { venue: '', joinLink, ...facts });
    const two = await stage.context.store.lists.create('Two');
    await stage.context.store.lists.join(two, [1, 2], new Date(0));
    await invite(stage, event, { lists: [two] });
    await deliver(stage);
    return event;
  };
  const hazardOf = async (event: number) => {
    await countAll(stage);
    const [cue] = await listCues(stage.context, event);
    const found = cue?.hazards.find(({ code }) => code === 'no-join-link');
    return { people: found?.people ?? null, gets: cue?.firing.tally.gets };
  };
  const sendAll = async () => {
    await clockTo(stage, Date.UTC(2031, 5, 17, 18, 30));
    return (await deliver(stage)).filter(({ subject }) => subject === 'How to join');
  };

  it('goes to guests alone: table, preview, rehearsal, needs and what is sent say the same of the others', async () => {
    const { context } = stage;
    const event = await onlineEvent();
    await saveCue(context, event, null, join(), actor);
    expect(await hazardOf(event)).toEqual({ people: 3, gets: 2 });
    const whyNot = async (person: number) => (await previewCue(context, event, join(), person)).person?.whyNot;
    expect([await whyNot(1), await whyNot(3)]).toEqual([null, 'no-join-link']);
    const rehearsed = await rehearse(context, event, { personId: 3, archetype: null });
    expect(rehearsed.scenes.map((scene) => scene.whyNot)).toEqual(['no-join-link']);
    expect((await findNeeds(context)).filter(({ kind }) => kind === 'no-join-link')).toEqual([
      jasmine.objectContaining({ eventId: event, count: 3 }),
    ]);
    const mails = await sendAll();
    expect(mails.map(({ to }) => to.address).sort()).toEqual(['p1@people.example', 'p2@people.example']);
    expect(mails.every(({ html }) => html.includes(joinLink))).toBe(true);
    expect((await findNeeds(context)).filter(({ kind }) => kind === 'no-join-link')).toEqual([]);
  });

  it('has two ways out: the others are invited too, or the cue is for guests alone', async () => {
    const { context } = stage;
    const event = await onlineEvent();
    const id = await saveCue(context, event, null, join(), actor);
    const { audience } = join();
    await saveCue(context, event, id, join({ audience: { ...audience, onlyGuests: true } }), actor);
    expect(await hazardOf(event)).toEqual({ people: null, gets: 2 });
    await saveCue(context, event, id, join(), actor);
    await invite(stage, event);
    await deliver(stage);
    expect(await hazardOf(event)).toEqual({ people: null, gets: 5 });
    expect((await sendAll()).length).toBe(5);
  });

  it('goes to nobody as long as there is no join link, and to guests once there is one', async () => {
    const { context } = stage;
    const event = await onlineEvent({ venue: 'Dome 1', joinLink: '' });
    await saveCue(context, event, null, join(), actor);
    expect(await hazardOf(event)).toEqual({ people: 5, gets: 0 });
    const stored = await getEvent(context, event);
    await saveEvent(context, event, { facts: { ...stored.version.facts, joinLink }, basedOn: 1 }, actor);
    await context.store.firings.recountEvent(event, 0);
    expect(await hazardOf(event)).toEqual({ people: 3, gets: 2 });
  });

  it('asks once more at the last moment: who is no guest any more does not get it', async () => {
    const { context } = stage;
    const event = await onlineEvent();
    await saveCue(context, event, null, join(), actor);
    const { store } = context;
    await clockTo(stage, Date.UTC(2031, 5, 17, 18, 30));
    // Written down for two, of whom one is removed before it leaves.
    await store.transact(async (tx) => {
      const due = await tx.firings.lockDue(stage.clock.now());
      const firing = due === null ? null : await tx.firings.find(due);
      if (!firing) throw new Error('nothing is due');
      const { expandFiring } = await import('../sending/expand-firing');
      await expandFiring(tx, firing, stage.clock.now());
    });
    await stage.db('invitee').where({ subscriber_id: 2 }).delete();
    const mails = await deliver(stage);
    expect(mails.map(({ to }) => to.address)).toEqual(['p1@people.example']);
  });

  it('is said as the event is published', async () => {
    const { context } = stage;
    const facts = { ...(await getEvent(context, await publishedEvent(stage))).version.facts, venue: '' };
    const doubts = async (over: { joinLink: string }, audience = join().audience) => {
      const event = await createEvent(context, { ...facts, ...over }, actor, 'public');
      await saveCue(context, event, null, join({ audience }), actor);
      const found = await doubtsOfPublishing(context, context.store, await getEvent(context, event));
      return found.filter(({ code }) => code === 'cue-no-join-link').map(({ text }) => text);
    };
    expect(await doubts({ joinLink })).toEqual([jasmine.stringContaining('people of its lists who are not invited')]);
    expect(await doubts({ joinLink: '' })).toEqual([jasmine.stringContaining('nobody gets it')]);
    expect(await doubts({ joinLink }, dayBeforeCue().audience)).toEqual([]);
    expect(await doubts({ joinLink }, { ...join().audience, onlyGuests: true })).toEqual([]);
  });
});
