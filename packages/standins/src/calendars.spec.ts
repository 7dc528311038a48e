import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readCalendar } from './calendars';
import { writeAnswer } from './person-answer';
import { openMailStore, type MailStore } from './mail-store';

const calendar = (method: string, sequence: number, start: string): string =>
  [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//x//EN',
    `METHOD:${method}`,
    'BEGIN:VEVENT',
    'UID:e1@x.example',
    `SEQUENCE:${sequence}`,
    'DTSTAMP:20310101T000000Z',
    `DTSTART:${start}`,
    'DTEND:20310618T220000Z',
    'SUMMARY:Dome\\, night',
    'ORGANIZER:mailto:replies@x.example',
    'ATTENDEE:mailto:ana@x.example',
    'END:VEVENT',
    'END:VCALENDAR',
    '',
  ].join('\r\n');
const mail = (method: string, text: string): Buffer =>
  Buffer.from(
    [
      'From: a@x.example',
      'To: ana@x.example',
      `Subject: ${method}`,
      'MIME-Version: 1.0',
      `Content-Type: text/calendar; charset=UTF-8;\r\n method=${method}`,
      '',
      text,
    ].join('\r\n'),
  );

describe('the stand-in mailbox and its calendar', () => {
  let folder: string;
  let store: MailStore;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'standins-'));
    store = openMailStore(folder);
  });
  afterEach(() => rmSync(folder, { recursive: true }));

  const take = (method: string, sequence: number, start: string) =>
    store.add(mail(method, calendar(method, sequence, start)), 'b@x.example', ['Ana@x.example']);

  it('keeps one entry for a UID, the newest revision of it, whatever order they come in', async () => {
    await take('REQUEST', 1, '20310618T203000Z');
    await take('REQUEST', 0, '20310618T193000Z');
    expect(await readCalendar(store, 'ana@x.example')).toEqual([
      jasmine.objectContaining({
        title: 'Dome, night',
        start: '2031-06-18T20:30:00Z',
        sequence: 1,
        status: 'CONFIRMED',
      }),
    ]);
    await take('CANCEL', 2, '20310618T203000Z');
    expect((await readCalendar(store, 'ana@x.example')).map(({ status }) => status)).toEqual(['CANCELLED']);
  });

  it('remembers its mail over a restart', async () => {
    await take('REQUEST', 0, '20310618T193000Z');
    const again = openMailStore(folder);
    expect(again.mailboxes('ana').map(({ address, count }) => [address, count])).toEqual([['ana@x.example', 1]]);
    expect(again.messages('ana@x.example')[0]?.method).toBe('REQUEST');
    expect((await again.raw('m1')).toString()).toContain('UID:e1@x.example');
  });

  it('answers as a calendar would: same UID and SEQUENCE, its own attendee, the comment escaped', () => {
    const reply = writeAnswer(calendar('REQUEST', 3, '20310618T193000Z'), 'ana@x.example', {
      ...answer,
      state: 'tentative',
      comment: 'Late, sorry; 20:00',
    });
    expect(reply?.to).toBe('replies@x.example');
    for (const line of [
      'METHOD:REPLY',
      'UID:e1@x.example',
      'SEQUENCE:3',
      'DTSTAMP:19700101T000000Z',
      'ATTENDEE;PARTSTAT=TENTATIVE:mailto:ana@x.example',
      'COMMENT:Late\\, sorry\\; 20:00',
    ]) {
      expect(reply?.calendar).toContain(line);
    }
  });

  it('shows the dates of a series: one moved, one called off alone', async () => {
    const weekly = calendar('REQUEST', 0, '20310618T193000Z').replace(
      'SUMMARY',
      'RRULE:FREQ=WEEKLY;COUNT=4\r\nSUMMARY',
    );
    const [, event = ''] = /(BEGIN:VEVENT[\s\S]*END:VEVENT\r\n)/.exec(calendar('REQUEST', 0, '20310626T200000Z')) ?? [];
    const moved = event
      .replace('SUMMARY', 'RECURRENCE-ID:20310625T193000Z\r\nSUMMARY')
      .replace('DTEND:20310618', 'DTEND:20310626');
    await store.add(mail('REQUEST', weekly.replace('END:VCALENDAR', `${moved}END:VCALENDAR`)), 'b@x.example', [
      'ana@x.example',
    ]);
    const off = calendar('CANCEL', 1, '20310702T193000Z').replace(
      'SUMMARY',
      'RECURRENCE-ID:20310702T193000Z\r\nSUMMARY',
    );
    await store.add(mail('CANCEL', off), 'b@x.example', ['ana@x.example']);
    const [entry] = await readCalendar(store, 'ana@x.example');
    expect(entry?.status).toBe('CONFIRMED');
    expect(entry?.dates.map(({ at, status }) => `${at} ${status}`)).toEqual([
      '2031-06-18T19:30:00Z CONFIRMED',
      '2031-06-26T20:00:00Z CONFIRMED',
      '2031-07-02T19:30:00Z CANCELLED',
      '2031-07-09T19:30:00Z CONFIRMED',
    ]);
  });

  it('proposes another time for one date, passes the invitation on, and asks for the newest entry (RFC 5546 §3.2)', () => {
    const request = calendar('REQUEST', 3, '20310618T193000Z');
    const counter = writeAnswer(request, 'ana@x.example', {
      ...answer,
      state: 'counter',
      recurrence: '2031-06-25T19:30:00Z',
      shiftMinutes: 60,
    });
    for (const line of [
      'METHOD:COUNTER',
      'RECURRENCE-ID:20310625T193000Z',
      'DTSTART:20310625T203000Z',
      'DTEND:20310625T230000Z',
    ])
      expect(counter?.calendar).toContain(line);
    const passedOn = writeAnswer(request, 'ana@x.example', { ...answer, state: 'delegated', to: 'carlos@x.example' });
    expect(passedOn?.calendar.replace(/\r\n /g, '')).toContain(
      'PARTSTAT=DELEGATED;DELEGATED-TO="mailto:carlos@x.example":mailto:ana@x.example',
    );
    const refresh = writeAnswer(request, 'ana@x.example', { ...answer, state: 'refresh' });
    expect([refresh?.method, refresh?.calendar.includes('DTSTART')]).toEqual(['REFRESH', false]);
  });
});

const answer = { state: 'accepted', comment: '', recurrence: '', shiftMinutes: 0, to: '', now: new Date(0) };
