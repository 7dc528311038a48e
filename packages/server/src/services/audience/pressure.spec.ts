import { resolveWallTime, type Moment } from '@convite/core';
import type { PressureLook } from '@convite/contract';
import type { EmailMessage, End } from '../../mail/message';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import {
  actor,
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
import { saveCue } from '../countdown/cues';
import { listCues } from '../countdown/list-cues';
import { saveEvent } from '../events/events';
import { houseWordings } from '../sending/house-wordings';
import { sendNotice } from '../sending/notices';
import { lookBack, readPressure, savePressure } from './pressure';

describe('contact pressure', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 4);
    await clockTo(stage, at('2031-06-10T12:00'));
  });
  afterEach(() => stage.close());

  const at = (wall: string): number => resolveWallTime(wall, 'Europe/Lisbon');
  const limitTo = (perWeek: number | null, sparesComers = true) =>
    savePressure(stage.context, { pressure: { perWeek, sparesComers } }, actor);
  const toList = (name: string) =>
    dayBeforeCue({ name, subject: name, audience: { ...dayBeforeCue().audience, invitees: [], lists: [stage.list] } });
  const dayAndHour: Moment = {
    ...{ kind: 'relative', amount: 25, unit: 'hours' },
    ...{ direction: 'before', anchor: 'start', at: null },
  };
  /** Three events on one evening, each with a reminder to everybody the day before. */
  const threeReminders = async (): Promise<number[]> => {
    const events = [await publishedEvent(stage), await publishedEvent(stage), await publishedEvent(stage)];
    for (const [index, event] of events.entries())
      await saveCue(stage.context, event, null, toList(`Reminder ${index}`), actor);
    return events;
  };
  const perPerson = (mails: readonly EmailMessage[]): Record<string, number> => {
    const counts: Record<string, number> = {};
    for (const { to } of mails) counts[to.address] = (counts[to.address] ?? 0) + 1;
    return counts;
  };

  it('says beside each cue of how many it is so: over the limit, in quiet hours, of no name though it says one', async () => {
    await stage.context.store.house.saveSettings({
      ...(await stage.context.store.house.settings()),
      ...{ pressure: { perWeek: 1, sparesComers: false } },
      quiet: { from: '22:00', until: '08:00', channels: ['email'] },
    });
    // At half past seven in the evening in Lisbon it is half past three at night in Tokyo.
    await stage.db('subscriber').whereIn('id', [1, 2]).update({ zone: 'Asia/Tokyo', name: '' });
    const [first = 0, second = 0] = [await publishedEvent(stage), await publishedEvent(stage)];
    await saveCue(stage.context, first, null, { ...toList('An hour before'), moment: dayAndHour }, actor);
    await saveCue(stage.context, second, null, toList('A day before'), actor);
    const doubts = async (event: number) => {
      await countAll(stage);
      const [cue] = await listCues(stage.context, event);
      return cue?.hazards.filter(({ people }) => people !== null).map(({ code, people }) => [code, people]);
    };
    expect(await doubts(second)).toEqual([
      ['quiet-hours', 2],
      ['nameless', 2],
    ]);
    await clockTo(stage, at('2031-06-17T18:30'));
    await deliver(stage);
    await stage
      .db('firing')
      .whereNotNull('count_at')
      .update({ count_at: new Date(0) });
    // Two had one an hour ago; the other two are still to have it, and are asleep.
    expect(await doubts(second)).toEqual([
      ['quiet-hours', 2],
      ['over-limit', 2],
      ['nameless', 2],
    ]);
  });

  it('sends nobody more than the house allows or they want, though three are due at once, and says so of each', async () => {
    await limitTo(2);
    await threeReminders();
    await stage.db('subscriber').where({ id: 1 }).update({ most_per_week: 1 });
    await clockTo(stage, at('2031-06-17T19:30'));
    const mails = await deliver(stage);
    expect(perPerson(mails)).toEqual({
      'p1@people.example': 1,
      'p2@people.example': 2,
      'p3@people.example': 2,
      'p4@people.example': 2,
    });
    // Whoever is passed over as it goes is told of; whoever was over it before is not written down at all.
    const skipped: { answer: string }[] = await stage.db('delivery').where({ state: 'skipped' }).select('answer');
    for (const { answer } of skipped) expect(answer).toBe('Had as many messages within a week as they may get.');
    expect(Number((await stage.db('delivery').where({ state: 'sent' }).count({ n: '*' }))[0]?.['n'])).toBe(7);
  });

  it('sends one of two, though the one that gives way was asked about before the other was there', async () => {
    await limitTo(1);
    const [later = 0, sooner = 0] = [await publishedEvent(stage), await publishedEvent(stage)];
    await saveCue(stage.context, later, null, toList('Later'), actor);
    await saveCue(stage.context, sooner, null, { ...toList('Sooner'), moment: dayAndHour }, actor);
    const inState = async (...states: string[]) => (await stage.db('delivery').whereIn('state', states)).length;
    let release = (): void => undefined;
    const held = new Promise<void>((resolve) => (release = resolve));
    const taken: EmailMessage[] = [];
    const mail: End<EmailMessage> = {
      send: async (message) => {
        taken.push(message);
        await held;
        return null;
      },
      close: () => undefined,
    };
    await clockTo(stage, at('2031-06-17T18:30'));
    const worker = await workOn(stage, { mail });
    await until('the sooner ones are on their way', () => taken.length === 4);
    await clockTo(stage, at('2031-06-17T19:30'));
    await until('the later ones are claimed', async () => (await inState('sending')) === 8);
    // They are asked about next; the sooner ones are on their way still.
    await new Promise((resolve) => setTimeout(resolve, 500));
    release();
    await until(
      'all is settled',
      async () => !(await stage.db('delivery').whereIn('state', ['queued', 'sending'])).length,
    );
    await worker.stop();
    expect(Object.values(perPerson(taken))).toEqual([1, 1, 1, 1]);
  });

  it('holds back nothing that people must know: invitations count, a change and an answer do not', async () => {
    await limitTo(1);
    const event = await publishedEvent(stage);
    await invite(stage, event);
    expect((await deliver(stage)).length).toBe(4);
    // Another invitation within the week reaches nobody, and they stay to be invited.
    const other = await publishedEvent(stage);
    expect(await invite(stage, other).catch((error: unknown) => String(error))).toEqual(jasmine.anything());
    expect(await stage.context.store.invitees.countGuests(other)).toBe(0);
    await saveEvent(stage.context, event, { facts: { ...eventFacts, venue: 'Dome 2' }, basedOn: 1 }, actor);
    await sendNotice(stage.context, event, houseWordings.change, null, actor);
    expect((await deliver(stage)).length).toBe(4);
  });

  it('spares whoever comes to an event, where the house says so', async () => {
    await limitTo(1);
    const [first = 0] = await threeReminders();
    await stage.db('invitee').insert({
      event_id: first,
      subscriber_id: 2,
      channel: 'email',
      reply: 'accepted',
      invited_at: new Date(0),
      replied_at: new Date(0),
    });
    await clockTo(stage, at('2031-06-17T19:30'));
    expect(perPerson(await deliver(stage))['p2@people.example']).toBe(2);
    const counts: { counts: number }[] = await stage
      .db('delivery as d')
      .join('firing as f', 'f.id', 'd.firing_id')
      .where({ 'd.subscriber_id': 2, 'f.event_id': first })
      .select('d.counts');
    expect(counts).toEqual([{ counts: 0 }]);
  });

  it('asks again right before: a limit set while they wait holds them back', async () => {
    await threeReminders();
    await clockTo(stage, at('2031-06-17T19:30'));
    let isAway = true;
    const mail = scriptedEnd<EmailMessage>(() => (isAway ? { kind: 'unreachable', answer: 'nobody there' } : null));
    const worker = await workOn(stage, { mail });
    await until('all wait', async () => (await stage.db('delivery').where({ state: 'queued' })).length === 12);
    await limitTo(1);
    isAway = false;
    await until(
      'all is decided',
      async () => (await stage.db('delivery').whereIn('state', ['queued', 'sending'])).length === 0,
    );
    await worker.stop();
    expect(Object.values(perPerson(mail.taken))).toEqual([1, 1, 1, 1]);
  });

  it('counts whom a limit will hold back, tells what is planned, and what each limit would have held back', async () => {
    await threeReminders();
    await clockTo(stage, at('2031-06-17T19:30'));
    expect((await deliver(stage)).length).toBe(12);
    await clockTo(stage, at('2031-06-18T12:00'));
    const next = await publishedEvent(stage, {
      span: { kind: 'timed', start: '2031-06-21T19:30', end: '2031-06-21T22:00' },
    });
    await saveCue(stage.context, next, null, toList('Next'), actor);
    await countAll(stage);
    expect((await readPressure(stage.context)).days.find(({ day }) => day === '2031-06-20')?.value).toBe(4);
    await limitTo(3);
    await countAll(stage);
    const { days, pressure } = await readPressure(stage.context);
    expect([days.length, days.find(({ day }) => day === '2031-06-20')?.value, pressure.perWeek]).toEqual([28, 0, 3]);
    let last: PressureLook | undefined;
    for await (const look of lookBack(stage.context)) last = look;
    expect(last).toEqual({
      share: 1,
      thisWeek: [0, 0, 4, 0, 0, 0, 0],
      messages: 12,
      heldBack: [8, 4, 0, 0, 0, 0, 0].map((messages, index) => ({
        perWeek: index + 1,
        messages,
        people: messages > 0 ? 4 : 0,
      })),
    });
  });

  it('does not overwrite what somebody else set meanwhile', async () => {
    await limitTo(3);
    const was = { perWeek: null, sparesComers: true };
    await expectAsync(
      savePressure(stage.context, { pressure: { perWeek: 5, sparesComers: true }, was }, actor),
    ).toBeRejectedWith(jasmine.objectContaining({ status: 409 }));
  });
});
