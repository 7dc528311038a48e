import { calendarMail } from '../../testing/received';
import { resolveWallTime, wallTimeAt, type EventFacts } from '@convite/core';
import type { EmailMessage } from '../../mail/message';
import { dayBeforeCue, deliver, invite } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  eventFacts,
  openStage,
  publishedEvent,
  until,
  workOn,
  type Stage,
} from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { planCues } from '../countdown/plan-firings';
import { changeDate, listDates, markAttendance } from './dates';
import { saveEvent } from './events';
import { getEvent } from './get-event';
import { houseWordings } from '../sending/house-wordings';
import { listGuests } from '../sending/invite';
import { listCues } from '../countdown/list-cues';
import { describeChanges, sendNotice } from '../sending/notices';
import { answerProposal, listProposals } from '../replies/proposals';
import { receiveMail } from '../replies/receive-mail';

const zone = 'Europe/Lisbon';
const dayBefore = dayBeforeCue({
  moment: { kind: 'relative', amount: 1, unit: 'days', direction: 'before', anchor: 'start', at: '10:00' },
  audience: { invitees: ['accepted', 'needs-action'], lists: [], exceptLists: [], exceptReplies: [], topics: null },
});
/** Wednesdays from 18 June 2031. */
const weekly: Partial<EventFacts> = { series: { rule: 'FREQ=WEEKLY;BYDAY=WE', added: [], exceptions: [] } };
const key = (day: string): string => `${day.replaceAll('-', '')}T193000`;

