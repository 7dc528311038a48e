import { calendarMail } from '../../testing/received';
import { resolveWallTime } from '@convite/core';
import type { EmailMessage } from '../../mail/message';
import { dayBeforeCue, deliver, invite, countedChanges } from '../../testing/acts';
import {
  actor,
  addPeople,
  clockTo,
  eventFacts,
  openStage,
  publishedEvent,
  scriptedEnd,
  until,
  untilSettled,
  workOn,
  type Stage,
} from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { bringCsv } from '../../testing/bring';
import { listGuests, planInvitations, sendInvitations } from '../sending/invite';
import { houseWordings } from '../sending/house-wordings';
import { createEvent } from './events';
import { takePersonal } from './personal';
import { previewInvitation } from '../sending/preview-invitation';
import { answerProposal, listProposals } from '../replies/proposals';
import { receiveMail } from '../replies/receive-mail';

const zone = 'Europe/Lisbon';
const everybody = { occurrence: '', search: '', after: '', limit: 50 };

describe('an event at which everybody has their own time', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await clockTo(stage, resolveWallTime('2031-06-10T12:00', zone));
    await addPeople(stage, 3);
  });
  afterEach(() => stage.close());

  it('is prepared on a draft: who has no time of their own is not invited, and the panel says how many', async () => {
    const { context, list } = stage;
    const event = await createEvent(context, { ...eventFacts, isPersonal: true }, actor, 'public');
    const plan = () => planInvitations(context, event, { lists: [list] }, 'email');
    expect(await plan()).toEqual(jasmine.objectContaining({ gets: 0, without: [{ reason: 'no-own-time', count: 3 }] }));
    const rows = [
      { email: 'p2@people.example', start: '2031-06-18T20:00', end: '', place: '', name: '', mobile: '', notes: '' },
    ];
    expect((await takePersonal(context, event, { kind: 'rows', rows }, actor)).saved).toBe(1);
    expect(await plan()).toEqual(jasmine.objectContaining({ gets: 1, without: [{ reason: 'no-own-time', count: 2 }] }));
    const request = { lists: [list], channel: 'email' as const, wording: houseWordings.invitation, confirmedCount: 1 };
    await sendInvitations(context, event, { ...request, publishes: true }, actor);
    const mails = await deliver(stage);
    expect(
      mails.map(({ to, calendar }) => [to.address, /DTSTART;TZID[^:]*:(\w+)/.exec(calendar?.text ?? '')?.[1]]),
    ).toEqual([['p2@people.example', '20310618T200000']]);
  });

  it('gives each their own entry, link and cue, from a file; bad rows are named and the good ones stand', async () => {
    const event = await publishedEvent(stage, { isPersonal: true });
    await saveCue(stage.context, event, null, dayBeforeCue(), actor);
    const text =
      'email,start,end,place\np1@people.example,2031-06-18 20:00,2031-06-18 20:30,West\np2@people.example,2031-06-19 21:00,,\nnope,2031-06-18 20:00,,\np3@people.example,31 June,,\nnew@people.example,2031-06-18 20:00,2031-06-18 20:30,East\n';
    const result = await takePersonal(stage.context, event, { kind: 'csv', text }, actor);
    expect([result.saved, result.guests, result.problems.map(({ path, code }) => `${path} ${code}`)]).toEqual([
      3,
      3,
      ['line 4 bad-address', 'line 5, start bad-date'],
    ]);

    await invite(stage, event, { lists: [] });
    const mail = scriptedEnd<EmailMessage>();
    const worker = await workOn(stage, { mail });
    await untilSettled(stage);
    expect(mail.taken.length).toBe(3);
    const entries = new Map(
      mail.taken.map(({ to, calendar, text: body }) => [
        to.address,
        [
          /DTSTART;TZID=Europe\/Lisbon:(\w+)/.exec(calendar?.text ?? '')?.[1],
          /LOCATION:(.*)\r/.exec(calendar?.text ?? '')?.[1],
          /^UID:(.*)\r/m.exec(calendar?.text ?? '')?.[1],
          body,
        ],
      ]),
    );
    expect(entries.get('p1@people.example')?.slice(0, 2)).toEqual(['20310618T200000', 'West']);
    expect(entries.get('p2@people.example')?.slice(0, 2)).toEqual(['20310619T210000', 'Dome 1']);
    expect(new Set([...entries.values()].map(([, , uid]) => uid)).size).toBe(3);
    expect(entries.get('p1@people.example')?.[3]).toContain('Wed 18 Jun 2031 20:00 to 20:30');

    // The same file again changes nothing for anybody; a changed slot raises this person's SEQUENCE alone.
    await takePersonal(stage.context, event, { kind: 'csv', text }, actor);
    await takePersonal(
      stage.context,
      event,
      {
        kind: 'rows',
        rows: [
          {
            email: 'p1@people.example',
            mobile: '',
            name: '',
            start: '2031-06-18T21:00',
            end: '',
            place: 'West',
            notes: '',
          },
        ],
      },
      actor,
    );
    expect((await countedChanges(stage, event)).toTell.email).toBe(1);
    const preview = await previewInvitation(stage.context, event, 1, null);
    expect([/SEQUENCE:(\d)/.exec(preview.calendar)?.[1], preview.conformance.every(({ isKept }) => isKept)]).toEqual([
      '1',
      true,
    ]);

    // Each is reminded a day before their own time.
    await clockTo(stage, resolveWallTime('2031-06-17T20:00', zone));
    await until('the first slot is reminded', () => mail.taken.length === 4);
    await clockTo(stage, resolveWallTime('2031-06-17T21:00', zone));
    await until('the second slot is reminded', () => mail.taken.length === 5);
    await clockTo(stage, resolveWallTime('2031-06-18T21:00', zone));
    await until('the third slot is reminded', () => mail.taken.length === 6);
    await worker.stop();
    expect(mail.taken.slice(3).map(({ to }) => to.address)).toEqual([
      'new@people.example',
      'p1@people.example',
      'p2@people.example',
    ]);
  });

  it('takes them from further columns of the files people came from, list by list', async () => {
    const event = await publishedEvent(stage, { isPersonal: true });
    const file =
      'email,slot,where\np1@people.example,2031-06-18 20:00,West\np2@people.example,soon,East\nx@people.example,,\n';
    await bringCsv(stage.context, file, { listId: stage.list });
    const columns = { kind: 'fields', lists: [stage.list], start: 'slot', end: '', place: 'where', notes: '' } as const;
    const result = await takePersonal(stage.context, event, { ...columns, lists: [...columns.lists] }, actor);
    expect(result.saved).toBe(1);
    expect(result.problems.map(({ path, code }) => `${path} ${code}`)).toEqual(['p2@people.example, start bad-date']);
    const { rows } = await listGuests(stage.context, event, everybody);
    expect(rows.map(({ person, own }) => [person.email, own?.start, own?.place])).toEqual([
      ['p1@people.example', '2031-06-18T20:00', 'West'],
    ]);
  });

  it('moves one person’s own time when what they propose is accepted, and nobody else’s', async () => {
    const event = await publishedEvent(stage, { isPersonal: true });
    const text =
      'email,start,end,place\np1@people.example,2031-06-18 20:00,2031-06-18 20:30,West\np2@people.example,2031-06-18 21:00,2031-06-18 21:30,East\n';
    await takePersonal(stage.context, event, { kind: 'csv', text }, actor);
    await invite(stage, event, { lists: [] });
    const [entry] = (await deliver(stage)).filter(({ to }) => to.address === 'p1@people.example');
    const uid = /^UID:(.*)\r/m.exec(entry?.calendar?.text ?? '')?.[1];
    const lines = ['METHOD:COUNTER', 'BEGIN:VEVENT', `UID:${uid}`, 'SEQUENCE:0', 'DTSTAMP:20310611T100000Z'];
    const times = ['DTSTART;TZID=Europe/Lisbon:20310618T220000', 'DTEND;TZID=Europe/Lisbon:20310618T223000'];
    const calendar = [
      'BEGIN:VCALENDAR',
      ...lines,
      ...times,
      'ATTENDEE:mailto:p1@people.example',
      'END:VEVENT',
      'END:VCALENDAR',
      '',
    ];
    await receiveMail(stage.context, calendarMail(calendar.join('\r\n'), 'p1@people.example'));
    const [proposal] = await listProposals(stage.context, event);
    await answerProposal(stage.context, event, proposal?.id ?? 0, { accept: true, comment: '', basedOn: 1 }, actor);
    const starts = (await listGuests(stage.context, event, everybody)).rows.map(
      ({ own }) => `${own?.start} ${own?.place}`,
    );
    expect(starts).toEqual(['2031-06-18T22:00 West', '2031-06-18T21:00 East']);
    const { toTell, versions } = await countedChanges(stage, event);
    expect([toTell.email, versions.length]).toEqual([1, 1]);
  });
});
