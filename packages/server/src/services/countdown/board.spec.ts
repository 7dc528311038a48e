import type { CueFields, Need } from '@convite/contract';
import { calendarMail } from '../../testing/received';
import { resolveWallTime, plainDocument } from '@convite/core';
import type { EmailMessage } from '../../mail/message';
import { deliver, dayBeforeCue, invite } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  countAll,
  eventFacts,
  openStage,
  publishedEvent,
  type Stage,
} from '../../testing/stage';
import { readBoard } from './board';
import { saveCue } from './cues';
import { changeDate } from '../events/dates';
import { saveEvent } from '../events/events';
import { getEvent } from '../events/get-event';
import { stopFiring } from './firings';
import { houseWordings } from '../sending/house-wordings';
import { sendNotice } from '../sending/notices';
import { answerProposal, listProposals } from '../replies/proposals';
import { receiveMail } from '../replies/receive-mail';

const zone = 'Europe/Lisbon';
const dayBefore = dayBeforeCue({
  audience: {
    invitees: ['accepted', 'tentative', 'needs-action', 'declined'],
    lists: [],
    exceptLists: [],
    exceptReplies: [],
    topics: null,
  },
});

describe('the call board', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await clockTo(stage, resolveWallTime('2031-06-12T12:00', zone));
    await addPeople(stage, 4);
  });
  afterEach(() => stage.close());

  const needs = async (): Promise<Pick<Need, 'kind' | 'count' | 'title'>[]> =>
    // No worker runs between the steps, which the board says each time; health.spec.ts asks for that.
    (await readBoard(stage.context)).needs.flatMap(({ kind, count, title }) =>
      kind === 'trouble' ? [] : [{ kind, count, title }],
    );
  const refusing = (address: string) => (message: EmailMessage) =>
    message.to.address === address
      ? ({ kind: 'permanent', answer: '550 5.1.1 nobody', about: 'address' } as const)
      : null;
  const mailFrom = async (event: number, from: string, method: string, lines: readonly string[]) => {
    const { uid } = await getEvent(stage.context, event);
    const text = ['BEGIN:VCALENDAR', `METHOD:${method}`, 'BEGIN:VEVENT', `UID:${uid}`, 'DTSTAMP:20310612T120000Z'];
    const calendar = [...text, ...lines, 'END:VEVENT', 'END:VCALENDAR', ''].join('\r\n');
    await receiveMail(stage.context, calendarMail(calendar, from));
  };

  it('says what failed and who bounces, and what a change left behind until the notice is out', async () => {
    const event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage, refusing('p2@people.example'));
    expect(await needs()).toEqual([
      { kind: 'failed', count: 1, title: 'Dome night' },
      { kind: 'bounced', count: 1, title: 'in the last seven days' },
    ]);
    const { version } = await getEvent(stage.context, event);
    await saveEvent(
      stage.context,
      event,
      { facts: { ...eventFacts, venue: 'Dome 2' }, basedOn: version.number },
      actor,
    );
    await countAll(stage);
    expect(await needs()).toContain({ kind: 'old-version', count: 3, title: 'Dome night' });
    await sendNotice(stage.context, event, houseWordings.change, null, actor);
    await deliver(stage);
    await countAll(stage);
    expect((await needs()).map(({ kind }) => kind)).not.toContain('old-version');
  });

  it('says which drafts are due and what was missed, and forgets neither when nobody looks', async () => {
    const event = await publishedEvent(stage);
    await saveCue(stage.context, event, null, { ...dayBefore, isDraft: true }, actor);
    await saveCue(stage.context, event, null, { ...dayBefore, name: 'Week', moment: fixed('2031-06-13T09:00') }, actor);
    expect(await needs()).toEqual([{ kind: 'draft-due', count: 1, title: 'Tomorrow · Dome night' }]);
    // Nobody was up for two days.
    await clockTo(stage, resolveWallTime('2031-06-15T12:00', zone));
    await deliver(stage);
    expect(await needs()).toEqual(
      jasmine.arrayWithExactContents([
        { kind: 'draft-due', count: 1, title: 'Tomorrow · Dome night' },
        { kind: 'missed', count: 1, title: 'Week · Dome night' },
      ]),
    );
  });

  it('says which replies were set aside and which times are proposed, until they are answered', async () => {
    const event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage);
    await mailFrom(event, 'mallory@evil.example', 'REPLY', ['ATTENDEE;PARTSTAT=DECLINED:mailto:p1@people.example']);
    await mailFrom(event, 'p1@people.example', 'COUNTER', [
      'SEQUENCE:0',
      'DTSTART:20310619T183000Z',
      'DTEND:20310619T210000Z',
      'ATTENDEE:mailto:p1@people.example',
    ]);
    expect(await needs()).toEqual([
      { kind: 'set-aside', count: 1, title: 'Dome night' },
      { kind: 'proposal', count: 1, title: 'Dome night' },
    ]);
    const [proposal] = await listProposals(stage.context, event);
    await answerProposal(stage.context, event, proposal?.id ?? 0, { accept: false, comment: '', basedOn: 1 }, actor);
    expect((await needs()).map(({ kind }) => kind)).toEqual(['set-aside']);
  });

  it('lists the dates of a series one by one, by the day in the house’s zone, without those called off', async () => {
    const event = await publishedEvent(stage, {
      series: { rule: 'FREQ=WEEKLY;BYDAY=WE', added: [], exceptions: [] },
      span: { kind: 'timed', start: '2031-06-18T00:30', end: '2031-06-18T02:00' },
    });
    await changeDate(stage.context, event, { kind: 'call-off', key: '20310625T003000' }, 1, actor);
    const { starts, load } = await readBoard(stage.context);
    // 18 June 0:30 in Lisbon is still 17 June in UTC.
    expect(starts.map(({ at }) => at)).toEqual([
      '2031-06-17T23:30:00.000Z',
      '2031-07-01T23:30:00.000Z',
      '2031-07-08T23:30:00.000Z',
    ]);
    expect(load.length).toBe(28);
    expect(load[0]?.day).toBe('2031-06-05');
    expect(load.filter((day) => day.starts.length).map(({ day }) => day)).toEqual(['2031-06-18', '2031-07-02']);
  });

  it('is narrowed by channel, kind, state and event, shows as much as is asked for, and says that there is more', async () => {
    const [one, other] = [await publishedEvent(stage), await publishedEvent(stage, { title: 'Moon walk' })];
    await saveCue(stage.context, one, null, dayBefore, actor);
    await saveCue(stage.context, one, null, { ...dayBefore, name: 'By text', channel: 'text' }, actor);
    await saveCue(stage.context, other, null, dayBefore, actor);
    await invite(stage, one);
    await deliver(stage);
    const ahead = async (query: Parameters<typeof readBoard>[1]) =>
      (await readBoard(stage.context, query)).ahead.map(({ eventTitle, channel }) => `${eventTitle} ${channel}`).sort();
    expect(await ahead({})).toEqual(['Dome night email', 'Dome night text', 'Moon walk email']);
    expect(await ahead({ channel: 'text' })).toEqual(['Dome night text']);
    expect(await ahead({ event: other })).toEqual(['Moon walk email']);
    expect(await ahead({ kind: 'digest' })).toEqual([]);
    expect([(await ahead({ state: 'set' })).length, (await ahead({ state: 'done' })).length]).toEqual([3, 0]);
    const { behind } = await readBoard(stage.context, { state: 'done' });
    expect(behind.map(({ state }) => state)).toEqual(['done']);
    expect((await readBoard(stage.context, { state: 'missed' })).behind).toEqual([]);
    const short = await readBoard(stage.context, { ahead: 2, behind: 1 });
    expect([short.ahead.length, short.hasMore]).toEqual([2, { ahead: true, behind: false }]);
    expect((await readBoard(stage.context, { channel: 'text' })).behind).toEqual([]);
    expect((await readBoard(stage.context)).hasMore).toEqual({ ahead: false, behind: false });
  });

  it('shows a sending once that ends while the board is read', async () => {
    await invite(stage, await publishedEvent(stage));
    await stage.db('firing').update({ state: 'sending' });
    const { store } = stage.context;
    const ahead: typeof store.firings.ahead = async (...asked) => {
      const read = await store.firings.ahead(...asked);
      await stage.db('firing').update({ state: 'done' });
      return read;
    };
    const board = await readBoard({ ...stage.context, store: { ...store, firings: { ...store.firings, ahead } } });
    expect([board.ahead.length, board.behind.length]).toEqual([0, 1]);
  });

  it('counts the load by what will go out: not what is held, once what went out', async () => {
    const event = await publishedEvent(stage);
    await invite(stage, event);
    await deliver(stage, refusing('p2@people.example'));
    await saveCue(stage.context, event, null, dayBefore, actor);
    await saveCue(
      stage.context,
      event,
      null,
      { ...dayBefore, channel: 'text', wording: plainDocument('', 'Soon'), moment: fixed('2031-06-17T10:00') },
      actor,
    );
    const busy = async () =>
      (await readBoard(stage.context)).load
        .filter(({ email, text }) => email + text > 0)
        .map(({ day, email, text }) => `${day} ${email} ${text}`);
    await countAll(stage);
    // p2 was never invited: the invitation bounced.
    expect(await busy()).toEqual(['2031-06-12 4 0', '2031-06-17 3 3']);
    const cue = (await stage.context.store.firings.ofEvent(event)).find(({ channel }) => channel === 'text');
    await stopFiring(stage.context, cue?.id ?? 0, actor);
    expect(await busy()).toEqual(['2031-06-12 4 0', '2031-06-17 3 0']);
  });
});

const fixed = (wall: string): CueFields['moment'] => ({ kind: 'fixed', wall });
