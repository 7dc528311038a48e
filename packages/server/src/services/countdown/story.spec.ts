import { nobodyChosen, type CueFields } from '@convite/contract';
import { nowOf } from '../context';
import { resolveWallTime, wallTimeAt, type EventFacts, letter } from '@convite/core';
import type { EmailMessage, TextMessage } from '../../mail/message';
import { dayBeforeCue, invite, countedChanges } from '../../testing/acts';
import {
  actor,
  byHand,
  addPeople,
  clockTo,
  countAll,
  eventFacts,
  openStage,
  publishedEvent,
  scriptedEnd,
  until,
  workOn,
  type Stage,
} from '../../testing/stage';
import { readBoard, readStrip } from './board';
import { removeCue, saveCue } from './cues';
import { previewCue } from './preview-cue';
import { listCues } from './list-cues';
import { previewDigest, saveDigest } from '../digests/digests';
import { callOffEvent, saveEvent } from '../events/events';
import { sendFiringNow, setFiringAgain, stopFiring } from './firings';
import { houseWordings } from '../sending/house-wordings';
import { planInvitations } from '../sending/invite';
import { sendNotice } from '../sending/notices';

const dayMs = 86_400_000;

const dayBefore = dayBeforeCue({
  moment: { kind: 'relative', amount: 24, unit: 'hours', direction: 'before', anchor: 'start', at: null },
});

