import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { WatchFields } from '@convite/contract';
import { resolveWallTime, plainDocument } from '@convite/core';
import { fetchCalendar } from '../../net/fetch-calendar';
import { isInside } from '../../net/guarded-get';
import type { EmailMessage, TextMessage } from '../../mail/message';
import {
  actor,
  clockTo,
  openStage,
  publishedEvent,
  scriptedEnd,
  specSettings,
  untilSettled,
  workOn,
  type Stage,
} from '../../testing/stage';
import { saveCue } from '../countdown/cues';
import { importCalendar, lookIntoCalendar, type ImportOptions } from './import-calendar';
import { listGuests } from '../sending/invite';
import { getEvent } from '../events/get-event';
import { listEvents } from '../events/list-events';
import { replyByPage } from '../replies/reply-by-page';
import { listWatches, lookAtNext, saveWatch } from './watch-calendars';

const file = (...events: string[][]): string =>
  [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Somebody//Else//EN',
    ...events.flatMap((lines) => ['BEGIN:VEVENT', 'DTSTAMP:20310101T000000Z', ...lines, 'END:VEVENT']),
    'END:VCALENDAR',
    '',
  ].join('\r\n');
const talk = (start = '20310618T193000Z', more: string[] = []): string[] => [
  'UID:talk@else.example',
  'SUMMARY:Talk on Saturn',
  `DTSTART:${start}`,
  ...more,
];
const walk = [
  'UID:walk@else.example',
  'SUMMARY:Night walk',
  'DTSTART:20310619T193000Z',
  'DESCRIPTION:Booked by Ana\\, ana@people.example\\, +351 912 345 678',
];
const octetsOf = (text: string) => new TextEncoder().encode(text);
const plain: ImportOptions = {
  leaveOut: new Set(),
  takeGuests: true,
  publish: true,
  watchId: 0,
  search: '',
  people: null,
  cuesOfEvent: null,
};

const coming = async ({ context }: Stage) => (await listEvents(context, { when: 'coming', search: '', after: 0 })).rows;

