import { digestFields } from '@convite/contract';
import { letter } from '@convite/core';
import { dayBeforeCue } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  countAll,
  openStage,
  publishedEvent,
  specSettings,
  type Stage,
} from '../../testing/stage';
import { saveDigest } from '../digests/digests';
import { saveSettings } from '../settings';
import { announceNext, testAnnouncement } from './announce';
import { readStrip } from './board';
import { setContact } from './contact';
import { saveCue } from './cues';
import { setFiringAgain, stopFiring } from './firings';

describe('what stands by', () => {
  let stage: Stage;
  let event: number;
  let firing: number;
  let dueMs: number;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 3);
    event = await publishedEvent(stage);
    const audience = { invitees: [], lists: [stage.list], exceptLists: [], exceptReplies: [], topics: null };
    await saveCue(stage.context, event, null, dayBeforeCue({ audience }), actor);
    await countAll(stage);
    const [one] = await stage.context.store.firings.ofEvent(event);
    [firing, dueMs] = [one?.id ?? 0, one?.dueMs ?? 0];
  });
  afterEach(() => stage.close());

  const contact = (over: Partial<typeof specSettings.standby> = {}) =>
    saveSettings(
      stage.context,
      { ...specSettings, standby: { minutes: 15, email: 'stage@spec.example', mobile: '07700 900777', ...over } },
      actor,
    );
  const minutesBefore = (minutes: number) => clockTo(stage, dueMs - minutes * 60_000);

  it('is told once, so long ahead as the house says, by mail and by text, with a link of that firing', async () => {
    await contact();
    await minutesBefore(16);
    expect(await announceNext(stage.context)).toBeFalse();
    await minutesBefore(14);
    expect((await readStrip(stage.context)).next?.state).toBe('standby');
    const both = await Promise.all([announceNext(stage.context), announceNext(stage.context)]);
    expect(both.filter(Boolean).length).toBe(1);
    expect([stage.sentAtOnce.length, stage.textedAtOnce.length]).toEqual([1, 1]);
    const [mail] = stage.sentAtOnce;
    expect([mail?.to.address, mail?.subject]).toEqual(['stage@spec.example', 'Standby: Tomorrow goes to 3 people']);
    expect(mail?.text).toContain('to 3 people by email');
    const [text] = stage.textedAtOnce;
    expect(text?.to).toBe('+447700900777');
    const token = /\/h\/(\S+)/.exec(text?.text ?? '')?.[1] ?? '';
    expect(stage.context.links.readStandby(token)).toBe(firing);
    expect(stage.context.links.readOptOut(token)).toBeNull();
  });

  it('is told again once it has moved or is set again, and not of what reaches nobody or where nobody is named', async () => {
    await minutesBefore(14);
    expect(await announceNext(stage.context)).toBeFalse();
    await contact();
    await announceNext(stage.context);
    await minutesBefore(20);
    await stopFiring(stage.context, firing, actor);
    await setFiringAgain(stage.context, firing, actor);
    await minutesBefore(14);
    await announceNext(stage.context);
    expect(stage.sentAtOnce.length).toBe(2);
    await stage.db('firing').update({ announced_at: null });
    await stage.db('subscriber').update({ opted_out_at: new Date() });
    await stage.context.store.firings.recountEvent(event, 0);
    await countAll(stage);
    await announceNext(stage.context);
    expect(stage.sentAtOnce.length).toBe(2);
  });

  it('is told of a digest’s issue too, to as many as were counted, and counts nobody for it', async () => {
    await contact({ minutes: 60 });
    const day = new Date(stage.clock.now() + 20 * 86_400_000).toISOString().slice(0, 10);
    await publishedEvent(stage, { span: { kind: 'timed', start: `${day}T19:30`, end: `${day}T22:00` } });
    const whom = {
      lists: [stage.list],
      segments: [],
      people: [],
      exceptLists: [],
      exceptSegments: [],
      exceptPeople: [],
    };
    const fields = { name: 'Weekly', weekday: 5, at: '13:00', zone: 'Europe/Lisbon', windowDays: 60, whom, isOn: true };
    const id = await saveDigest(
      stage.context,
      null,
      digestFields.parse({ ...fields, wording: letter('Soon', 'Hello') }),
      actor,
    );
    await countAll(stage);
    const [issue] = await stage.context.store.firings.ofDigest(id, stage.clock.now());
    await clockTo(stage, (issue?.dueMs ?? 0) - 30 * 60_000);
    const counting = spyOn(stage.context.store.audiences, 'countGets').and.callThrough();
    expect(await announceNext(stage.context)).toBeTrue();
    expect(stage.sentAtOnce[0]?.subject).toBe('Standby: Weekly goes to 3 people');
    expect(counting).not.toHaveBeenCalled();
  });

  it('is tried again while neither mail nor text can leave, and then told', async () => {
    await contact({ mobile: '' });
    await minutesBefore(14);
    const { mail } = stage.context;
    const away = {
      ...stage.context,
      mail: { ...mail, send: async () => ({ kind: 'unreachable', answer: 'away' }) as const },
    };
    expect(await announceNext(away)).toBeFalse();
    expect(await announceNext(stage.context)).toBeTrue();
    expect(stage.sentAtOnce.length).toBe(1);
  });

  it('is told to the event’s own contact where it has one, also where the house names nobody', async () => {
    await setContact(stage.context, event, { email: 'ana@spec.example', mobile: '07700 900111' }, actor);
    await minutesBefore(9);
    expect(await announceNext(stage.context)).toBeTrue();
    expect([stage.sentAtOnce[0]?.to.address, stage.textedAtOnce[0]?.to]).toEqual(['ana@spec.example', '+447700900111']);
    await expectAsync(setContact(stage.context, event, { email: '', mobile: '12' }, actor)).toBeRejected();
    await setContact(stage.context, event, { email: '', mobile: '' }, actor);
    await contact();
    await stage.db('firing').update({ announced_at: null });
    await announceNext(stage.context);
    expect(stage.sentAtOnce[1]?.to.address).toBe('stage@spec.example');
  });

  it('can be tried out, and is nothing closer than that', async () => {
    await expectAsync(testAnnouncement(stage.context)).toBeRejected();
    await contact({ minutes: 60 });
    await testAnnouncement(stage.context);
    const token = /\/h\/(\S+)/.exec(stage.textedAtOnce[0]?.text ?? '')?.[1] ?? '';
    expect(stage.context.links.readStandby(token)).toBe(0);
    await minutesBefore(30);
    const fixed = dayBeforeCue({ name: 'Other' });
    await expectAsync(saveCue(stage.context, event, null, fixed, actor)).toBeRejected();
    await contact({ minutes: 20 });
    await saveCue(stage.context, event, null, fixed, actor);
    await expectAsync(contact({ mobile: 'no number' })).toBeRejectedWith(jasmine.objectContaining({ status: 422 }));
  });
});
