import { resolveWallTime } from '@convite/core';
import type { LiveCount } from '@convite/contract';
import type { TextMessage } from '../../mail/message';
import { dayBeforeCue } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  countAll,
  openStage,
  publishedEvent,
  scriptedEnd,
  untilSettled,
  workOn,
  type Stage,
} from '../../testing/stage';
import { saveQuiet } from '../audience/pressure';
import { countMessage, peopleBehind } from '../audience/count-message';
import { saveCue } from '../countdown/cues';
import { planOn } from '../countdown/plan-firings';
import { previewCue } from '../countdown/preview-cue';
import { startToBeBefore } from '../countdown/start-of-firing';

describe('quiet hours', () => {
  let stage: Stage;
  let event: number;
  const at = (wall: string, zone = 'Europe/Lisbon'): number => resolveWallTime(wall, zone);
  const quiet = { from: '22:00', until: '08:00', channels: ['text'] as const };
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 4);
    for (const [id, zone] of [
      [2, 'Asia/Tokyo'],
      [3, 'America/New_York'],
      [4, 'Pacific/Auckland'],
    ] as const)
      await stage.db('subscriber').where({ id }).update({ zone });
    await clockTo(stage, at('2031-06-10T12:00'));
    event = await publishedEvent(stage);
    await saveQuiet(stage.context, { quiet, was: null }, actor);
  });
  afterEach(() => stage.close());

  const text = (moment: { amount: number; unit: 'hours' | 'days' }) =>
    dayBeforeCue({
      channel: 'text',
      subject: '',
      body: 'Soon: {{event.title}}',
      audience: { ...dayBeforeCue().audience, invitees: [], lists: [stage.list] },
      moment: { kind: 'relative', direction: 'before', anchor: 'start', at: null, ...moment },
    });
  /** Lets what is due leave, and says to whom. */
  const textsAt = async (atMs: number): Promise<number[]> => {
    await clockTo(stage, atMs);
    const end = scriptedEnd<TextMessage>();
    const worker = await workOn(stage, { text: end });
    await untilSettled(stage);
    await worker.stop();
    return end.taken.map(({ to }) => Number(to.slice(-5))).sort();
  };
  const lastOf = async (counts: AsyncGenerator<LiveCount>): Promise<LiveCount['audience'] | null> => {
    let last: LiveCount['audience'] | null = null;
    for await (const { audience } of counts) last = audience;
    return last;
  };

  it('lets everybody wait until their own morning, and says beforehand who does', async () => {
    // The event begins on 18 June at 19:30; 21 hours before it is 22:30 in Lisbon.
    const cue = text({ amount: 21, unit: 'hours' });
    const counted = await lastOf(await countMessage(stage.context, { kind: 'cue', eventId: event, ...cue }));
    expect(counted).toEqual({ gets: 4, waiting: 2, nameless: 0, without: [] });
    const asked = { of: { kind: 'cue', eventId: event, ...cue }, reason: 'waiting', after: 0 } as const;
    expect((await peopleBehind(stage.context, asked)).rows.map(({ id }) => id)).toEqual([1, 2]);
    const preview = await previewCue(stage.context, event, cue, 2);
    expect(preview.person?.waitsUntil).toBe(new Date(at('2031-06-18T08:00', 'Asia/Tokyo')).toISOString());

    await saveCue(stage.context, event, null, cue, actor);
    expect(await textsAt(at('2031-06-17T22:30'))).toEqual([3, 4]);
    const [firing]: { state: string; note: string }[] = await stage.db('firing').where({ kind: 'cue' });
    expect(firing).toEqual(
      jasmine.objectContaining({ state: 'sending', note: '2 were in quiet hours: theirs goes as those end.' }),
    );
    expect(await textsAt(at('2031-06-18T07:59', 'Asia/Tokyo'))).toEqual([]);
    expect(await textsAt(at('2031-06-18T08:00', 'Asia/Tokyo'))).toEqual([2]);
    expect(await textsAt(at('2031-06-18T08:00'))).toEqual([1]);
    expect(await stage.db('firing').where({ kind: 'cue', state: 'done', sent: 4 })).toHaveSize(1);
  });

  it('goes before they begin where the house would rather, zone by zone; who is not asleep gets it at its moment, and nobody twice', async () => {
    // Twelve hours before it is half past seven in Lisbon, half past two in New York, afternoon in Tokyo, and evening in Auckland.
    const cue = text({ amount: 12, unit: 'hours' });
    const id = await saveCue(stage.context, event, null, cue, actor);
    const planned = async () => {
      const rows: { zone: string; due_at: Date }[] = await stage
        .db('firing')
        .where({ cue_id: id })
        .orderBy('due_at')
        .select('zone', 'due_at');
      return rows.map((row) => [row.zone, row.due_at.getTime()]);
    };
    const usual = [['', at('2031-06-18T07:30')]];
    expect(await planned()).toEqual(usual);
    const replan = async (manner: 'before' | 'wait') => {
      const before = (await stage.context.store.house.settings()).quiet;
      await saveQuiet(stage.context, { quiet: { ...quiet, manner }, was: before }, actor);
      for (const one of await stage.context.store.events.idsToPlan(stage.clock.now()))
        await stage.context.store.transact((tx) => planOn(tx, one, stage.clock.now()));
    };
    await replan('before');
    const early = [
      ['Europe/Lisbon', at('2031-06-17T21:45')],
      ['America/New_York', at('2031-06-17T21:45', 'America/New_York')],
      ...usual,
    ];
    expect(await planned()).toEqual(early);
    await replan('before');
    expect(await planned()).toEqual(early);
    await replan('wait');
    expect(await planned()).toEqual(usual);
    await replan('before');

    const counted = await lastOf(await countMessage(stage.context, { kind: 'cue', eventId: event, ...cue }));
    expect(counted).toEqual({ gets: 4, waiting: 0, nameless: 0, without: [] });
    await countAll(stage);
    expect(await stage.db('firing').where({ cue_id: id }).orderBy('due_at').pluck('gets')).toEqual([1, 1, 2]);
    const preview = await previewCue(stage.context, event, cue, 3);
    expect(preview.person?.waitsUntil).toBe(new Date(at('2031-06-17T21:45', 'America/New_York')).toISOString());

    expect(await textsAt(at('2031-06-17T21:44'))).toEqual([]);
    expect(await textsAt(at('2031-06-17T21:45'))).toEqual([1]);
    expect(await textsAt(at('2031-06-17T21:45', 'America/New_York'))).toEqual([3]);
    // Who moved to a zone that had it is not forgotten, and who had it and moved does not get it again.
    await addPeople(stage, 1, 5);
    await stage.db('subscriber').where({ id: 1 }).update({ zone: 'Asia/Tokyo' });
    expect(await textsAt(at('2031-06-18T07:30'))).toEqual([2, 4]);
    expect(await textsAt(at('2031-06-18T08:00'))).toEqual([5]);
    expect(await stage.db('delivery').where({ state: 'sent' })).toHaveSize(5);
  });

  it('asks again right before: what was put down by day and could not go waits at night', async () => {
    await saveCue(stage.context, event, null, text({ amount: 1, unit: 'days' }), actor);
    await clockTo(stage, at('2031-06-17T19:30'));
    // Nobody is there until it is night in Lisbon.
    const away = scriptedEnd<TextMessage>(() => ({ kind: 'unreachable', answer: 'nobody there' }));
    const worker = await workOn(stage, { text: away });
    await new Promise((resolve) => setTimeout(resolve, 400));
    await worker.stop();
    expect(await textsAt(at('2031-06-17T22:30'))).not.toContain(1);
    expect(await textsAt(at('2031-06-18T08:00'))).toContain(1);
  });

  it('never waits past the start: who comes gets it at its moment, the others do without and are told of', async () => {
    // It begins at 3:30 in Tokyo and at 6:30 in Auckland, before the quiet hours there end.
    const cue = text({ amount: 2, unit: 'hours' });
    await stage
      .db('invitee')
      .insert({ event_id: event, subscriber_id: 4, channel: 'text', reply: 'accepted', invited_at: new Date(0) });
    const counted = await lastOf(await countMessage(stage.context, { kind: 'cue', eventId: event, ...cue }));
    expect(counted).toEqual({ gets: 3, waiting: 0, nameless: 0, without: [{ reason: 'quiet-hours', count: 1 }] });
    expect((await previewCue(stage.context, event, cue, 2)).person?.whyNot).toBe('quiet-hours');
    await saveCue(stage.context, event, null, cue, actor);
    expect(await textsAt(at('2031-06-18T17:30'))).toEqual([1, 3, 4]);
    expect(await stage.db('delivery').where({ subscriber_id: 2 })).toEqual([]);
  });

  it('knows the start that a message must be before: of the event, of its date, of one’s own time, or none', async () => {
    const { moment } = text({ amount: 2, unit: 'hours' });
    const stored = await stage.context.store.events.find(event);
    if (!stored) throw new Error('no event');
    const own = { ...stored, version: { ...stored.version, facts: { ...stored.version.facts, isPersonal: true } } };
    const afterEnd = {
      kind: 'relative',
      amount: 1,
      unit: 'hours',
      direction: 'after',
      anchor: 'end',
      at: null,
    } as const;
    const at10 = { slot: '20310618T100000' };
    expect([
      startToBeBefore(stored, moment, { slot: '' }),
      startToBeBefore(own, moment, at10),
      startToBeBefore(own, moment, { slot: '' }),
      startToBeBefore(stored, afterEnd, { slot: '' }),
    ]).toEqual([at('2031-06-18T19:30'), at('2031-06-18T10:00'), null, null]);
  });

  it('is one setting that two who save it at once do not overwrite', async () => {
    const [first, second] = await Promise.allSettled([
      saveQuiet(stage.context, { quiet: null, was: quiet }, actor),
      saveQuiet(stage.context, { quiet: { ...quiet, until: '09:00' }, was: quiet }, actor),
    ]);
    expect([first.status, second.status].sort()).toEqual(['fulfilled', 'rejected']);
  });
});