describe('calendars from elsewhere', () => {
  let stage: Stage;
  beforeEach(async () => {
    stage = await openStage();
    await clockTo(stage, resolveWallTime('2031-06-10T12:00', 'Europe/Lisbon'));
  });
  afterEach(() => stage.close());
  const take = (text: string, over: Partial<ImportOptions> = {}) =>
    importCalendar(stage.context, octetsOf(text), { ...plain, ...over }, actor);
  const titles = async (): Promise<string[]> => (await coming(stage)).map(({ title }) => title).sort();

  it('are looked into before anything is stored, and taken once: again is “as before”, a change is a version', async () => {
    const guests = ['ATTENDEE;CN=Ana;PARTSTAT=ACCEPTED:mailto:ana@people.example', 'ATTENDEE:mailto:be@people.example'];
    const text = file(talk('20310618T193000Z', guests), walk, ['UID:bad@else.example', 'DTSTART:nonsense']);
    const found = await lookIntoCalendar(stage.context, octetsOf(text));
    expect([
      found.total,
      found.events.map(({ attendees }) => attendees),
      found.problems.map(({ code }) => code),
    ]).toEqual([2, [2, 0], ['event-left-out', 'calendar-bad-value']]);
    expect(await titles()).toEqual([]);

    const first = await take(text);
    expect([first.added, first.guests, first.problems[0]?.path]).toEqual([2, 2, jasmine.stringMatching(/^line \d+$/)]);
    expect(await take(text)).toEqual(jasmine.objectContaining({ added: 0, changed: 0, same: 2, guests: 0 }));
    expect((await take(file(talk('20310618T203000Z', guests), walk))).changed).toBe(1);
    expect(await titles()).toEqual(['Night walk', 'Talk on Saturn']);
    const known = await lookIntoCalendar(stage.context, octetsOf(text));
    const event = await getEvent(stage.context, known.events[0]?.knownAs ?? 0);
    expect([event.version.number, event.version.sequence]).toEqual([2, 1]);
    const { rows } = await listGuests(stage.context, event.id, { occurrence: '', search: '', after: '', limit: 9 });
    expect(rows.map(({ person, reply }) => `${person.email} ${reply}`).sort()).toEqual([
      'ana@people.example accepted',
      'be@people.example needs-action',
    ]);
  });

  it('that change elsewhere keep what was answered to their dates here, whether dates move or fall off', async () => {
    const weekly = (start: string) => file(talk(start, ['RRULE:FREQ=WEEKLY', 'ATTENDEE:mailto:ana@people.example']));
    const datesOf = async () => {
      const found = await lookIntoCalendar(stage.context, octetsOf(weekly('20310618T193000Z')));
      const id = found.events[0]?.knownAs ?? 0;
      const [person] = (await stage.context.store.subscribers.page({ search: 'ana@', after: 0, limit: 1 })).rows;
      return { id, person: person?.id ?? 0, answers: await stage.context.store.dates.answersOf(id, person?.id ?? 0) };
    };
    await take(weekly('20310618T193000Z'));
    const { id, person } = await datesOf();
    const answer = { occurrence: '20310702T193000', state: 'declined', comment: '' } as const;
    await replyByPage(stage.context, { eventId: id, subscriberId: person }, answer);
    await take(weekly('20310625T193000Z'));
    expect([...(await datesOf()).answers.dates]).toEqual([['20310702T193000', 'declined']]);
    await take(weekly('20310625T203000Z'));
    expect([...(await datesOf()).answers.dates]).toEqual([['20310702T203000', 'declined']]);
    const called = file(talk('20310625T203000Z', ['RRULE:FREQ=WEEKLY', 'STATUS:CANCELLED']));
    await take(called);
    expect((await getEvent(stage.context, id)).status).toBe('called-off');
    await take(weekly('20310625T203000Z'));
    expect((await getEvent(stage.context, id)).status).toBe('draft');
  });

  it('come in without what is left out; stopped half way, nothing was taken', async () => {
    const text = file(talk(), walk);
    const stop = new AbortController();
    stop.abort();
    await expectAsync(importCalendar(stage.context, octetsOf(text), plain, actor, stop.signal)).toBeRejected();
    expect(await titles()).toEqual([]);
    const [left] = (await lookIntoCalendar(stage.context, octetsOf(text))).events;
    expect((await take(text, { leaveOut: new Set([left?.line ?? 0]) })).added).toBe(1);
    expect(await titles()).not.toContain(left?.facts.title ?? '');
  });

  it('come in whole or not at all: when the database gives up half way, nothing was taken', async () => {
    const many = file(
      ...Array.from({ length: 30 }, (_, n) => [`UID:n${n}`, `SUMMARY:Night ${n}`, 'DTSTART:20310618T193000Z']),
    );
    await stage.db.raw(
      "create trigger half before insert on event for each row if (select count(*) from event) >= 15 then signal sqlstate '45000' set message_text = 'full'; end if",
    );
    await expectAsync(take(many)).toBeRejected();
    expect(await titles()).toEqual([]);
    await stage.db.raw('drop trigger half');
    expect((await take(many)).added).toBe(30);
  });

  it('that cannot be read at all say where', async () => {
    for (const text of ['<html>', 'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n'])
      await expectAsync(take(text)).toBeRejectedWith(jasmine.objectContaining({ status: 422 }));
    const latin = new Uint8Array(Buffer.from(file(talk()).replace('Saturn', 'Caf\xe9'), 'latin1'));
    const read = await stage.context.calendars.read(latin, 'Europe/Lisbon');
    expect(!read.ok && read.problems[0]?.code).toBe('calendar-not-utf8');
  });

  it('give people found in a description as guests, with the cues of another event', async () => {
    const pattern = await publishedEvent(stage, { title: 'Pattern' });
    const moment = {
      kind: 'relative',
      amount: 1,
      unit: 'days',
      direction: 'before',
      anchor: 'start',
      at: '10:00',
    } as const;
    await saveCue(
      stage.context,
      pattern,
      null,
      {
        name: 'Tomorrow',
        channel: 'text',
        moment,
        isDraft: false,
        audience: { invitees: ['needs-action'], lists: [], exceptLists: [], exceptReplies: [], topics: null },
        wording: plainDocument('', 'Tomorrow: {{event.title}}'),
      },
      actor,
    );
    const result = await take(file(talk(), walk), {
      search: 'booked',
      people: { textConsent: true },
      cuesOfEvent: pattern,
    });
    expect([result.added, result.guests]).toEqual([1, 1]);
    const found = await lookIntoCalendar(stage.context, octetsOf(file(walk)));
    const id = found.events[0]?.knownAs ?? 0;
    expect((await stage.context.store.firings.ofEvent(id)).map(({ state, channel }) => `${state} ${channel}`)).toEqual([
      'set text',
    ]);
    const [person] = (await stage.context.store.subscribers.page({ search: 'ana@', after: 0, limit: 2 })).rows;
    expect([person?.mobile, person?.textConsent]).toEqual(['+351912345678', true]);
  });
});