describe('a series', () => {
  let stage: Stage;
  let event: number;
  beforeEach(async () => {
    stage = await openStage();
    await clockTo(stage, resolveWallTime('2031-06-10T12:00', zone));
    await addPeople(stage, 3);
    event = await publishedEvent(stage, weekly);
  });
  afterEach(() => stage.close());

  const context = () => stage.context;
  const version = async (): Promise<number> => (await getEvent(context(), event)).version.number;
  const planned = async (id = event): Promise<string[]> =>
    (await context().store.firings.ofEvent(id))
      .filter(({ kind }) => kind === 'cue')
      .map(({ slot, dueMs, state }) => `${slot.slice(0, 8)} ${wallTimeAt(dueMs, zone).slice(5)} ${state}`);
  const invited = async (): Promise<readonly EmailMessage[]> => {
    await invite(stage, event);
    return deliver(stage);
  };
  const message = (method: string, lines: string[], from = 'p1@people.example') =>
    receiveMail(
      context(),
      calendarMail(
        [
          'BEGIN:VCALENDAR',
          `METHOD:${method}`,
          'BEGIN:VEVENT',
          'DTSTAMP:20310611T100000Z',
          ...lines,
          'END:VEVENT',
          'END:VCALENDAR',
          '',
        ].join('\r\n'),
        from,
      ),
    );
  const uidLine = async (): Promise<string> => `UID:${(await getEvent(context(), event)).uid}`;
  const attendee = (state = ''): string => `ATTENDEE${state && `;PARTSTAT=${state}`}:mailto:p1@people.example`;

  it('plans its cues five weeks ahead, date by date, and the worker plans on', async () => {
    await saveCue(context(), event, null, dayBefore, actor);
    expect(await planned()).toEqual([
      '20310618 06-17T10:00 set',
      '20310625 06-24T10:00 set',
      '20310702 07-01T10:00 set',
      '20310709 07-08T10:00 set',
      '20310716 07-15T10:00 set',
    ]);
    await clockTo(stage, resolveWallTime('2031-06-17T12:00', zone));
    const worker = await workOn(stage, {});
    await until('a sixth is planned', async () => (await planned()).includes('20310723 07-22T10:00 set'));
    await worker.stop();
  });

  it('takes the cues of a date along when it is moved, stops them when it is called off, and brings them back', async () => {
    await saveCue(context(), event, null, dayBefore, actor);
    const moved = {
      ...eventFacts,
      span: { kind: 'timed', start: '2031-06-26T20:00', end: '2031-06-26T22:00' },
    } as const;
    await saveEvent(
      context(),
      event,
      { facts: moved, basedOn: 1, scope: { kind: 'one', key: key('2031-06-25') } },
      actor,
    );
    await changeDate(context(), event, { kind: 'call-off', key: key('2031-07-02') }, 2, actor);
    expect((await planned()).slice(0, 3)).toEqual([
      '20310618 06-17T10:00 set',
      '20310625 06-25T10:00 set',
      '20310702 07-01T10:00 stopped',
    ]);
    await changeDate(context(), event, { kind: 'put-back', key: key('2031-07-02') }, 3, actor);
    await changeDate(context(), event, { kind: 'add', at: '2031-06-20T19:30' }, 4, actor);
    expect(await planned()).toEqual(jasmine.arrayContaining(['20310702 07-01T10:00 set', '20310620 06-19T10:00 set']));
    const dates = await listDates(context(), event, 4);
    expect(dates.map(({ key: one, isChanged }) => `${one.slice(4, 8)}${isChanged ? ' changed' : ''}`)).toEqual([
      '0618',
      '0620',
      '0625 changed',
      '0702',
    ]);
    await expectAsync(
      changeDate(context(), event, { kind: 'call-off', key: key('2031-07-03') }, 5, actor),
    ).toBeRejectedWithError(/no such date/);
    await expectAsync(
      changeDate(context(), event, { kind: 'call-off', key: key('2031-07-02') }, 1, actor),
    ).toBeRejectedWithError(/meanwhile/);
  });

  it('keeps answers for one date apart: who said no to it does not hear of it', async () => {
    await invited();
    await saveCue(context(), event, null, dayBefore, actor);
    await message('REPLY', [await uidLine(), 'SEQUENCE:0', 'RECURRENCE-ID:20310618T183000Z', attendee('DECLINED')]);
    const of = async (occurrence: string) =>
      (await listGuests(context(), event, { occurrence, search: 'p1@', after: '', limit: 5 })).rows[0]?.reply;
    expect([await of(key('2031-06-18')), await of(key('2031-06-25')), await of('')]).toEqual([
      'declined',
      'needs-action',
      'needs-action',
    ]);
    await clockTo(stage, resolveWallTime('2031-06-17T10:00', zone));
    expect((await deliver(stage)).map(({ to }) => to.address).sort()).toEqual([
      'p2@people.example',
      'p3@people.example',
    ]);
    await clockTo(stage, resolveWallTime('2031-06-24T10:00', zone));
    const next = await deliver(stage);
    expect(next.length).toBe(3);
    expect(next[0]?.subject).toBe('Tomorrow: Dome night, Wed 25 Jun 2031');
    // A late answer, an older stamp, a date that never was: none of them counts.
    await message('REPLY', [await uidLine(), 'RECURRENCE-ID:20310619T183000Z', attendee('ACCEPTED')]);
    expect((await context().store.replies.setAside(event)).map(({ reason }) => reason)).toEqual(['unknown-date']);
  });

  it('asks who says no to the whole, after yes to single dates, whether they mean those too', async () => {
    await invited();
    const ofDate = ['RECURRENCE-ID;VALUE=DATE:20310625', attendee('ACCEPTED')];
    await message('REPLY', [await uidLine(), ...ofDate]);
    await message('REPLY', [await uidLine(), attendee('DECLINED')]);
    const [question] = await deliver(stage);
    expect([question?.to.address, question?.calendar, question?.subject]).toEqual([
      'p1@people.example',
      null,
      'Are you still coming? Dome night',
    ]);
    expect(question?.text).toContain('- Wed 25 Jun 2031 19:30');
    const { reply, dates } = await context().store.dates.answersOf(event, 1);
    expect([reply, dates.get(key('2031-06-25'))]).toEqual(['declined', 'accepted']);
    // Asked once within the hour; and no more once the date is answered too.
    await message('REPLY', [await uidLine(), attendee('DECLINED')]);
    await message('REPLY', [await uidLine(), 'RECURRENCE-ID;VALUE=DATE:20310625', attendee('DECLINED')]);
    expect(await deliver(stage)).toEqual([]);
  });

  it('moves as a whole: names of dates, answers and what went out move with it', async () => {
    await invited();
    await saveCue(context(), event, null, dayBefore, actor);
    await message('REPLY', [await uidLine(), 'RECURRENCE-ID:20310625T183000Z', attendee('DECLINED')]);
    await clockTo(stage, resolveWallTime('2031-06-17T10:00', zone));
    expect((await deliver(stage)).length).toBe(3);
    const later: EventFacts = {
      ...eventFacts,
      ...weekly,
      span: { kind: 'timed', start: '2031-06-18T21:30', end: '2031-06-19T00:00' },
    };
    await saveEvent(context(), event, { facts: later, basedOn: await version() }, actor);
    // What went out for the first date is not sent again under its new name.
    expect(
      (await context().store.firings.ofEvent(event))
        .filter(({ kind }) => kind === 'cue')
        .map(({ slot, state }) => `${slot} ${state}`)
        .slice(0, 2),
    ).toEqual(['20310618T213000 done', '20310625T213000 set']);
    const guests = await listGuests(context(), event, {
      occurrence: '20310625T213000',
      search: 'p1@',
      after: '',
      limit: 5,
    });
    expect(guests.rows[0]?.reply).toBe('declined');
  });

  it('parts in two with “this and following”: cues and guests go along, people are told of both', async () => {
    await invited();
    await saveCue(context(), event, null, dayBefore, actor);
    const facts: EventFacts = {
      ...eventFacts,
      ...weekly,
      venue: 'Dome 2',
      span: { kind: 'timed', start: '2031-07-02T20:00', end: '2031-07-02T22:30' },
    };
    const { followingId } = await saveEvent(
      context(),
      event,
      { facts, basedOn: 1, scope: { kind: 'following', key: key('2031-07-02') } },
      actor,
    );
    if (!followingId) throw new Error('nothing follows');
    expect((await planned()).map((one) => one.slice(0, 8))).toEqual(['20310618', '20310625']);
    expect((await planned(followingId)).map((one) => one.slice(0, 14))).toEqual([
      '20310702 07-01',
      '20310709 07-08',
      '20310716 07-15',
    ]);
    for (const id of [event, followingId]) await sendNotice(context(), id, houseWordings.change, null, actor);
    const texts = (await deliver(stage))
      .filter(({ to }) => to.address === 'p1@people.example')
      .map(({ calendar }) => calendar?.text ?? '');
    expect(texts.map((text) => /RRULE:(.*)\r/.exec(text.split('BEGIN:VEVENT')[1] ?? '')?.[1]).sort()).toEqual([
      'FREQ=WEEKLY;BYDAY=WE',
      'FREQ=WEEKLY;UNTIL=20310702T182900Z;BYDAY=WE',
    ]);
    expect(new Set(texts.map((text) => /^UID:(.*)\r/m.exec(text)?.[1])).size).toBe(2);
  });

  it('says a date that is called off as that date alone, and a second change as the whole again (RFC 5546 §3.2.5)', async () => {
    await invited();
    await changeDate(context(), event, { kind: 'call-off', key: key('2031-06-25') }, 1, actor);
    expect((await describeChanges(context(), event)).suggestedWording.subject).toContain('Called off');
    await sendNotice(context(), event, houseWordings.dateOff, null, actor);
    const [off] = await deliver(stage);
    expect([
      off?.calendar?.method,
      /RECURRENCE-ID;TZID=Europe\/Lisbon:(\w+)/.exec(off?.calendar?.text ?? '')?.[1],
      off?.calendar?.text.includes('RRULE:FREQ=WEEKLY'),
    ]).toEqual(['CANCEL', '20310625T193000', false]);
    expect(off?.subject).toContain('Wed 25 Jun 2031');
    await saveEvent(
      context(),
      event,
      { facts: { ...(await getEvent(context(), event)).version.facts, venue: 'Terrace' }, basedOn: 2 },
      actor,
    );
    await sendNotice(context(), event, houseWordings.change, null, actor);
    const [whole] = await deliver(stage);
    expect([
      whole?.calendar?.method,
      /EXDATE;TZID=Europe\/Lisbon:(\w+)/.exec(whole?.calendar?.text ?? '')?.[1],
      /SEQUENCE:(\d)/.exec(whole?.calendar?.text ?? '')?.[1],
    ]).toEqual(['REQUEST', '20310625T193000', '2']);
  });

  it('keeps a time that somebody proposes until it is answered, and sends the newest entry to whoever asks', async () => {
    await invited();
    const counter = [
      await uidLine(),
      'SEQUENCE:0',
      'RECURRENCE-ID:20310625T183000Z',
      'DTSTART:20310625T193000Z',
      'DTEND:20310625T220000Z',
      'COMMENT:Later?',
      attendee(),
    ];
    await message('COUNTER', counter, 'mallory@evil.example');
    expect(await listProposals(context(), event)).toEqual([]);
    await message('COUNTER', counter);
    const [proposal] = await listProposals(context(), event);
    expect([proposal?.person.email, proposal?.startAt, proposal?.comment]).toEqual([
      'p1@people.example',
      '2031-06-25T19:30:00.000Z',
      'Later?',
    ]);
    await answerProposal(context(), event, proposal?.id ?? 0, { accept: false, comment: 'Sorry!', basedOn: 1 }, actor);
    const [no] = await deliver(stage);
    expect([no?.to.address, no?.calendar?.method, no?.calendar?.text.includes('RECURRENCE-ID')]).toEqual([
      'p1@people.example',
      'DECLINECOUNTER',
      true,
    ]);
    // A calendar names everybody whom the invitation named (RFC 5546 §4.2.4), and may ask for another place and length.
    const named = counter.map((line) =>
      line.startsWith('DTEND')
        ? 'DURATION:PT1H\r\nLOCATION:Dome 2'
        : line.replace('ATT', 'ATTENDEE:mailto:p2@people.example\r\nATT'),
    );
    await message('COUNTER', named);
    const [elsewhere] = await listProposals(context(), event);
    expect([elsewhere?.person.email, elsewhere?.endAt, elsewhere?.comment]).toEqual([
      'p1@people.example',
      '2031-06-25T20:30:00.000Z',
      'Later? · Other place: Dome 2',
    ]);
    await message('COUNTER', counter);
    const [again] = await listProposals(context(), event);
    await answerProposal(context(), event, again?.id ?? 0, { accept: true, comment: '', basedOn: 1 }, actor);
    const dates = await listDates(context(), event, 3);
    expect(dates.map(({ startAt }) => startAt.slice(5, 16))).toEqual(['06-18T18:30', '06-25T19:30', '07-02T18:30']);
    await message('REFRESH', [await uidLine(), attendee()]);
    const newest = await deliver(stage);
    expect(
      newest.map(({ to, calendar }) => [to.address, calendar?.method, /SEQUENCE:(\d)/.exec(calendar?.text ?? '')?.[1]]),
    ).toEqual([['p1@people.example', 'REQUEST', '1']]);
  });

  it('notes who passed the invitation on, and who came', async () => {
    await invited();
    await message('REPLY', [
      await uidLine(),
      'ATTENDEE;PARTSTAT=DELEGATED;DELEGATED-TO="mailto:c@x.example":mailto:p1@people.example',
    ]);
    const guest = async () =>
      (await listGuests(context(), event, { occurrence: key('2031-06-18'), search: 'p1@', after: '', limit: 5 }))
        .rows[0];
    expect([(await guest())?.reply, (await guest())?.delegatedTo]).toEqual(['declined', 'c@x.example']);
    // §4.2.6: the other answers in their place; §4.4.10: a calendar that could not take it has answered nothing.
    const inPlace = 'ATTENDEE;PARTSTAT=ACCEPTED;DELEGATED-FROM="mailto:p1@people.example":mailto:c@x.example';
    await message('REPLY', [await uidLine(), inPlace], 'c@x.example');
    await message('REPLY', [await uidLine(), inPlace.replaceAll('c@x', 'd@x')], 'd@x.example');
    const refusal = 'REQUEST-STATUS:3.1;Invalid property value;DTSTART:96-Apr-01';
    await message('REPLY', [await uidLine(), refusal, 'ATTENDEE:mailto:p2@people.example'], 'p2@people.example');
    expect((await stage.context.store.replies.setAside(event)).map(({ reason }) => reason).sort()).toEqual([
      'calendar-refused',
      'in-place-of',
      'not-invited',
    ]);
    const mark = { personId: 1, occurrence: key('2031-06-18'), attended: true };
    await expectAsync(markAttendance(context(), event, mark, actor)).toBeRejectedWithError(/from an hour before/);
    await clockTo(stage, resolveWallTime('2031-06-18T19:00', zone));
    await markAttendance(context(), event, mark, actor);
    expect((await guest())?.attended).toBeTrue();
  });

  it('shows every cue of a series once, with the date it is next for', async () => {
    await saveCue(context(), event, null, dayBefore, actor);
    const [cue] = await listCues(context(), event);
    expect([cue?.firing.occurrence?.startAt, cue?.ahead.length]).toEqual(['2031-06-18T18:30:00.000Z', 4]);
  });

  it('is planned again in a few statements, however often it repeats, and nothing changes', async () => {
    const daily = await publishedEvent(stage, { series: { rule: 'FREQ=DAILY', added: [], exceptions: [] } });
    for (const amount of [1, 2, 3, 5, 8, 13])
      await saveCue(
        context(),
        daily,
        null,
        { ...dayBefore, name: `${amount} before`, moment: { ...dayBefore.moment, amount } as typeof dayBefore.moment },
        actor,
      );
    const before = await planned(daily);
    expect(before.length).toBeGreaterThan(150);
    const stored = await getEvent(context(), daily);
    const cues = await context().store.cues.ofEvent(daily);
    let statements = 0;
    const count = (): void => void (statements += 1);
    stage.db.on('query', count);
    await planCues(context().store, stored, cues, stage.clock.now());
    stage.db.removeListener('query', count);
    expect(statements).toBeLessThanOrEqual(5);
    expect(await planned(daily)).toEqual(before);
  });
});
