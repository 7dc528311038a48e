import { cueFields } from '@convite/contract';
import { wallTimeAt } from '@convite/core';
import { dayBeforeCue } from '../../testing/acts';
import { actor, eventFacts, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { removeCue, saveCue } from '../countdown/cues';
import { listCues } from '../countdown/list-cues';
import { saveEvent } from '../events/events';
import { applyPlan, fitPlan } from './apply-plan';
import { followPlan, planFollowersOf } from './follow-plan';
import { housePlans } from './house-plans';
import { keepPlan, listPlans, removePlan } from './plans';

describe('plans', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
  });
  afterEach(() => stage.close());

  const names = async (event: number): Promise<string[]> =>
    (await listCues(stage.context, event)).map(({ name, firing }) => `${name}, ${firing.state}`);
  const keep = (eventId: number, id: number | null = null): Promise<number> =>
    keepPlan(stage.context, { eventId, id, name: 'Our evening', says: '' }, actor);
  const all = (id: number) => ({ source: { kind: 'plan', id } as const, keys: [1, 2, 3, 4], isDraft: false });

  it('of Convite’s own show when each cue would go and what does not fit; taken over, what fits is set', async () => {
    expect((await listPlans(stage.context)).map(({ name }) => name)).toEqual([
      'Gathering',
      'Webinar',
      'Course',
      'Festival weekend',
      'Appointment',
      'Members’ meeting',
      'Bare',
    ]);
    const event = await publishedEvent(stage);
    for (const { key, cues } of housePlans) {
      const fit = await fitPlan(stage.context, event, { kind: 'house', name: key });
      const strange = fit.cues.filter(({ problems }) => problems.some(({ code }) => code !== 'no-registration'));
      expect(strange).withContext(key).toEqual([]);
      expect(fit.cues.length).toBe(cues.length);
    }
    const meeting = { kind: 'house', name: 'meeting' } as const;
    const fit = await fitPlan(stage.context, event, meeting);
    expect(
      fit.cues.map(({ name, dueAt, problems }) => [
        name,
        dueAt && wallTimeAt(Date.parse(dueAt), eventFacts.zone),
        problems.length,
      ]),
    ).toEqual([
      ['The agenda', '2031-05-21T10:00', 0],
      ['Before registration closes', '2031-06-16T10:00', 1],
      ['One week to go', '2031-06-11T10:00', 0],
      ['Tomorrow', '2031-06-17T19:30', 0],
      ['The minutes', '2031-06-21T10:00', 0],
    ]);
    expect(await applyPlan(stage.context, event, { source: meeting, keys: [1, 2, 4], isDraft: false }, actor)).toEqual({
      set: 2,
      drafts: 1,
    });
    expect(await names(event)).toEqual(['The agenda, set', 'Before registration closes, draft', 'Tomorrow, set']);
  });

  it('leave what would be missed at once, and go without lists that are gone', async () => {
    const pattern = await publishedEvent(stage);
    const soon = dayBeforeCue({ name: 'Three years', moment: { kind: 'fixed', wall: '2031-06-01T10:00' } });
    await saveCue(stage.context, pattern, null, soon, actor);
    const { audience } = soon;
    await saveCue(
      stage.context,
      pattern,
      null,
      dayBeforeCue({ audience: { ...audience, lists: [stage.list, 999] } }),
      actor,
    );
    const event = await publishedEvent(stage);
    stage.clock.shiftTo(Date.UTC(2031, 5, 10) - Date.now());
    const source = { kind: 'event', id: pattern } as const;
    const fit = await fitPlan(stage.context, event, source);
    expect(fit.cues.map(({ canBeKept, problems }) => [canBeKept, problems.map(({ code }) => code)])).toEqual([
      [false, ['too-soon']],
      [true, ['audience-gone']],
    ]);
    const keys = fit.cues.map(({ key }) => key);
    expect(await applyPlan(stage.context, event, { source, keys, isDraft: false }, actor)).toEqual({
      set: 0,
      drafts: 1,
    });
    expect((await listCues(stage.context, event)).map((cue) => cue.audience.lists)).toEqual([[stage.list]]);
  });

  it('are followed by the events that somebody chooses: what was changed there, left or removed stays as it is', async () => {
    const pattern = await publishedEvent(stage);
    await saveCue(stage.context, pattern, null, dayBeforeCue({ name: 'One' }), actor);
    const two = await saveCue(stage.context, pattern, null, dayBeforeCue({ name: 'Two' }), actor);
    const three = await saveCue(stage.context, pattern, null, dayBeforeCue({ name: 'Three' }), actor);
    const plan = await keep(pattern);
    const [untouched, touched, other] = [
      await publishedEvent(stage),
      await publishedEvent(stage),
      await publishedEvent(stage),
    ];
    await applyPlan(stage.context, untouched, { ...all(plan), isDraft: true }, actor);
    // To set what was taken over as a draft is no change of it.
    for (const cue of await listCues(stage.context, untouched))
      await saveCue(stage.context, untouched, cue.id, { ...cueFields.parse(cue), isDraft: false }, actor);
    await applyPlan(stage.context, touched, all(plan), actor);
    await saveCue(stage.context, other, null, dayBeforeCue({ name: 'Apart' }), actor);
    const [one, , gone] = await listCues(stage.context, touched);
    await saveCue(stage.context, touched, one?.id ?? 0, dayBeforeCue({ name: 'One by hand' }), actor);
    await removeCue(stage.context, touched, gone?.id ?? 0, actor);

    await saveCue(stage.context, pattern, two, dayBeforeCue({ name: 'Two, anew' }), actor);
    await removeCue(stage.context, pattern, three, actor);
    await saveCue(stage.context, pattern, null, dayBeforeCue({ name: 'Four' }), actor);
    expect(await keep(pattern, plan)).toBe(plan);
    const { rows } = await planFollowersOf(stage.context, plan);
    const said = new Map(rows.map(({ eventId, cues, changed }) => [eventId, [cues, changed]]));
    expect(said).toEqual(
      new Map([
        [pattern, [3, 0]],
        [untouched, [3, 0]],
        [touched, [2, 1]],
      ]),
    );

    expect(await followPlan(stage.context, plan, [untouched, touched], actor)).toEqual({
      changed: 2,
      added: 2,
      removed: 1,
      drafts: 0,
    });
    expect((await names(untouched)).sort()).toEqual(['Four, set', 'One, set', 'Two, anew, set']);
    expect((await names(touched)).sort()).toEqual(['Four, set', 'One by hand, set', 'Two, anew, set']);
    expect(await names(other)).toEqual(['Apart, set']);
    // Once more changes nothing.
    expect((await followPlan(stage.context, plan, [untouched, touched], actor)).changed).toBe(0);
    await removePlan(stage.context, plan, actor);
    expect((await names(untouched)).length).toBe(3);
  });

  it('have names of their own', async () => {
    const event = await publishedEvent(stage);
    await expectAsync(keep(event)).toBeRejectedWithError(/no cue to keep/);
    await saveCue(stage.context, event, null, dayBeforeCue(), actor);
    await keep(event);
    await expectAsync(keep(event)).toBeRejectedWithError(/already/);
  });
});

