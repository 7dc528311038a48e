import ICAL from 'ical.js';
import { blankFacts, instantsOf, type EventFacts } from '../event/event';
import { findOccurrence, occurrencesBetween } from '../event/occurrences';
import { wallTimeAt } from '../time/wall-time';
import { joinCharacters } from './content-line';
import { readCalendarEvents, type ImportedEvent } from './read-events';
import { writeFeed } from './write-feed';
import { plainEntryText } from './write-event';

const calendar = (lines: readonly string[]): string =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//Somebody//Else//EN', ...lines, 'END:VCALENDAR', ''].join('\r\n');
const event = (lines: readonly string[], uid = 'u1@else.example'): string[] => [
  'BEGIN:VEVENT',
  `UID:${uid}`,
  'DTSTAMP:20260101T000000Z',
  'SUMMARY:Star night',
  ...lines,
  'END:VEVENT',
];
const readAll = (text: string) => {
  const read = readCalendarEvents(text, 'Europe/Lisbon');
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.value;
};
const readOne = (lines: readonly string[]): ImportedEvent => {
  const { events, problems } = readAll(calendar(event(lines)));
  if (!events[0]) throw new Error(JSON.stringify(problems));
  return events[0];
};
const spanOf = (lines: readonly string[]) => readOne(lines).facts.span;

