import { digestFields } from '@convite/contract';
import { letter } from '@convite/core';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import { actor, addPeople, clockTo, openStage, publishedEvent, specSettings, type Stage } from '../../testing/stage';
import { findNeeds } from '../countdown/find-needs';
import { removeCue, saveCue } from '../countdown/cues';
import { previewByHand, sendFiringNow, setFiringAgain, stopFiring } from '../countdown/firings';
import { saveEvent } from '../events/events';
import { saveDigest } from '../digests/digests';
import { copyEvent } from '../events/copy-event';
import { sendManual } from '../sending/write-manual';
import { saveSettings } from '../settings';
import { holdBack, listReleases, release, showRelease } from './releases';

const ana = { name: 'Ana', memberId: 1 };
const rui = { name: 'Rui', memberId: 2 };
const nobody = { lists: [], segments: [], people: [], exceptLists: [], exceptSegments: [], exceptPeople: [] };

describe('what a second member reads before it goes', () => {
  let stage: Stage;
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 3);
    for (const { name } of [ana, rui])
      await stage.context.store.members.create({
        name,
        email: `${name}@house.example`,
        role: 'marketer',
        passwordHash: 'x',
      });
    event = await publishedEvent(stage);
  });
  afterEach(() => stage.close());

  const ask = (asksRelease = true) => saveSettings(stage.context, { ...specSettings, asksRelease }, actor);
  const states = async () =>
    (await stage.context.store.firings.ofEvent(event)).filter(({ kind }) => kind === 'cue').map(({ state }) => state);
  const waiting = async () => (await listReleases(stage.context, rui)).rows;

  it('is nothing unless the house asks, and the house cannot ask where only one could write', async () => {
    const cue = await saveCue(stage.context, event, null, dayBeforeCue(), ana);
    expect([await states(), await waiting()]).toEqual([['set'], []]);
    await stage.db('user').where({ name: 'Rui' }).update({ role: 'viewer' });
    await expectAsync(ask()).toBeRejectedWith(jasmine.objectContaining({ status: 422 }));
    await stage.db('user').where({ name: 'Rui' }).update({ role: 'marketer' });
    await ask();
    // What was set before stays set.
    expect(await states()).toEqual(['set']);
    await saveCue(stage.context, event, cue, dayBeforeCue({ isDraft: true }), ana);
    expect(await waiting()).toEqual([]);
  });

  it('a cue waits as a draft, is read as it would go, and is set by another than who wrote it last', async () => {
    await ask();
    await invite(stage, event);
    const [invitation] = await waiting();
    await release(stage.context, 'firing', invitation?.ref ?? 0, rui);
    await deliver(stage);
    const cue = await saveCue(stage.context, event, null, dayBeforeCue(), ana);
    expect(await states()).toEqual(['draft']);
    expect(await waiting()).toEqual([
      jasmine.objectContaining({ what: 'cue', ref: cue, by: 'Ana', isOwn: false, eventTitle: 'Dome night' }),
    ]);
    expect((await listReleases(stage.context, ana)).rows[0]?.isOwn).toBeTrue();
    expect((await findNeeds(stage.context)).map(({ kind }) => kind)).toContain('release');
    expect((await showRelease(stage.context, 'cue', cue)).messages[0]?.subject).toContain('Tomorrow: Dome night');
    await expectAsync(release(stage.context, 'cue', cue, ana)).toBeRejectedWith(
      jasmine.objectContaining({ status: 409 }),
    );
    // Rui mends it: now it is Ana who reads.
    await saveCue(stage.context, event, cue, dayBeforeCue({ subject: 'Tonight' }), rui);
    await expectAsync(release(stage.context, 'cue', cue, rui)).toBeRejected();
    const both = await Promise.allSettled([
      release(stage.context, 'cue', cue, ana),
      release(stage.context, 'cue', cue, { ...ana, memberId: 3 }),
    ]);
    expect(both.filter(({ status }) => status === 'fulfilled').length).toBe(1);
    expect(await states()).toEqual(['set']);
    const [firing] = (await stage.context.store.firings.ofEvent(event)).filter(({ kind }) => kind === 'cue');
    await clockTo(stage, (firing?.dueMs ?? 0) + 1000);
    expect((await deliver(stage)).map(({ subject }) => subject)).toEqual(['Tonight', 'Tonight', 'Tonight']);
  });

  it('a cue that nobody read in time is missed, and says so', async () => {
    await ask();
    await saveCue(stage.context, event, null, dayBeforeCue(), ana);
    const [firing] = await stage.context.store.firings.ofEvent(event);
    await clockTo(stage, (firing?.dueMs ?? 0) + 3_600_000);
    expect(await deliver(stage)).toEqual([]);
    expect(await states()).toEqual(['missed']);
  });

  it('what is sent by hand waits with its count, goes once it is released, and not where it is held back', async () => {
    await ask();
    const send = (subject: string) =>
      sendManual(
        stage.context,
        { ...nobody, lists: [stage.list], channel: 'email', wording: letter(subject, 'Hello'), confirmedCount: null },
        ana,
        null,
      );
    await send('First');
    await send('Second');
    await clockTo(stage, stage.clock.now() + 86_400_000);
    expect(await deliver(stage)).toEqual([]);
    const rows = await waiting();
    expect(rows.map(({ title, gets, dueAt }) => [title, gets, dueAt])).toEqual([
      ['First', 3, null],
      ['Second', 3, null],
    ]);
    expect((await showRelease(stage.context, 'firing', rows[0]?.ref ?? 0)).messages[0]?.subject).toBe('First');
    await release(stage.context, 'firing', rows[0]?.ref ?? 0, rui);
    await holdBack(stage.context, 'firing', rows[1]?.ref ?? 0, rui);
    expect((await deliver(stage)).map(({ subject }) => subject)).toEqual(['First', 'First', 'First']);
    expect(await waiting()).toEqual([]);
  });

  it('there is no way round: what waits is neither set again nor sent by hand, and parts of a series wait as it did', async () => {
    await ask();
    const { store } = stage.context;
    await saveCue(stage.context, event, null, dayBeforeCue(), ana);
    const [firing] = await store.firings.ofEvent(event);
    const id = firing?.id ?? 0;
    await stopFiring(stage.context, id, ana);
    const refused = jasmine.objectContaining({ status: 409, code: 'waits' });
    await expectAsync(setFiringAgain(stage.context, id, ana)).toBeRejectedWith(refused);
    await stage.db('firing').update({ state: 'missed' });
    expect((await previewByHand(stage.context, id)).refusal).toContain('second member');
    await expectAsync(sendFiringNow(stage.context, id, 3, ana)).toBeRejectedWith(
      jasmine.objectContaining({ status: 409 }),
    );

    const series = await publishedEvent(stage, {
      span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T22:00' },
      series: { rule: 'FREQ=WEEKLY;COUNT=6', added: [], exceptions: [] },
    });
    await saveCue(stage.context, series, null, dayBeforeCue(), ana);
    const whole = await store.events.find(series);
    if (!whole) throw new Error('no series');
    const { followingId } = await saveEvent(
      stage.context,
      series,
      {
        facts: { ...whole.version.facts, series: null, title: 'Later' },
        basedOn: 1,
        scope: { kind: 'following', key: '20310702T193000' },
      },
      ana,
    );
    expect((await waiting()).map(({ eventId }) => eventId)).toContain(followingId);
  });

  it('what is gone waits no more, and is not counted either', async () => {
    await ask();
    await saveCue(stage.context, event, null, dayBeforeCue(), ana);
    await stage.db('cue').delete();
    expect(await waiting()).toEqual([]);
    expect((await findNeeds(stage.context)).map(({ kind }) => kind)).not.toContain('release');
    await stage.context.store.releases.forgetGone();
    expect(await stage.db('release_wait')).toEqual([]);
  });

  it('a digest waits once; held back it is off', async () => {
    await ask();
    const whom = { ...nobody, lists: [stage.list] };
    const fields = { name: 'Weekly', weekday: 5, at: '13:00', zone: 'Europe/Lisbon', windowDays: 60, whom, isOn: true };
    const digest = digestFields.parse({ ...fields, wording: letter('Soon', 'Coming up:') });
    const id = await saveDigest(stage.context, null, digest, ana);
    const issues = async () =>
      (await stage.context.store.firings.ofDigest(id, stage.clock.now())).map(({ state }) => state);
    expect(new Set(await issues())).toEqual(new Set(['draft']));
    expect((await showRelease(stage.context, 'digest', id)).messages).toEqual([]);
    await release(stage.context, 'digest', id, rui);
    expect(new Set(await issues())).toEqual(new Set(['set']));
    await saveDigest(stage.context, id, { ...digest, name: 'Other', was: digest }, ana);
    await holdBack(stage.context, 'digest', id, rui);
    expect(await issues()).toEqual([]);
    expect((await stage.context.store.digests.find(id))?.isOn).toBeFalse();
  });

  it('copies of what nobody read wait too; what is gone waits no more; a house that asks no more lets anybody release', async () => {
    await ask();
    const cue = await saveCue(stage.context, event, null, dayBeforeCue(), ana);
    await copyEvent(stage.context, event, true, ana);
    expect((await waiting()).length).toBe(2);
    await removeCue(stage.context, event, cue, ana);
    const [copy, ...more] = await waiting();
    expect(more).toEqual([]);
    await ask(false);
    await release(stage.context, 'cue', copy?.ref ?? 0, ana);
    expect(await waiting()).toEqual([]);
    await expectAsync(release(stage.context, 'cue', 999, ana)).toBeRejectedWith(
      jasmine.objectContaining({ status: 404 }),
    );
  });
});
