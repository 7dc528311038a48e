import { nobodyChosen } from '@convite/contract';
import { wallTimeAt, letter } from '@convite/core';
import { saveCue } from '../countdown/cues';
import { listDigests, saveDigest } from '../digests/digests';
import { actor, addPeople, countAll, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { dayBeforeCue } from '../../testing/acts';
import { allSegments, removeSegment, saveSegment, useOfSegment, whyInSegment } from './segments';

describe('a segment', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 6);
  });
  afterEach(() => stage.close());

  const people = (...ids: number[]) => ({ kind: 'person', ids }) as const;
  const save = (name: string, conditions: Parameters<typeof saveSegment>[2]['conditions'], id: number | null = null) =>
    saveSegment(stage.context, id, { name, description: '', conditions }, actor);

  it('is counted beside everything else, and follows what changes', async () => {
    const id = await save('Some', people(1, 2, 3));
    const [uncounted] = await allSegments(stage.context);
    expect([uncounted?.people, uncounted?.countedAt]).toEqual([null, null]);
    await countAll(stage);
    expect((await allSegments(stage.context))[0]?.people).toBe(3);
    await save('Some', people(1), id);
    await countAll(stage);
    expect((await allSegments(stage.context))[0]?.people).toBe(1);
  });

  it('brings people into a cue and leaves them out, is named where it is used, and cannot vanish from there', async () => {
    const event = await publishedEvent(stage);
    const some = await save('Some', people(1, 2, 3, 4));
    const without = await save('Without', people(4));
    const cue = dayBeforeCue({
      audience: { ...dayBeforeCue().audience, invitees: [], lists: [], segments: [some], exceptSegments: [without] },
    });
    await saveCue(stage.context, event, null, cue, actor);
    await countAll(stage);
    const gets: (number | null)[] = await stage.db('firing').where({ event_id: event, kind: 'cue' }).pluck('gets');
    expect(gets).toEqual([3]);
    // Whoever is in it now is meant, not whoever was when it was chosen.
    await save('Some', people(1, 4, 5, 6), some);
    await countAll(stage);
    expect(await stage.db('firing').where({ event_id: event, kind: 'cue' }).pluck('gets')).toEqual([3]);
    expect((await useOfSegment(stage.context, some)).cues.map(({ name }) => name)).toEqual([cue.name]);
    await expectAsync(removeSegment(stage.context, without, actor)).toBeRejectedWithError(/It is used by/);
  });

  it('is whom a digest goes to, and cannot vanish from there', async () => {
    const { context } = stage;
    const some = await save('Some', people(1, 2));
    // Later than the next issue, on whichever day this runs.
    await publishedEvent(stage, {
      span: {
        kind: 'timed',
        start: wallTimeAt(Date.now() + 20 * 86_400_000, 'Europe/Lisbon'),
        end: wallTimeAt(Date.now() + 21 * 86_400_000, 'Europe/Lisbon'),
      },
    });
    const digest = {
      name: 'Coming up',
      weekday: 5,
      at: '13:00',
      zone: 'Europe/Lisbon',
      windowDays: 60,
      wording: letter('Coming up', 'Dear all'),
      isOn: true,
      senderId: null,
    };
    await expectAsync(
      saveDigest(context, null, { ...digest, whom: { ...nobodyChosen, segments: [99] } }, actor),
    ).toBeRejected();
    await saveDigest(context, null, { ...digest, whom: { ...nobodyChosen, segments: [some] } }, actor);
    await countAll(stage);
    const [row] = await listDigests(context);
    expect([row?.whomSaid, row?.issues[0]?.gets]).toEqual(['Some', 2]);
    expect((await useOfSegment(context, some)).digests.map(({ name }) => name)).toEqual(['Coming up']);
    await expectAsync(removeSegment(context, some, actor)).toBeRejectedWithError(/used by “Coming up”/);
  });

  it('never names itself, over others either, and is not used by one that is gone', async () => {
    const one = await save('One', people(1));
    const two = await save('Two', { kind: 'all', of: [{ kind: 'segment', segments: [one] }] });
    await expectAsync(save('One', { kind: 'segment', segments: [two] }, one)).toBeRejectedWithError(
      /would ask whether people are in it/,
    );
    await expectAsync(removeSegment(stage.context, one, actor)).toBeRejectedWithError(/used by “Two”/);
    await removeSegment(stage.context, two, actor);
    await removeSegment(stage.context, one, actor);
    await expectAsync(save('Three', { kind: 'segment', segments: [one] })).toBeRejectedWithError(/not there any more/);
    await save('A', people(1));
    await expectAsync(save('A', people(2))).toBeRejectedWithError(/There is a segment “A” already/);
  });

  it('says of somebody which part is so', async () => {
    const conditions = {
      kind: 'all',
      of: [
        { kind: 'list', lists: [stage.list] },
        { kind: 'none', of: [people(1)] },
      ],
    } as const;
    expect((await whyInSegment(stage.context, conditions, 1)).parts).toEqual([
      { path: [], isSo: false },
      { path: [0], isSo: true },
      { path: [1], isSo: false },
      { path: [1, 0], isSo: true },
    ]);
    await expectAsync(whyInSegment(stage.context, conditions, 99)).toBeRejected();
  });

  it('that cannot be read is told, and keeps no other from being read; nothing goes by it', async () => {
    const [broken, fine] = [await save('Broken', people(1)), await save('Fine', people(2))];
    await stage.db('segment').where({ id: broken }).update({ conditions: '{"kind":"nonsense"}' });
    expect((await allSegments(stage.context)).map(({ name }) => name)).toEqual(['Fine']);
    expect((await useOfSegment(stage.context, fine)).cues).toEqual([]);
    await expectAsync(stage.context.store.segments.count({ kind: 'segment', segments: [broken] })).toBeRejected();
    expect((await stage.context.store.troubles.faults()).map(({ kind, ref }) => `${kind} ${ref}`)).toEqual([
      `segment ${broken}`,
    ]);
  });

  it('of three who save it at once one is saved, and two are told', async () => {
    const id = await save('Some', people(1));
    const was = { name: 'Some', description: '', conditions: people(1) };
    const results = await Promise.allSettled(
      [2, 3, 4].map((who) => saveSegment(stage.context, id, { ...was, conditions: people(who), was }, actor)),
    );
    expect(results.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected', 'rejected']);
  });
});