describe('reading a foreign calendar', () => {
  it('reads ends as §3.6.1 says: by DTEND, by DURATION, or by what is left out', () => {
    const timed = (start: string, end: string) => ({ kind: 'timed', start, end }) as const;
    expect(spanOf(['DTSTART;TZID=Europe/Lisbon:20260605T203000', 'DURATION:PT1H30M'])).toEqual(
      timed('2026-06-05T20:30', '2026-06-05T22:00'),
    );
    expect(spanOf(['DTSTART:20260605T203000'])).toEqual(timed('2026-06-05T20:30', '2026-06-05T21:30'));
    expect(spanOf(['DTSTART;VALUE=DATE:20260605', 'DTEND;VALUE=DATE:20260608'])).toEqual({
      kind: 'all-day',
      firstDay: '2026-06-05',
      lastDay: '2026-06-07',
    });
    expect(spanOf(['DTSTART;VALUE=DATE:20260605'])).toEqual({
      kind: 'all-day',
      firstDay: '2026-06-05',
      lastDay: '2026-06-05',
    });
  });

  it('keeps an end in a zone of its own', () => {
    const { facts } = readOne([
      'DTSTART;TZID=Europe/Lisbon:20260605T203000',
      'DTEND;TZID=America/New_York:20260605T180000',
    ]);
    expect([facts.zone, facts.endZone, facts.span]).toEqual([
      'Europe/Lisbon',
      'America/New_York',
      { kind: 'timed', start: '2026-06-05T20:30', end: '2026-06-05T18:00' },
    ]);
  });

  it('knows a zone under another name by its rules, and by a long name’s end', () => {
    const zone = (offsets: [string, string], rules: [string, string], name = 'Our own time') => [
      'BEGIN:VTIMEZONE',
      `TZID:${name}`,
      'BEGIN:DAYLIGHT',
      'DTSTART:20070311T020000',
      `RRULE:${rules[0]}`,
      `TZOFFSETFROM:${offsets[1]}`,
      `TZOFFSETTO:${offsets[0]}`,
      'END:DAYLIGHT',
      'BEGIN:STANDARD',
      'DTSTART:20071104T020000',
      `RRULE:${rules[1]}`,
      `TZOFFSETFROM:${offsets[0]}`,
      `TZOFFSETTO:${offsets[1]}`,
      'END:STANDARD',
      'END:VTIMEZONE',
    ];
    const american = ['FREQ=YEARLY;BYMONTH=3;BYDAY=2SU', 'FREQ=YEARLY;BYMONTH=11;BYDAY=1SU'] as [string, string];
    const start = (name: string) => event([`DTSTART;TZID=${name}:20260710T190000`]);
    const zoneOf = (lines: string[]): string => readAll(calendar(lines)).events[0]?.facts.zone ?? '';
    expect(zoneOf([...zone(['-0400', '-0500'], american), ...start('Our own time')])).toBe('America/New_York');
    expect(zoneOf([...zone(['-0700', '-0800'], american), ...start('Our own time')])).toBe('America/Los_Angeles');
    expect(zoneOf(start('/vendor.example/20240101/Asia/Tokyo'))).toBe('Asia/Tokyo');
    const nowhere = readAll(calendar(start('Nowhere')));
    expect([nowhere.events.length, nowhere.problems[1]?.code, nowhere.problems[1]?.path]).toEqual([
      0,
      'unknown-zone',
      'line 8',
    ]);
  });

  it('reads a series with dates that were moved, called off, left out and added', () => {
    const { facts } = readAll(
      calendar([
        ...event([
          'DTSTART;TZID=Europe/Lisbon:20261002T203000',
          'DTEND;TZID=Europe/Lisbon:20261002T223000',
          'RRULE:FREQ=WEEKLY;COUNT=6',
          'EXDATE;TZID=Europe/Lisbon:20261016T203000',
          'RDATE;TZID=Europe/Lisbon:20261020T203000',
        ]),
        ...event(['RECURRENCE-ID:20261009T193000Z', 'DTSTART:20261010T193000Z', 'LOCATION:Dome 2']),
        ...event(['RECURRENCE-ID:20261023T193000Z', 'DTSTART:20261023T193000Z', 'STATUS:CANCELLED']),
      ]),
    ).events[0] as ImportedEvent;
    const dates = occurrencesBetween(facts, Date.UTC(2026, 9, 1), Date.UTC(2026, 10, 30)).map(
      ({ startMs, calledOff }) => `${wallTimeAt(startMs, 'Europe/Lisbon').slice(5)}${calledOff ? ' off' : ''}`,
    );
    expect(dates).toEqual([
      '10-02T20:30',
      '10-10T20:30',
      '10-16T20:30 off',
      '10-20T20:30',
      '10-23T20:30 off',
      '10-30T20:30',
      '11-06T20:30',
    ]);
    expect(findOccurrence(facts, '20261009T203000')?.facts.venue).toBe('Dome 2');
  });

  it('keeps a first date that its rule does not name, as all calendars do', () => {
    const { facts } = readOne(['DTSTART;TZID=Europe/Lisbon:20261001T203000', 'RRULE:FREQ=WEEKLY;BYDAY=FR;COUNT=3']);
    const days = occurrencesBetween(facts, Date.UTC(2026, 8, 1), Date.UTC(2027, 0, 1)).map(({ key }) =>
      key.slice(4, 8),
    );
    expect(days).toEqual(['1001', '1002', '1009']);
  });

  it('reads people, options and places', () => {
    const { facts, attendees, organizer, calledOff } = readOne([
      'DTSTART:20260605T203000Z',
      'ORGANIZER;CN="House; of stars":mailto:House@else.example',
      'ATTENDEE;CN=Ana;PARTSTAT=ACCEPTED:MAILTO:Ana@People.example',
      'ATTENDEE;PARTSTAT=X-MAYBE:mailto:be@people.example',
      'ATTENDEE:tel:+351900000000',
      'LOCATION:https://join.example/r1',
      'CLASS:CONFIDENTIAL',
      'TRANSP:TRANSPARENT',
      'COLOR:Teal',
      'CATEGORIES:moon\\, and eclipses,outdoors',
      'GEO:40.5;-7.25',
      'STATUS:CANCELLED',
      'BEGIN:VALARM',
      'ACTION:DISPLAY',
      'TRIGGER:-P1D',
      'END:VALARM',
    ]);
    expect(attendees).toEqual([
      { name: 'Ana', email: 'ana@people.example', state: 'accepted' },
      { name: '', email: 'be@people.example', state: 'needs-action' },
    ]);
    expect([organizer?.name, calledOff, facts.venue, facts.joinLink]).toEqual([
      'House; of stars',
      true,
      '',
      'https://join.example/r1',
    ]);
    expect(facts.entry).toEqual(
      jasmine.objectContaining({
        isPrivate: true,
        isBusy: false,
        colour: 'teal',
        categories: ['moon, and eclipses', 'outdoors'],
        position: { latitude: 40.5, longitude: -7.25 },
        alarmsMinutes: [1440],
      }),
    );
  });

  it('names by its line what it does not understand, and takes an event whole or not at all', () => {
    const found = readAll(
      calendar([
        ...event(['DTSTART:20260605T203000Z']),
        ...event(['DTSTART:20260631T203000Z'], 'u2'),
        ...event(['DTSTART:20260605T203000Z', 'RRULE:FREQ=WEEKLY;BYDAY=XX'], 'u3'),
        ...event([], 'u4'),
        'BEGIN:VTODO',
        'SUMMARY:Buy bulbs',
        'END:VTODO',
      ]),
    );
    expect(found.events.map(({ uid }) => uid)).toEqual(['u1@else.example']);
    expect(found.problems.map(({ path, code }) => `${path} ${code}`)).toEqual([
      'line 28 calendar-not-taken',
      'line 10 event-left-out',
      'line 14 calendar-bad-value',
      'line 16 event-left-out',
      'line 21 bad-rule',
      'line 23 event-left-out',
      'line 23 calendar-missing',
    ]);
    expect(found.problems[1]?.facts).toEqual({ title: 'Star night' });
  });

  it('takes the newest of several with one UID, also from several calendars in a file (RFC 5546 §2.1.5)', () => {
    const version = (sequence: number, hour: number) =>
      event([`SEQUENCE:${sequence}`, `DTSTART:20260605T${hour}0000Z`, 'RRULE:FREQ=DAILY;COUNT=2']);
    const found = readAll(
      calendar([...version(1, 19), ...version(2, 20)]) +
        calendar(version(0, 18)) +
        calendar([
          ...event(['RECURRENCE-ID:20260606T200000Z', 'DTSTART:20260606T210000Z']),
          ...event(['RECURRENCE-ID:20260606T200000Z', 'SEQUENCE:1', 'DTSTART:20260606T220000Z']),
        ]),
    );
    const [only, ...others] = found.events;
    expect([others, only?.facts.span]).toEqual([
      [],
      { kind: 'timed', start: '2026-06-05T20:00', end: '2026-06-05T21:00' },
    ]);
    expect(only?.facts.series?.exceptions.map(({ at, span }) => [at, span?.kind === 'timed' && span.start])).toEqual([
      ['2026-06-06T20:00', '2026-06-06T22:00'],
    ]);
    expect(found.problems.map(({ path, code }) => `${path} ${code}`)).toEqual([
      'line 4 event-older',
      'line 24 event-older',
      'line 36 event-older',
    ]);
  });

  it('tells events without a UID, and dates without their series, from each other', () => {
    const bare = (title: string) =>
      event([`DTSTART:20260605T200000Z`]).map((line) => line.replace('Star night', title));
    const dates = ['05', '12'].flatMap((day) =>
      event([`RECURRENCE-ID:202606${day}T200000Z`, `DTSTART:202606${day}T210000Z`]),
    );
    const { events } = readAll(
      calendar([...bare('A'), ...bare('B'), ...dates].filter((line) => line !== 'UID:u1@else.example')),
    );
    expect(new Set(events.map(({ uid }) => uid)).size).toBe(4);
  });

  it('keeps instants: an hour that comes twice, and dates that are moved in another zone', () => {
    const instants = (lines: readonly string[]) => {
      const { facts } = readOne(lines);
      const { startMs, endMs } = instantsOf(facts);
      return [startMs, endMs].map((ms) => new Date(ms).toISOString().slice(0, 16));
    };
    expect(instants(['DTSTART:20261025T013000Z', 'DTEND:20261025T014500Z'])).toEqual([
      '2026-10-25T01:30',
      '2026-10-25T01:45',
    ]);
    // A day is a calendar day, 25 hours long that night; 24 hours are 24 hours (§3.3.6).
    const evening = 'DTSTART;TZID=Europe/Lisbon:20261024T200000';
    expect(instants([evening, 'DURATION:P1D'])[1]).toBe('2026-10-25T20:00');
    expect(instants([evening, 'DURATION:P1DT30M'])[1]).toBe('2026-10-25T20:30');
    expect(instants([evening, 'DURATION:PT24H'])[1]).toBe('2026-10-25T19:00');
    expect(instants(['DTSTART;TZID=Europe/Lisbon:20261020T200000', 'DURATION:P1W'])[1]).toBe('2026-10-27T20:00');

    const series = event([
      'DTSTART;TZID=Europe/Berlin:20260601T190000',
      'DTEND;TZID=Europe/Berlin:20260601T200000',
      'RRULE:FREQ=WEEKLY',
    ]);
    const moved = (start: string, end: string) =>
      event(['RECURRENCE-ID;TZID=Europe/Berlin:20260608T190000', start, end]);
    for (const [start, end, startMs, endMs] of [
      [
        'DTSTART;TZID=Asia/Tokyo:20260608T210000',
        'DTEND;TZID=Asia/Tokyo:20260608T220000',
        Date.UTC(2026, 5, 8, 12),
        Date.UTC(2026, 5, 8, 13),
      ],
      [
        'DTSTART;TZID=America/Los_Angeles:20260608T210000',
        'DTEND;TZID=America/Los_Angeles:20260608T220000',
        Date.UTC(2026, 5, 9, 4),
        Date.UTC(2026, 5, 9, 5),
      ],
    ] as const) {
      const { events } = readAll(calendar([...series, ...moved(start, end)]));
      const date = events[0] && findOccurrence(events[0].facts, '20260608T190000');
      expect([date?.startMs, date?.endMs]).withContext(start).toEqual([startMs, endMs]);
    }
  });

  it('reads what writers in the field do with the standard’s smaller rules', () => {
    // §3.8.3.1: TZID is TEXT, with its escapes; the parameter that names it has none.
    const named = [
      'BEGIN:VTIMEZONE',
      'TZID:Lisbon\\, Porto\\; the north',
      'BEGIN:STANDARD',
      'DTSTART:19700101T000000',
      'TZOFFSETFROM:+0545',
      'TZOFFSETTO:+0545',
      'END:STANDARD',
      'END:VTIMEZONE',
    ];
    const inZone = readAll(calendar([...named, ...event(['DTSTART;TZID="Lisbon, Porto; the north":20260601T190000'])]));
    expect(inZone.events[0]?.facts.zone).toBe('Asia/Kathmandu');
    expect(readOne(['DTSTART;TZID=GMT:20260601T190000']).facts.zone).toBe('UTC');
    expect(readOne(['DTSTART;TZID=US/Eastern:20260601T190000']).facts.zone).toBe('America/New_York');
    // §3.3.10: of an all-day series only the day of an UNTIL can be meant.
    const days = readOne(['DTSTART;VALUE=DATE:20260608', 'RRULE:FREQ=DAILY;UNTIL=20260610T000000Z']).facts;
    expect(occurrencesBetween(days, Date.UTC(2026, 4, 1), Date.UTC(2026, 6, 1)).length).toBe(3);
    // §3.8.1.2: CATEGORIES may come again; §3.3.11: an escaped backslash does not escape the comma behind it.
    const { entry } = readOne(['DTSTART:20260601T190000Z', 'CATEGORIES:a\\\\,b\\,c', 'CATEGORIES:d,a\\\\']).facts;
    expect(entry.categories).toEqual(['a\\', 'b,c', 'd']);
    // §3.2.14: values of parameters may be in any case.
    const alarm = ['BEGIN:VALARM', 'ACTION:DISPLAY', 'TRIGGER;RELATED=end:-PT5M', 'END:VALARM'];
    const late = readAll(calendar(event(['DTSTART:20260601T190000Z', ...alarm])));
    expect([late.events[0]?.facts.entry.alarmsMinutes, late.problems.map(({ code }) => code)]).toEqual([
      [],
      ['calendar-not-taken'],
    ]);
    // §3.8.5.2: a date that is given as a period has a length of its own.
    const periods = readOne([
      'DTSTART;TZID=Europe/Lisbon:20260601T190000',
      'DTEND;TZID=Europe/Lisbon:20260601T200000',
      'RDATE;TZID=Europe/Lisbon;VALUE=PERIOD:20260602T190000/PT3H,20260603T190000/20260603T203000,20260604T190000/PT1H',
    ]).facts;
    const lengths = occurrencesBetween(periods, Date.UTC(2026, 4, 1), Date.UTC(2026, 6, 1)).map(
      ({ startMs, endMs }) => (endMs - startMs) / 60_000,
    );
    expect(lengths).toEqual([60, 180, 90, 60]);
    expect(periods.series?.exceptions.length).toBe(2);
  });

  it('puts characters together that were folded apart by a writer that counts octets (§3.1)', () => {
    const line = new TextEncoder().encode(calendar(event(['DTSTART:20260601T190000Z', 'LOCATION:Café 🌒 já'])));
    const octets = [...line];
    const isFirstOfMany = (octet = 0): boolean => octet >= 0xc0;
    for (let at = octets.length - 1; at > 0; at -= 1)
      if (isFirstOfMany(octets[at - 1])) octets.splice(at, 0, 13, 10, 32);
    const text = new TextDecoder('utf-8', { fatal: true }).decode(joinCharacters(new Uint8Array(octets)));
    expect(readAll(text).events[0]?.facts.venue).toBe('Café 🌒 já');
    expect(joinCharacters(line)).toBe(line);
  });

  it('names the first problems, and says how many more there are', () => {
    const { events, problems } = readAll(calendar(Array.from({ length: 250 }, () => event(['DTSTART:never'])).flat()));
    expect(events).toEqual([]);
    expect([problems.length, problems.at(-1)?.code, problems.at(-1)?.facts]).toEqual([
      201,
      'calendar-more-problems',
      { count: jasmine.any(Number) as unknown as number },
    ]);
  });

  for (const [what, text] of [
    ['a page', '<!doctype html><title>Not found</title>'],
    ['half a calendar', 'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:u\r\n'],
    ['UTF-16', '\uFFFDB\u0000E\u0000G\u0000I\u0000N\u0000'],
  ] as const)
    it(`says what is wrong with ${what}`, () => {
      const read = readCalendarEvents(text, 'Europe/Lisbon');
      expect(read.ok).toBeFalse();
    });
});

