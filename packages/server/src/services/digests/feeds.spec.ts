import ICAL from 'ical.js';
import { resolveWallTime, type EventFacts, type ReplyState } from '@convite/core';
import { deliver, invite } from '../../testing/acts';
import { actor, addPeople, clockTo, eventFacts, openStage, publishedEvent, type Stage } from '../../testing/stage';
import { changeDate } from '../events/dates';
import { callOffEvent } from '../events/events';
import { getEvent } from '../events/get-event';
import { eventFeed, personFeed, topicFeed } from './feeds';
import { houseWordings } from '../sending/house-wordings';
import { takePersonal } from '../events/personal';
import { replyByPage } from '../replies/reply-by-page';

const weekly: Partial<EventFacts> = { series: { rule: 'FREQ=WEEKLY;BYDAY=WE;COUNT=4', added: [], exceptions: [] } };

/** The dates that an independent reader shows of a feed: its title, when it begins, and whether it takes place. */
function datesIn(text: string): string[] {
  const calendar = new ICAL.Component(ICAL.parse(text));
  for (const zone of calendar.getAllSubcomponents('vtimezone')) ICAL.TimezoneService.register(zone);
  const events = calendar.getAllSubcomponents('vevent').map((one) => new ICAL.Event(one));
  const shown: string[] = [];
  for (const event of events.filter((one) => !one.isRecurrenceException())) {
    for (const one of events) if (one.isRecurrenceException() && one.uid === event.uid) event.relateException(one);
    const dates = event.iterator();
    for (let next = dates.next(), left = 20; next && left > 0; next = dates.next(), left -= 1) {
      const { item, startDate } = event.getOccurrenceDetails(next);
      shown.push(
        `${startDate.toString().slice(0, 16)}${item.component.getFirstPropertyValue('status') === 'CANCELLED' ? ' off' : ''}`,
      );
    }
  }
  return shown.sort();
}

describe('the feeds', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await clockTo(stage, resolveWallTime('2031-06-10T12:00', 'Europe/Lisbon'));
    await addPeople(stage, 2);
    const { house } = stage.context.store;
    await house.saveSettings({ ...(await house.settings()), topics: ['planets'] });
  });
  afterEach(() => stage.close());

  const invited = async (eventId: number): Promise<void> => {
    await invite(stage, eventId);
    await deliver(stage);
  };
  const say = (eventId: number, state: ReplyState, occurrence = '') =>
    replyByPage(stage.context, { eventId, subscriberId: 1 }, { occurrence, state, comment: '' });
  const feedOf = async (id: number): Promise<string> => {
    const person = await stage.context.store.subscribers.find(id);
    const token = stage.context.links.personFeed(id, person?.feedNonce ?? 0).replace(/^.*\/|\.ics$/g, '');
    return (await personFeed(stage.context, token)) ?? '';
  };

  it('of a person hold what they said yes to, and nothing of anybody else', async () => {
    const [dome, moon] = [await publishedEvent(stage), await publishedEvent(stage, { title: 'Moon walk' })];
    await invited(dome);
    await invited(moon);
    expect(datesIn(await feedOf(1))).toEqual([]);
    await say(dome, 'accepted');
    await say(moon, 'tentative');
    expect(datesIn(await feedOf(1))).toEqual(['2031-06-18T19:30']);
    expect(await feedOf(1)).not.toContain('Moon walk');
    expect(await feedOf(1)).not.toContain('p2@people.example');
    expect(datesIn(await feedOf(2))).toEqual([]);
  });

  it('of a person leave out the one date they said no to, or hold only the one they said yes to', async () => {
    const event = await publishedEvent(stage, weekly);
    await invited(event);
    await say(event, 'accepted', '20310625T193000');
    expect(datesIn(await feedOf(1))).toEqual(['2031-06-25T19:30']);
    await say(event, 'accepted');
    await say(event, 'declined', '20310702T193000');
    expect(datesIn(await feedOf(1)).filter((date) => !date.endsWith('off'))).toEqual([
      '2031-06-18T19:30',
      '2031-06-25T19:30',
      '2031-07-09T19:30',
    ]);
  });

  it('of a person say their own time, by the revision that they hold', async () => {
    const event = await publishedEvent(stage, { isPersonal: true });
    const csv = 'email,start,end,place\np1@people.example,2031-06-18 21:15,2031-06-18 21:30,West eyepiece';
    await takePersonal(stage.context, event, { kind: 'csv', text: csv }, actor);
    await say(event, 'accepted');
    expect(datesIn(await feedOf(1))).toEqual(['2031-06-18T21:15']);
    expect(await feedOf(1)).toContain('West eyepiece');
  });

  it('keep what was called off as called off, date by date and whole', async () => {
    const event = await publishedEvent(stage, { ...weekly, topics: ['planets'] });
    const { publicKey } = await getEvent(stage.context, event);
    await changeDate(stage.context, event, { kind: 'call-off', key: '20310625T193000' }, 1, actor);
    const dates = ['2031-06-18T19:30', '2031-07-02T19:30', '2031-07-09T19:30'];
    expect(datesIn((await topicFeed(stage.context, 'planets')) ?? '')).toEqual(dates);
    expect(datesIn((await eventFeed(stage.context, publicKey)) ?? '')).toEqual(dates);
    await callOffEvent(stage.context, event, houseWordings.callOff, null, actor);
    expect(datesIn((await topicFeed(stage.context, 'planets')) ?? '').every((date) => date.endsWith('off'))).toBeTrue();
  });

  it('forget what is over for a quarter, and say how often to look again (RFC 7986 §5.7)', async () => {
    const event = await publishedEvent(stage, { ...eventFacts, topics: ['planets'] });
    const { publicKey } = await getEvent(stage.context, event);
    expect(await eventFeed(stage.context, publicKey)).toContain('REFRESH-INTERVAL;VALUE=DURATION:PT60M');
    expect(datesIn((await topicFeed(stage.context, 'planets')) ?? '')).toEqual(['2031-06-18T19:30']);
    await clockTo(stage, resolveWallTime('2031-09-20T12:00', 'Europe/Lisbon'));
    expect(datesIn((await topicFeed(stage.context, 'planets')) ?? '')).toEqual([]);
    expect(await topicFeed(stage.context, 'no such topic')).toBeNull();
  });
});
