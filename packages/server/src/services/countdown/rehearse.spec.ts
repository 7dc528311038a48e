import { wallTimeAt } from '@convite/core';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { actor, addPeople, clockTo, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { saveCue } from './cues';
import { rehearse } from './rehearse';
import { rehearseForAll } from './rehearse-all';

describe('a rehearsal', () => {
  let stage: Stage;
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 2);
    event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage);
    const { audience } = dayBeforeCue();
    const at = (amount: number) =>
      ({
        kind: 'relative',
        amount,
        unit: 'days',
        direction: 'before',
        anchor: 'start',
        at: '10:00',
        clock: 'person',
      }) as const;
    for (const cue of [
      dayBeforeCue({ name: 'Yes alone', moment: at(1), audience: { ...audience, invitees: ['accepted'] } }),
      dayBeforeCue({ name: 'Text', channel: 'text', subject: '', moment: at(2) }),
      dayBeforeCue({ name: 'Answer us', moment: at(9), audience: { ...audience, invitees: ['needs-action'] } }),
      dayBeforeCue({
        name: 'To the list',
        moment: at(8),
        audience: { ...audience, invitees: [], lists: [stage.list] },
      }),
    ])
      await saveCue(stage.context, event, null, cue, actor);
  });
  afterEach(() => stage.close());

  const run = (archetype: Parameters<typeof rehearse>[2]['archetype'] = null, personId: number | null = 1) =>
    rehearse(stage.context, event, { personId, archetype });
  const said = async (...about: Parameters<typeof run>): Promise<string[]> =>
    (await run(...about)).scenes.map(({ name, whyNot }) => `${name}: ${whyNot ?? 'comes'}`);

  it('tells somebody’s messages in order on their own clock, worded for them, and why one does not come', async () => {
    await stage.db('subscriber').where({ id: 1 }).update({ zone: 'Asia/Tokyo' });
    const { person, scenes, zone } = await run();
    expect([person.id, person.zone, person.isReal, zone]).toEqual([1, 'Asia/Tokyo', true, 'Europe/Lisbon']);
    expect(
      scenes.map(({ name, dueAt, whyNot }) => [name, dueAt && wallTimeAt(Date.parse(dueAt), person.zone), whyNot]),
    ).toEqual([
      ['Answer us', '2031-06-10T10:00', null],
      ['To the list', '2031-06-11T10:00', null],
      ['Text', '2031-06-17T10:00', null],
      ['Yes alone', '2031-06-18T10:00', 'not-chosen'],
    ]);
    expect(scenes[0]?.message?.text).toContain('Person:');
    expect(scenes[3]?.message).toBeNull();
  });

  it('shows what somebody like them would get with one difference, for every archetype, and changes nothing', async () => {
    const text = (reason: string) => [
      'Answer us: comes',
      'To the list: comes',
      `Text: ${reason}`,
      'Yes alone: not-chosen',
    ];
    expect(await said('no-mobile')).toEqual(text('no-mobile'));
    expect(await said('no-texts')).toEqual(text('no-text-consent'));
    expect(await said('opted-out')).toEqual([
      'Answer us: opted-out',
      'To the list: opted-out',
      'Text: opted-out',
      'Yes alone: not-chosen',
    ]);
    // Of what they are guests they hear whatever they agreed to; texts need a yes of their own.
    expect(await said('no-consent')).toEqual(text('no-text-consent'));
    expect(await said('registered-yesterday')).toEqual([
      'Answer us: not-chosen',
      'To the list: comes',
      'Text: comes',
      'Yes alone: comes',
    ]);
    // Who waits for a place has answered.
    expect(await said('waitlisted')).toEqual([
      'Answer us: not-chosen',
      'To the list: comes',
      'Text: not-chosen',
      'Yes alone: not-chosen',
    ]);
    const far = await run('far-away');
    expect([far.person.isReal, far.person.zone]).not.toContain('Europe/Lisbon');
    expect(far.person.isReal).toBeFalse();
    for (const archetype of far.archetypes)
      expect((await run(archetype)).scenes.length)
        .withContext(archetype)
        .toBe(4);
    expect((await stage.context.store.subscribers.find(1))?.mobile).not.toBe('');
  });

  it('of an event without guests takes an invented reader', async () => {
    const empty = await publishedEvent(stage);
    await saveCue(stage.context, empty, null, dayBeforeCue(), actor);
    const { scenes, person } = await rehearse(stage.context, empty, { personId: null, archetype: 'unanswered' });
    expect([person.isReal, scenes.map(({ whyNot }) => whyNot)]).toEqual([false, [null]]);
    const far = await rehearse(stage.context, empty, { personId: null, archetype: 'opted-out' });
    expect(far.scenes.map(({ whyNot }) => whyNot)).toEqual(['opted-out']);
  });

  it('for everybody says who gets which cue as they stand, when over a year, and what a newcomer would get', async () => {
    await addPeople(stage, 1, 5);
    const birthday = await stage.context.store.fields.create('Birthday', 'date');
    const moment = { kind: 'own-date', field: birthday, repeats: 'yearly', amount: 0, unit: 'days' } as const;
    await saveCue(
      stage.context,
      event,
      null,
      dayBeforeCue({ name: 'Apart', moment: { ...moment, direction: 'before', at: '10:00' } }),
      actor,
    );
    const { cues, perWeek, apart } = await rehearseForAll(stage.context, event);
    expect([perWeek, apart]).toEqual([null, 1]);
    expect(
      cues.map(({ name, people, dueAt, reachesNew }) => [name, [...people].sort(), dueAt.length, reachesNew]),
    ).toEqual([
      ['Yes alone', [], 1, true],
      ['Text', [1, 2], 1, true],
      ['Answer us', [1, 2], 1, false],
      ['To the list', [1, 2, 5], 1, false],
    ]);
    await clockTo(stage, Date.UTC(2031, 5, 1));
    const series = await publishedEvent(stage, {
      series: { rule: 'FREQ=WEEKLY;COUNT=9', added: [], exceptions: [] },
    });
    await saveCue(stage.context, series, null, dayBeforeCue({}), actor);
    expect((await rehearseForAll(stage.context, series)).cues[0]?.dueAt.length).toBe(9);
  });
});