describe('hazards of cues', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
  });
  afterEach(() => stage.close());

  it('name another event’s message at about the same time to people of the same list, and what was never tested', async () => {
    const [event, other] = [await publishedEvent(stage), await publishedEvent(stage)];
    const toList = dayBeforeCue({ audience: { ...dayBeforeCue().audience, lists: [stage.list] } });
    await saveCue(stage.context, event, null, toList, actor);
    const codes = async () =>
      (await listCues(stage.context, event))[0]?.hazards.map(({ code, other: name }) => `${code} ${name}`.trim());
    await saveCue(stage.context, other, null, dayBeforeCue({ name: 'To guests alone' }), actor);
    expect(await codes()).toEqual(['never-tested']);
    await saveCue(stage.context, other, null, { ...toList, name: 'To the same list' }, actor);
    expect(await codes()).toEqual(['close-to-another To the same list', 'never-tested']);
    const { facts, number } = (await stage.context.store.events.find(other))?.version ?? {
      facts: eventFacts,
      number: 1,
    };
    const later = { kind: 'timed', start: '2031-06-18T19:40', end: '2031-06-18T22:00' } as const;
    await saveEvent(
      stage.context,
      other,
      { facts: { ...facts, span: later }, basedOn: number, scope: { kind: 'all' } },
      actor,
    );
    expect(await codes()).toEqual(['never-tested']);
  });
});