describe('the four jobs, service by service', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 5);
  });
  afterEach(() => stage.close());

  const firings = (event: number) => stage.context.store.firings.ofEvent(event);
  const allDone = async (event: number): Promise<boolean> =>
    (await firings(event)).filter(({ kind }) => kind !== 'cue').every(({ state }) => state === 'done');
  const moved: EventFacts = {
    ...eventFacts,
    span: { kind: 'timed', start: '2031-06-18T21:30', end: '2031-06-19T00:00' },
  };

  it('an event that moves takes its unfired cues along, tells those behind by their own channel, and nobody twice', async () => {
    const event = await publishedEvent(stage);
    await saveCue(stage.context, event, null, dayBefore, actor);
    await stage.db('list_member').where('subscriber_id', '>', 3).delete();
    await invite(stage, event);
    const [mail, text] = [scriptedEnd<EmailMessage>(), scriptedEnd<TextMessage>()];
    const worker = await workOn(stage, { mail, text });
    await until('three are invited', () => allDone(event));
    await addPeople(stage, 1, 60);
    await stage.db('list_member').where('subscriber_id', '<', 4).delete();
    await invite(stage, event, { channel: 'text' });
    await until('one is invited by text', () => allDone(event));
    expect([mail.taken.length, text.taken.length]).toEqual([3, 1]);

    await saveEvent(stage.context, event, { facts: moved, basedOn: 1 }, actor);
    expect((await firings(event)).find(({ kind }) => kind === 'cue')?.dueMs).toBe(
      resolveWallTime('2031-06-17T21:30', 'Europe/Lisbon'),
    );
    const changes = await countedChanges(stage, event);
    expect([changes.toTell, changes.versions[1]?.sequence, changes.versions[1]?.matters]).toEqual([
      { email: 3, text: 1 },
      1,
      true,
    ]);
    await sendNotice(stage.context, event, houseWordings.change, null, actor);
    await expectAsync(sendNotice(stage.context, event, houseWordings.change, null, actor)).toBeRejectedWithError(
      /under way/,
    );
    await until('everybody holds version 2', async () =>
      (await countedChanges(stage, event)).holders.every(({ version }) => version === 2),
    );
    await until('the notices are done', () => allDone(event));
    await expectAsync(sendNotice(stage.context, event, houseWordings.change, null, actor)).toBeRejectedWithError(
      /Nobody/,
    );
    await worker.stop();

    const uids = mail.taken.map(({ calendar }) => [
      /UID:(\S+)/.exec(calendar?.text ?? '')?.[1],
      /SEQUENCE:(\d)/.exec(calendar?.text ?? '')?.[1],
      calendar?.method,
    ]);
    expect(
      uids
        .slice(0, 3)
        .every(([uid, sequence, method]) => uid === uids[3]?.[0] && sequence === '0' && method === 'REQUEST'),
    ).toBeTrue();
    expect(uids.slice(3).map(([, sequence]) => sequence)).toEqual(['1', '1', '1']);
    expect(text.taken.at(-1)?.text).toContain('Changed: Dome night is now Wed 18 Jun 2031 21:30 Lisbon time');
  });

  it('calling off stops the cues, cancels for everybody, and cannot be done twice', async () => {
    const event = await publishedEvent(stage);
    await saveCue(stage.context, event, null, dayBefore, actor);
    await invite(stage, event);
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await until('all are invited', () => allDone(event));
    await callOffEvent(stage.context, event, houseWordings.callOff, null, actor);
    await until('all are told', async () => mail.taken.length === 10 && (await allDone(event)));
    await worker.stop();
    expect((await firings(event)).find(({ kind }) => kind === 'cue')).toEqual(
      jasmine.objectContaining({ state: 'stopped', held: 'event-off' }),
    );
    const last = mail.taken.at(-1);
    expect([last?.calendar?.method, /STATUS:(\w+)/.exec(last?.calendar?.text ?? '')?.[1], last?.subject]).toEqual([
      'CANCEL',
      'CANCELLED',
      'Called off: Dome night, Wed 18 Jun 2031',
    ]);
    await expectAsync(callOffEvent(stage.context, event, houseWordings.callOff, null, actor)).toBeRejectedWithError(
      /called off before/,
    );
  });

  it('a second invitation of the same list reaches only the new people, also while the first is under way', async () => {
    const event = await publishedEvent(stage);
    await invite(stage, event);
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await until('all are invited', () => allDone(event));
    await addPeople(stage, 2, 70);
    expect(await planInvitations(stage.context, event, { lists: [stage.list] }, 'email')).toEqual({
      waiting: 0,
      nameless: 0,
      gets: 2,
      without: [{ reason: 'already-invited', count: 5 }],
    });
    await Promise.all([invite(stage, event), invite(stage, event)]);
    await until('both are done', () => allDone(event));
    await worker.stop();
    expect(mail.taken.map(({ to }) => to.address).sort()).toEqual(
      ['p1', 'p2', 'p3', 'p4', 'p5', 'p70', 'p71'].map((name) => `${name}@people.example`),
    );
    await expectAsync(invite(stage, event)).toBeRejectedWithError(/Nobody would get this/);
  });

  it('a digest goes to each with the topics asked for, to nobody for whom there is nothing, and plans its next issues', async () => {
    const friday = resolveWallTime('2031-06-13T13:00', 'Europe/Lisbon');
    await clockTo(stage, friday - 3 * dayMs);
    await publishedEvent(stage, { title: 'Moon walk', topics: ['moon'] });
    await publishedEvent(stage, {
      title: 'Pulsars',
      topics: ['talks'],
      span: { kind: 'timed', start: '2031-06-21T19:00', end: '2031-06-21T20:00' },
    });
    await publishedEvent(stage, {
      title: 'Too far',
      topics: ['moon'],
      span: { kind: 'timed', start: '2031-06-25T19:00', end: '2031-06-25T20:00' },
    });
    await stage.db('subscriber_topic').insert([
      { subscriber_id: 1, topic: 'moon' },
      { subscriber_id: 2, topic: 'talks' },
      { subscriber_id: 3, topic: 'camps' },
    ]);
    await stage.context.store.consents.optOut(4, byHand, new Date());
    const fields = {
      name: 'Weekly',
      weekday: 5,
      at: '13:00',
      zone: 'Europe/Lisbon',
      windowDays: 10,
      whom: { ...nobodyChosen, lists: [stage.list] },
      wording: letter('Ten days', 'Dear {{person.firstName}},'),
      isOn: true,
      senderId: null,
    };
    const digest = await saveDigest(stage.context, null, fields, actor);
    await countAll(stage);
    const previews = await previewDigest(stage.context, digest);
    expect(previews.map(({ eventCount, gets }) => [eventCount, gets])).toEqual([
      [2, 3],
      [2, 3],
      [0, 0],
      [0, 0],
    ]);
    await clockTo(stage, friday);
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await until('three got it', () => mail.taken.length === 3);
    await worker.stop();
    const bodies = new Map(mail.taken.map(({ to, text }) => [to.address, text]));
    expect([...bodies.keys()].sort()).toEqual(['p1@people.example', 'p2@people.example', 'p5@people.example']);
    expect([
      bodies.get('p1@people.example')?.includes('Pulsars'),
      bodies.get('p5@people.example')?.includes('Pulsars'),
    ]).toEqual([false, true]);
    expect(bodies.get('p5@people.example')).toMatch(
      /Dear Person,\s+Wed 18 Jun 2031\s+19:30 Lisbon {2}Moon walk, Dome 1[\s\S]*Sat 21 Jun 2031/,
    );
    expect(mail.taken.some(({ text }) => text.includes('Too far'))).toBeFalse();
    const ahead = await stage.context.store.firings.ofDigest(digest, stage.clock.now() + 1000);
    expect(ahead.map(({ dueMs }) => wallTimeAt(dueMs, 'Europe/Lisbon'))).toEqual([
      '2031-06-20T13:00',
      '2031-06-27T13:00',
      '2031-07-04T13:00',
      '2031-07-11T13:00',
    ]);
    await saveDigest(stage.context, digest, { ...fields, isOn: false }, actor);
    expect((await stage.context.store.firings.ofDigest(digest, stage.clock.now() + 1000)).length).toBe(0);
    await expectAsync(
      saveDigest(stage.context, null, { ...fields, wording: letter('Soon', { kind: 'event' }) }, actor),
    ).toBeRejectedWithError(/cannot be used yet/);
    await expectAsync(
      saveDigest(stage.context, null, { ...fields, zone: 'Nowhere', whom: { ...nobodyChosen, lists: [99] } }, actor),
    ).toBeRejectedWithError(/cannot be used yet/);
  });

  it('a cue can be held, set again, and sent by hand; what has fired stays as it was', async () => {
    await clockTo(stage, resolveWallTime('2031-06-10T12:00', 'Europe/Lisbon'));
    const event = await publishedEvent(stage);
    const cue = await saveCue(
      stage.context,
      event,
      null,
      { ...dayBefore, audience: { ...dayBefore.audience, invitees: [], lists: [stage.list] } },
      actor,
    );
    const [firing] = await firings(event);
    const id = firing?.id ?? 0;
    await stopFiring(stage.context, id, actor);
    expect((await listCues(stage.context, event))[0]?.firing).toEqual(
      jasmine.objectContaining({ state: 'stopped', note: 'Stopped by Spec.' }),
    );
    await setFiringAgain(stage.context, id, actor);
    await clockTo(stage, (firing?.dueMs ?? 0) - 5 * 60_000);
    await countAll(stage);
    const { state, tally } = (await readStrip(stage.context)).next ?? {};
    expect([state, tally?.gets, tally?.countedAt?.slice(0, 16)]).toEqual([
      'standby',
      5,
      nowOf(stage.context).toISOString().slice(0, 16),
    ]);
    await stopFiring(stage.context, id, actor);
    await expectAsync(setFiringAgain(stage.context, id, actor)).toBeRejectedWithError(/less than 10 minutes away/);
    await expectAsync(sendFiringNow(stage.context, id, null, actor)).toBeRejectedWithError(/goes to 5 people/);
    const key = 'pressed-once-and-again';
    await Promise.all([1, 2, 3].map(() => sendFiringNow(stage.context, id, 5, actor, key)));
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await until('it is done', async () => (await firings(event))[0]?.state === 'done');
    await worker.stop();
    expect(mail.taken.length).toBe(5);
    await expectAsync(sendFiringNow(stage.context, id, 5, actor)).toBeRejectedWithError(/Only what was missed/);
    await expectAsync(saveCue(stage.context, event, cue, dayBefore, actor)).toBeRejectedWithError(/has fired/);
    await expectAsync(removeCue(stage.context, event, cue, actor)).toBeRejectedWithError(/has fired/);
    await expectAsync(stopFiring(stage.context, id, actor)).toBeRejectedWithError(/Too late/);
  });

  it('a cue that is set must be whole and far enough ahead; a draft may wait, and the board says so', async () => {
    await clockTo(stage, resolveWallTime('2031-06-17T19:25', 'Europe/Lisbon'));
    const event = await publishedEvent(stage);
    const broken = {
      ...dayBefore,
      wording: letter('', '{{evnt.title}}'),
      audience: { ...dayBefore.audience, invitees: [] },
    };
    const codes = (await previewCue(stage.context, event, broken, null)).problems.map(
      ({ code, path }) => `${path} ${code}`,
    );
    expect(codes).toEqual(['body unknown-field', 'subject required', 'audience no-audience', 'moment too-soon']);
    await expectAsync(saveCue(stage.context, event, null, broken, actor)).toBeRejectedWithError(/cannot be used yet/);
    const soon: CueFields = {
      ...broken,
      isDraft: true,
      moment: { kind: 'relative', amount: 2, unit: 'hours', direction: 'before', anchor: 'start', at: null },
    };
    await saveCue(stage.context, event, null, soon, actor);
    const { needs, ahead } = await readBoard(stage.context);
    expect(needs.map(({ kind, title }) => [kind, title])).toEqual([
      ['trouble', 'Nothing goes out: no worker is running'],
      ['draft-due', 'Tomorrow · Dome night'],
    ]);
    expect(ahead.map(({ state }) => state)).toEqual(['draft']);
  });

  it('a preview is what goes out, to the letter', async () => {
    const event = await publishedEvent(stage);
    const fields = { ...dayBefore, audience: { ...dayBefore.audience, invitees: [], lists: [stage.list] } };
    const preview = await previewCue(stage.context, event, fields, 2);
    await saveCue(stage.context, event, null, fields, actor);
    await clockTo(stage, (await firings(event))[0]?.dueMs ?? 0);
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await until('it went out', () => mail.taken.length === 5);
    await worker.stop();
    const real = mail.taken.find(({ to }) => to.address === 'p2@people.example');
    expect([real?.subject, real?.text, real?.html]).toEqual([
      preview.message.subject,
      preview.message.text,
      preview.message.html,
    ]);
    expect(preview.person?.whyNot).toBeNull();
  });
});
