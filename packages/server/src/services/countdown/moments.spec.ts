import { wallTimeAt, type RelativeMoment } from '@convite/core';
import { dayBeforeCue } from '../../testing/acts';
import { actor, addPeople, openStage, publishedEvent, eventFacts, specSettings, type Stage } from '../../testing/stage';
import { createEvent, insertEvents, publishEvent } from '../events/events';
import { readHolidays } from '../calendars/read-holidays';
import { saveSettings } from '../settings';
import { saveCue } from './cues';
import { listCues } from './list-cues';
import { keepPlannedMs, planOn } from './plan-firings';

describe('moments as they are planned', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await addPeople(stage, 2);
  });
  afterEach(() => stage.close());

  const moment = (over: Partial<RelativeMoment>): RelativeMoment => ({
    ...{ kind: 'relative', amount: 1, unit: 'days', direction: 'before', anchor: 'start', at: '10:00' },
    ...over,
  });
  const dues = async (event: number): Promise<string[]> =>
    (await stage.context.store.firings.ofEvent(event))
      .filter(({ kind }) => kind === 'cue')
      .map(({ dueMs }) => wallTimeAt(dueMs, 'Europe/Lisbon'));

  it('from the publication there is none before it, then one', async () => {
    const event = await createEvent(stage.context, eventFacts, actor, 'public');
    const after = moment({ anchor: 'publication', direction: 'after', amount: 2 });
    await saveCue(stage.context, event, null, dayBeforeCue({ moment: after }), actor);
    expect(await dues(event)).toEqual([]);
    expect((await listCues(stage.context, event))[0]?.firing.note).toBe('It counts from when the event is published.');
    await publishEvent(stage.context, event, actor, true);
    const wanted = wallTimeAt(stage.clock.now() + 2 * 86_400_000, 'Europe/Lisbon').slice(0, 10);
    expect(await dues(event)).toEqual([`${wanted}T10:00`]);
    // One that is stored as published, as calendars bring them, was published then.
    const [brought = 0] = await insertEvents(stage.context, stage.context.store, [
      { facts: eventFacts, reach: 'public', status: 'published', by: '' },
    ]);
    await saveCue(stage.context, brought, null, dayBeforeCue({ moment: after }), actor);
    expect(await dues(brought)).toEqual([`${wanted}T10:00`]);
    const [row] = await listCues(stage.context, event);
    expect([row?.firing.state, row?.hazards.some(({ code }) => code === 'after-start')]).toEqual(['set', false]);
  });

  it('on working days move once a day becomes free, of one-offs too', async () => {
    // The day before is a Tuesday.
    const event = await publishedEvent(stage);
    await saveCue(stage.context, event, null, dayBeforeCue({ moment: moment({ onWorkdays: true }) }), actor);
    await saveCue(stage.context, event, null, dayBeforeCue({ moment: moment({ unit: 'months' }) }), actor);
    expect((await dues(event)).sort()).toEqual(['2031-05-18T10:00', '2031-06-17T10:00']);
    await saveSettings(stage.context, { ...specSettings, holidays: ['2031-06-17', '2031-06-16'] }, actor);
    const { store, clock } = stage.context;
    expect(await store.events.idsToPlan(clock.now() + keepPlannedMs)).toEqual([event]);
    await store.transact((tx) => planOn(tx, event, clock.now()));
    // Monday is free too, and the weekend before it.
    expect((await dues(event)).sort()).toEqual(['2031-05-18T10:00', '2031-06-13T10:00']);
    expect(await store.events.idsToPlan(clock.now() + keepPlannedMs)).toEqual([]);
  });

  it('free days come from a calendar file: whole days alone, each of several, repeated ones, in order', async () => {
    const event = (uid: string, ...lines: string[]): string =>
      ['BEGIN:VEVENT', `UID:${uid}`, 'DTSTAMP:20260101T000000Z', `SUMMARY:${uid}`, ...lines, 'END:VEVENT'].join('\r\n');
    const year = new Date(stage.clock.now()).getUTCFullYear() + 1;
    const file = [
      'BEGIN:VCALENDAR',
      'VERSION:2.0',
      'PRODID:-//x//EN',
      event('two', `DTSTART;VALUE=DATE:${year}1224`, `DTEND;VALUE=DATE:${year}1226`),
      event('yearly', `DTSTART;VALUE=DATE:${year - 3}0501`, 'RRULE:FREQ=YEARLY'),
      event('meeting', `DTSTART:${year}0303T100000Z`, `DTEND:${year}0303T110000Z`),
      event('long-ago', 'DTSTART;VALUE=DATE:20010101'),
      'END:VCALENDAR',
      '',
    ].join('\r\n');
    const octets = new TextEncoder().encode(file);
    expect(await readHolidays(stage.context, octets)).toEqual(
      [`${year}-05-01`, `${year}-12-24`, `${year}-12-25`, `${year + 1}-05-01`, `${year + 2}-05-01`].filter(
        (day) => Date.parse(day) < stage.clock.now() + 1070 * 86_400_000,
      ),
    );
    await expectAsync(readHolidays(stage.context, new TextEncoder().encode('hello'))).toBeRejected();
  });
});
