import type { EmailMessage } from '../../mail/message';
import { dayBeforeCue, invite } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  eventFacts,
  openStage,
  publishedEvent,
  scriptedEnd,
  until,
  untilSettled,
  workOn,
  type Stage,
} from '../../testing/stage';
import { saveEvent } from '../events/events';
import { readTroubles } from '../health';
import { resumeSending } from '../sending/note-refusal';
import { saveCue } from './cues';
import { setFiringAgain, stopFiring } from './firings';
import { holdEvent, holdEverything, letEventGoOn } from './hold';
import { listCues } from './list-cues';
import { planOn } from './plan-firings';

describe('holding', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 3);
  });
  afterEach(() => stage.close());

  const states = async (event: number): Promise<string[]> =>
    (await listCues(stage.context, event)).map(({ firing }) => `${firing.state}: ${firing.note}`);

  it('all of an event holds what is set, what is planned later, and what is on its way; let go on, only what somebody held apart stays', async () => {
    const event = await publishedEvent(stage);
    await saveCue(stage.context, event, null, dayBeforeCue({ name: 'A' }), actor);
    const apart = await saveCue(stage.context, event, null, dayBeforeCue({ name: 'B' }), actor);
    const [{ id = 0 } = {}] = await stage.context.store.firings.ofCue(apart);
    await stopFiring(stage.context, id, { name: 'Ana' });
    await invite(stage, event);
    await holdEvent(stage.context, event, actor);
    await expectAsync(holdEvent(stage.context, event, actor)).toBeRejectedWithError('Spec holds it already.');
    await expectAsync(setFiringAgain(stage.context, id, actor)).toBeRejectedWithError(/holds all of this event/);
    await saveCue(stage.context, event, null, dayBeforeCue({ name: 'C' }), actor);
    const { store, clock } = stage.context;
    await store.transact((tx) => planOn(tx, event, clock.now()));
    expect(await states(event)).toEqual([
      'stopped: All of this event is held.',
      'stopped: Stopped by Ana.',
      'stopped: All of this event is held.',
    ]);
    const [invitation] = (await store.firings.ofEvent(event)).filter(({ kind }) => kind === 'invitation');
    expect(invitation?.state).toBe('stopped');
    await letEventGoOn(stage.context, event, actor);
    expect(await states(event)).toEqual(['set: ', 'stopped: Stopped by Ana.', 'set: ']);
    await expectAsync(letEventGoOn(stage.context, event, actor)).toBeRejectedWithError('Nobody holds it.');
  });

  it('of a series holds what goes its own way from one date on too', async () => {
    const event = await publishedEvent(stage, { series: { rule: 'FREQ=WEEKLY', added: [], exceptions: [] } });
    await saveCue(stage.context, event, null, dayBeforeCue(), actor);
    await holdEvent(stage.context, event, actor);
    await clockTo(stage, Date.UTC(2031, 5, 17));
    const { facts, number } = (await stage.context.store.events.find(event))?.version ?? {
      facts: eventFacts,
      number: 1,
    };
    const scope = { kind: 'following', key: '20310625T193000' } as const;
    const { followingId } = await saveEvent(
      stage.context,
      event,
      { facts: { ...facts, title: 'From July' }, basedOn: number, scope },
      actor,
    );
    const followed = followingId === null ? null : await stage.context.store.events.find(followingId);
    expect([followed?.version.facts.title, followed?.heldBy]).toEqual(['From July', 'Spec']);
    const firings = await stage.context.store.firings.ofEvent(followingId ?? 0);
    expect(new Set(firings.map(({ state, held }) => `${state} ${held}`))).toEqual(new Set(['stopped event-held']));
  });

  it('what passed meanwhile is missed, loudly, and goes to nobody by itself', async () => {
    const event = await publishedEvent(stage);
    await saveCue(stage.context, event, null, dayBeforeCue(), actor);
    await holdEvent(stage.context, event, actor);
    await clockTo(stage, Date.UTC(2031, 5, 18, 12));
    await letEventGoOn(stage.context, event, actor);
    expect((await states(event))[0]).toMatch(/^missed: Its moment had passed/);
  });

  it('everything of the house stops both channels until somebody lets each go on', async () => {
    await holdEverything(stage.context, { name: 'Ana' });
    expect(
      (await readTroubles(stage.context.store))
        .map(({ text }) => text)
        .slice(0, 2)
        .sort(),
    ).toEqual(['All email held by Ana: nothing goes out', 'All texts held by Ana: nothing goes out']);
    await invite(stage, await publishedEvent(stage));
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await until('it is expanded', async () => (await stage.db('delivery').count({ n: '*' }))[0]?.['n'] === 3);
    await new Promise((done) => setTimeout(done, 800));
    expect(mail.taken.length).toBe(0);
    await resumeSending(stage.context, 'email', actor);
    await untilSettled(stage);
    await worker.stop();
    expect(mail.taken.length).toBe(3);
  });
});
