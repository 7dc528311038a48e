import { noPace, resolveWallTime } from '@convite/core';
import type { EmailMessage, End } from '../mail/message';
import { answerPerson } from '../services/sending/answer-person';
import { saveCue } from '../services/countdown/cues';
import { getEvent } from '../services/events/get-event';
import { houseWordings } from '../services/sending/house-wordings';
import { eventStore } from '../store/events';
import { dayBeforeCue, invite } from '../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  openStage,
  publishedEvent,
  scriptedEnd,
  specSettings,
  until,
  untilSettled,
  workOn,
  type Stage,
} from '../testing/stage';

describe('the queue', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
  });
  afterEach(() => stage.close());
  const subjects = (mails: readonly EmailMessage[], word: string): number =>
    mails.filter(({ subject }) => subject.includes(word)).length;
  /** A mail server that takes so long for each, and keeps what it took. */
  const slow = (ms: number): End<EmailMessage> & { readonly taken: EmailMessage[] } => {
    const end = scriptedEnd<EmailMessage>();
    return {
      ...end,
      send: async (message) => {
        await new Promise((resolve) => setTimeout(resolve, ms));
        return end.send(message);
      },
    };
  };
  const listCue = (name: string) =>
    dayBeforeCue({
      subject: name,
      audience: { ...dayBeforeCue().audience, invitees: [], lists: [stage.list] },
    });
  const dueNow = () => clockTo(stage, resolveWallTime('2031-06-17T19:30', 'Europe/Lisbon'));
  const before = () => clockTo(stage, resolveWallTime('2031-06-10T12:00', 'Europe/Lisbon'));

  it('lets a confirmation go within two seconds, however many wait', async () => {
    await addPeople(stage, 3000);
    const event = await publishedEvent(stage);
    await invite(stage, event, { confirmedCount: 3000 });
    const mail = slow(40);
    const worker = await workOn(stage, { mail });
    await until('they are on their way', () => mail.taken.length > 20);
    const askedAt = performance.now();
    await answerPerson(stage.context, await getEvent(stage.context, event), {
      personId: 2999,
      method: 'REQUEST',
      occurrence: '',
      wording: { ...houseWordings.registered, subject: 'Confirmed' },
    });
    await until('the confirmation is there', () => subjects(mail.taken, 'Confirmed') === 1, 5);
    expect(performance.now() - askedAt).toBeLessThan(2000);
    expect(mail.taken.length).toBeLessThan(600);
    await worker.stop();
  });

  it('writes an answer and a small sending down while another is being written down', async () => {
    await addPeople(stage, 5);
    await before();
    const [stuck, other] = [await publishedEvent(stage), await publishedEvent(stage)];
    await invite(stage, stuck);
    await saveCue(stage.context, other, null, listCue('Other'), actor);
    await answerPerson(stage.context, await getEvent(stage.context, stuck), {
      personId: 2,
      method: 'REQUEST',
      occurrence: '',
      wording: { ...houseWordings.registered, subject: 'Confirmed' },
    });
    await dueNow();
    // As a sending to a million does, which takes a minute to be written down.
    const holder = await stage.db.transaction();
    await eventStore(holder).takeTurn(stuck);
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await until('both have left', () => subjects(mail.taken, 'Other') === 5 && subjects(mail.taken, 'Confirmed') === 1);
    expect(mail.taken.length).toBe(6);
    await holder.commit();
    await until('the invitation goes', () => mail.taken.length === 11);
    await worker.stop();
  });

  it('lets what one person is answered leave in its order, though the first takes longer', async () => {
    await addPeople(stage, 3);
    const event = await getEvent(stage.context, await publishedEvent(stage));
    for (const [subject, personId] of [
      ['First', 2],
      ['Second', 2],
      ['Elsewhere', 3],
    ] as const)
      await answerPerson(stage.context, event, {
        personId,
        method: 'QUESTION',
        occurrence: '',
        wording: { ...houseWordings.registered, subject },
      });
    const end = scriptedEnd<EmailMessage>();
    let release = (): void => undefined;
    const elsewhere = new Promise<void>((resolve) => (release = resolve));
    const mail: End<EmailMessage> = {
      ...end,
      send: async (message) => {
        // What goes to somebody else does not wait for it; what comes after it for the same person does.
        if (message.subject === 'First') await elsewhere;
        if (message.subject === 'Elsewhere') setTimeout(release, 400);
        return end.send(message);
      },
    };
    const worker = await workOn(stage, { mail });
    await until('all have left', () => end.taken.length === 3);
    const order = end.taken.map(({ subject }) => subject);
    expect(order).toEqual(['Elsewhere', 'First', 'Second']);
    await worker.stop();
  });

  it('goes round the firings that wait: a small one does not wait for a large one that began before it', async () => {
    await addPeople(stage, 1500);
    await before();
    const [large, small] = [await publishedEvent(stage), await publishedEvent(stage)];
    const few = await stage.context.store.lists.create('Few');
    await stage.context.store.lists.join(few, [1, 2, 3, 4, 5], new Date(0));
    await saveCue(stage.context, large, null, listCue('Large'), actor);
    await saveCue(
      stage.context,
      small,
      null,
      { ...listCue('Small'), audience: { ...listCue('').audience, lists: [few] } },
      actor,
    );
    await dueNow();
    const mail = slow(5);
    const worker = await workOn(stage, { mail });
    await until('the small one is done', () => subjects(mail.taken, 'Small') === 5);
    expect(subjects(mail.taken, 'Large')).toBeLessThan(700);
    await worker.stop();
  });

  it('keeps the pace of its sender, two workers together', async () => {
    await addPeople(stage, 30);
    await stage.context.store.house.saveSettings({
      ...specSettings,
      pace: { email: { ...noPace, perSecond: 5, perHour: 15 }, text: noPace },
    });
    await invite(stage, await publishedEvent(stage));
    const mail = scriptedEnd<EmailMessage>();
    const workers = [await workOn(stage, { mail }), await workOn(stage, { mail })];
    await until('the first go', () => mail.taken.length > 0);
    await new Promise((resolve) => setTimeout(resolve, 900));
    expect(mail.taken.length).toBeLessThanOrEqual(10);
    await until('the hour is used up', () => mail.taken.length === 15);
    await new Promise((resolve) => setTimeout(resolve, 1500));
    expect(mail.taken.length).toBe(15);
    await stage
      .db('pace')
      .where({ unit: 'hour' })
      .update({ since: stage.db.raw('now(3) - interval 61 minute') });
    await until('the next hour lets the others go', () => mail.taken.length === 30);
    await Promise.all(workers.map((worker) => worker.stop()));
  });

  it('takes nothing from the pace for what could not leave', async () => {
    await addPeople(stage, 30);
    const pace = { email: { ...noPace, perHour: 30 }, text: noPace };
    await stage.context.store.house.saveSettings({ ...specSettings, pace });
    await invite(stage, await publishedEvent(stage));
    let isAway = true;
    const mail = scriptedEnd<EmailMessage>(() => (isAway ? { kind: 'unreachable', answer: 'nobody there' } : null));
    const worker = await workOn(stage, { mail });
    await new Promise((resolve) => setTimeout(resolve, 1500));
    isAway = false;
    await until('all have left within the hour’s bound', () => mail.taken.length === 30);
    await worker.stop();
    expect(await stage.db('pace').select('used')).toEqual([{ used: 30 }]);
  }, 40_000);

  it('asks again right before: who was taken off the list, or answered, since it was written down gets nothing', async () => {
    await addPeople(stage, 400);
    await before();
    const event = await publishedEvent(stage);
    await saveCue(stage.context, event, null, listCue('Soon'), actor);
    await dueNow();
    const mail = slow(20);
    const worker = await workOn(stage, { mail });
    await until('it has begun', () => mail.taken.length > 0);
    await stage.context.store.lists.leave(
      stage.list,
      Array.from({ length: 20 }, (_, index) => 381 + index),
      new Date(0),
    );
    await untilSettled(stage);
    await worker.stop();
    expect(mail.taken.length).toBe(380);
    const skipped: { answer: string }[] = await stage.db('delivery').where({ state: 'skipped' }).select('answer');
    expect(skipped.length).toBe(20);
    expect(new Set(skipped.map(({ answer }) => answer))).toEqual(
      new Set(['Was taken off its audience before it went.']),
    );
    const [firing] = await stage.context.store.firings.ofEvent(event);
    expect([firing?.planned, firing?.sent, firing?.skipped, firing?.state]).toEqual([400, 380, 20, 'done']);
  });
});