describe('a feed', () => {
  const facts: EventFacts = {
    ...blankFacts,
    title: 'Star night',
    zone: 'Europe/Lisbon',
    span: { kind: 'timed', start: '2026-10-02T20:30', end: '2026-10-02T22:30' },
    series: {
      rule: 'FREQ=WEEKLY',
      added: [],
      exceptions: [
        {
          at: '2026-10-09T20:30',
          calledOff: true,
          span: null,
          title: null,
          description: null,
          venue: null,
          joinLink: null,
        },
      ],
    },
  };
  const source = (uid: string, calledOff: boolean) => ({
    uid,
    version: { number: 1, sequence: 0, facts, calledOff },
    organizer: { name: 'House', email: 'house@spec.example' },
    url: 'https://convite.example/e/1',
    stampMs: Date.UTC(2026, 8, 1),
    textOf: plainEntryText,
    isTextPersonal: false,
    guests: [],
  });

  it('keeps what was called off, as CANCELLED, and says how often to look (RFC 7986 §5.7)', () => {
    const text = writeFeed({
      name: 'Moon; stars',
      url: 'https://convite.example/feeds/topic/moon.ics',
      colour: 'teal',
      refreshMinutes: 60,
      entries: [
        { source: source('a@x', false), reader: null },
        { source: source('b@x', true), reader: null },
      ],
    });
    const feed = new ICAL.Component(ICAL.parse(text));
    const states = feed
      .getAllSubcomponents('vevent')
      .map((one) =>
        ['uid', 'recurrence-id', 'status'].map((name) => String(one.getFirstPropertyValue(name) ?? '')).join(' '),
      );
    expect(states).toContain('a@x  CONFIRMED');
    // A date that is off is left out, which every reader knows.
    expect(text.replace(/\r\n /g, '')).toMatch(/EXDATE;TZID=[^:]+:20261009T203000/);
    expect(states).toContain('b@x  CANCELLED');
    expect(feed.getAllSubcomponents('vtimezone').length).toBe(1);
    // The library does not know NAME (RFC 7986 §5.1) and shows it as it is written.
    expect([feed.getFirstPropertyValue('name'), String(feed.getFirstPropertyValue('refresh-interval'))]).toEqual([
      'Moon\\; stars',
      'PT60M',
    ]);
    expect(text).not.toContain('ATTENDEE');
  });
});