describe('a watched calendar', () => {
  let stage: Stage;
  let server: Server;
  let answer: (request: IncomingMessage, response: ServerResponse) => void;
  const asked: (string | undefined)[] = [];
  let port = 0;
  const open = { etag: '', lastModified: '', allowPrivate: true };

  beforeEach(async () => {
    stage = await openStage();
    asked.length = 0;
    server = createServer((request, response) => {
      asked.push(request.headers['if-none-match']);
      answer(request, response);
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const address = server.address();
    port = typeof address === 'object' && address ? address.port : 0;
  });
  afterEach(async () => {
    server.closeAllConnections();
    server.close();
    await stage.close();
  });
  const watch = (over: Partial<WatchFields> = {}): WatchFields => ({
    name: 'The club',
    url: `http://127.0.0.1:${port}/club.ics`,
    search: '',
    everyMinutes: 60,
    takesPeople: false,
    textConsent: false,
    cuesOfEvent: null,
    publish: true,
    isOn: true,
    ...over,
  });
  const state = async () => (await listWatches(stage.context))[0];
  const later = () => clockTo(stage, stage.clock.now() + 61 * 60_000);

  it('is asked by conditional GET (RFC 9110 §13.1.2), and keeps up what it said when it fails', async () => {
    await stage.context.store.house.saveSettings({ ...specSettings, allowPrivateAddresses: true });
    let text = file(talk());
    answer = (request, response) => {
      const etag = `"${text.length}"`;
      if (request.headers['if-none-match'] === etag) response.writeHead(304).end();
      else response.writeHead(200, { 'content-type': 'text/calendar', etag }).end(text);
    };
    await saveWatch(stage.context, null, watch(), actor);
    expect([await lookAtNext(stage.context), await lookAtNext(stage.context)]).toEqual([true, false]);
    expect((await state())?.outcome).toBe('1 new, 0 changed, 0 as before, 0 guests.');
    await later();
    await lookAtNext(stage.context);
    expect([asked.at(-1), (await state())?.outcome]).toEqual([`"${text.length}"`, 'Nothing changed there.']);

    text = file(talk('20310618T203000Z', ['LOCATION:Dome 2']));
    await later();
    await lookAtNext(stage.context);
    expect((await state())?.outcome).toBe('0 new, 1 changed, 0 as before, 0 guests.');

    // Something that is no calendar leaves the events alone, and is asked for again whole.
    const goodTag = `"${text.length}"`;
    text = '<h1>Sorry</h1>';
    await later();
    await lookAtNext(stage.context);
    expect([(await state())?.isFailing, (await coming(stage)).length]).toEqual([true, 1]);
    text = file(talk('20310618T203000Z', ['LOCATION:Dome 2', 'STATUS:CANCELLED']));
    await later();
    await lookAtNext(stage.context);
    expect([asked.at(-1), (await state())?.isFailing]).toEqual([goodTag, false]);
    expect((await coming(stage))[0]?.status).toBe('called-off');
  });

  it('from an entry to a text before it: numbers of any range, consent said later, what was not taken, what is gone', async () => {
    await stage.context.store.house.saveSettings({ ...specSettings, allowPrivateAddresses: true });
    await clockTo(stage, resolveWallTime('2031-06-10T12:00', 'Europe/Lisbon'));
    const pattern = await publishedEvent(stage, { title: 'Pattern' });
    const twoHours = {
      kind: 'relative',
      amount: 2,
      unit: 'hours',
      direction: 'before',
      anchor: 'start',
      at: null,
    } as const;
    const audience = {
      invitees: ['needs-action' as const],
      lists: [],
      exceptLists: [],
      exceptReplies: [],
      topics: null,
    };
    const wording = plainDocument('', 'Soon: {{event.title}}');
    const cue = { name: 'Two hours', channel: 'text' as const, moment: twoHours, isDraft: false, audience, wording };
    await saveCue(stage.context, pattern, null, cue, actor);
    const booked = (id: number, said: string): string[] => [
      `UID:slot${id}@else.example`,
      `SUMMARY:Slot ${id}`,
      `DTSTART:2031061${id}T190000Z`,
      `DESCRIPTION:${said}`,
    ];
    // The ranges are set aside for fiction (Ofcom): no table calls them assigned. The house is in GB.
    let entries = [
      booked(1, 'Ana +44 7700 900851'),
      booked(2, 'Ben 07700 900853\\, order 1234567890'),
      booked(3, 'Cy 07700 9008512345'),
    ];
    answer = (_, response) => response.writeHead(200).end(file(...entries));
    const fields = watch({ takesPeople: true, cuesOfEvent: pattern });
    await saveWatch(stage.context, null, fields, actor);
    await lookAtNext(stage.context);
    expect((await state())?.outcome).toMatch(/^3 new, 0 changed, 0 as before, 2 guests\..*07700 9008512345/);
    const texts = async (day: number): Promise<string[]> => {
      await clockTo(stage, Date.UTC(2031, 5, day, 17, 0));
      const end = scriptedEnd<TextMessage>();
      const worker = await workOn(stage, { mail: scriptedEnd<EmailMessage>(), text: end });
      await untilSettled(stage);
      await worker.stop();
      return end.taken.map(({ to, text }) => `${to} ${text}`);
    };
    expect(await texts(11)).toEqual([]);

    // They agreed, and that is said later: it holds for what was read already.
    const [stored] = await listWatches(stage.context);
    await saveWatch(stage.context, stored?.id ?? 0, { ...fields, textConsent: true }, actor);
    await lookAtNext(stage.context);
    expect(await texts(12)).toEqual(['+447700900853 Soon: Slot 2']);

    entries = entries.slice(0, 2);
    await later();
    await lookAtNext(stage.context);
    expect((await state())?.outcome).toContain('1 are not in it any more');
  });

  it('does not look inside the house, by no disguise, unless an owner allows it', async () => {
    answer = (_, response) => response.writeHead(200).end(file(talk()));
    await saveWatch(stage.context, null, watch(), actor);
    await lookAtNext(stage.context);
    expect([(await state())?.isFailing, asked.length]).toEqual([true, 0]);
    expect((await state())?.outcome).toContain('inside this house’s own network');
    for (const host of ['localhost', '127.1', '0x7f000001', '[::1]', '[::ffff:127.0.0.1]', '0.0.0.0', '2130706433']) {
      const fetched = await fetchCalendar(`http://${host}:${port}/`, { ...open, allowPrivate: false });
      expect(fetched.kind).withContext(host).toBe('failed');
    }
    expect(asked.length).toBe(0);
    const inside = [
      '10.1.2.3',
      '172.16.0.1',
      '192.168.1.1',
      '169.254.169.254',
      '100.64.0.1',
      'fd00::1',
      'fe80::1',
      '::',
    ];
    expect(inside.filter((address) => !isInside(address))).toEqual([]);
    expect(['::ffff:10.0.0.1', '::ffff:a00:1', '64:ff9b::a00:1'].filter((address) => !isInside(address))).toEqual([]);
    expect(['93.184.215.14', '2606:2800:21f:cb07::1', '172.32.0.1'].filter(isInside)).toEqual([]);
  });

  const refusals: [string, string, (response: ServerResponse) => void][] = [
    ['an error', 'answered 503', (response) => response.writeHead(503).end()],
    ['a circle', 'too many times', (response) => response.writeHead(302, { location: '/' }).end()],
    [
      'another kind of address',
      'must begin with',
      (response) => response.writeHead(302, { location: 'file:///etc/passwd' }).end(),
    ],
    [
      'more than it takes',
      'larger than 10 MB',
      (response) => {
        const chunk = 'x'.repeat(1_000_000);
        const write = (): void => {
          if (!response.destroyed) response.write(chunk, () => setImmediate(write));
        };
        write();
      },
    ],
  ];
  for (const [what, words, respond] of refusals)
    it(`says so when it answers with ${what}`, async () => {
      answer = (_, response) => respond(response);
      const fetched = await fetchCalendar(`http://127.0.0.1:${port}/`, open);
      expect(fetched).toEqual({ kind: 'failed', reason: jasmine.stringContaining(words) as unknown as string });
    });
});
