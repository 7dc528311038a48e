import { dueAt, sayMoment, type EventMoment } from '../countdown/moment';
import { blankFacts, type EventFacts } from '../event/event';
import { daysFrom, sumByDay } from './by-day';
import { oddityOf } from './gaps';
import { sayDistance, sayInstant } from './say';
import { isDay, isWallTime, readingAt, resolveWallTime, wallTimeAt } from './wall-time';
import { Temporal } from 'temporal-polyfill';
import { transitionsBetween } from './zone';
import { canonicalZone, isZone, zoneNames } from './zone-names';

const at = (start: string, end: string, zone: string): EventFacts => ({
  ...blankFacts,
  title: 't',
  zone,
  span: { kind: 'timed', start, end },
});
const before = (
  amount: number,
  unit: 'minutes' | 'hours' | 'days' | 'weeks',
  clock: string | null = null,
): EventMoment => ({
  kind: 'relative',
  amount,
  unit,
  direction: 'before',
  anchor: 'start',
  at: clock,
});
const due = (moment: EventMoment, facts: EventFacts): string => wallTimeAt(dueAt(moment, facts), facts.zone);

describe('moments (facts of the trade in PRODUCT.md: common practice)', () => {
  const june = at('2026-06-18T19:30', '2026-06-18T22:00', 'Europe/Lisbon');
  const table: [EventMoment, EventFacts, string][] = [
    [before(2, 'weeks'), june, '2026-06-04T19:30'],
    [before(3, 'days'), june, '2026-06-15T19:30'],
    [before(120, 'minutes'), june, '2026-06-18T17:30'],
    [before(3, 'days', '10:00'), at('2026-06-09T15:00', '2026-06-09T16:00', 'Europe/Lisbon'), '2026-06-06T10:00'],
    [{ kind: 'fixed', wall: '2026-06-01T09:00' }, june, '2026-06-01T09:00'],
    [
      { kind: 'relative', amount: 1, unit: 'days', direction: 'after', anchor: 'end', at: '11:00' },
      june,
      '2026-06-19T11:00',
    ],
    // Lisbon's clocks go back on 25 October 2026: a day keeps the clock time, 24 hours do not.
    [before(1, 'days'), at('2026-10-25T20:00', '2026-10-25T21:00', 'Europe/Lisbon'), '2026-10-24T20:00'],
    [before(24, 'hours'), at('2026-10-25T20:00', '2026-10-25T21:00', 'Europe/Lisbon'), '2026-10-24T21:00'],
  ];
  for (const [moment, facts, expected] of table) {
    it(`${sayMoment(moment)} of ${facts.span.kind === 'timed' ? facts.span.start : ''} is ${expected}`, () =>
      expect(due(moment, facts)).toBe(expected));
  }

  it('06:00 in Los Angeles is 09:00 in New York, 14:00 UTC in February', () => {
    const instant = resolveWallTime('2026-02-10T06:00', 'America/Los_Angeles');
    expect(wallTimeAt(instant, 'America/New_York')).toBe('2026-02-10T09:00');
    expect(wallTimeAt(instant, 'UTC')).toBe('2026-02-10T14:00');
  });
});

describe('clock changes (RFC 5545 §3.3.5)', () => {
  it('reads §3.3.5’s own example: 1:30 on 4 November 2007 in New York is the first, EDT', () => {
    expect(resolveWallTime('2007-11-04T01:30', 'America/New_York')).toBe(Date.UTC(2007, 10, 4, 5, 30));
  });
  it('tells the second coming of that reading from the first', () => {
    const second = Date.UTC(2007, 10, 4, 6, 30);
    expect(readingAt(second, 'America/New_York')).toEqual({ wall: '2007-11-04T01:30', isAgain: true });
    expect(readingAt(second - 3_600_000, 'America/New_York').isAgain).toBeFalse();
    expect(resolveWallTime('2007-11-04T01:30', 'America/New_York', true)).toBe(second);
    // Of a reading that comes once there is no second.
    expect(resolveWallTime('2007-11-04T02:30', 'America/New_York', true)).toBe(Date.UTC(2007, 10, 4, 7, 30));
    expect(sayInstant(second, 'America/New_York')).toContain('01:30 (after the clocks went back)');
  });
  it('reads §3.3.5’s own example: 2:30 on 11 March 2007 does not exist; it is 3:30 EDT', () => {
    expect(resolveWallTime('2007-03-11T02:30', 'America/New_York')).toBe(Date.UTC(2007, 2, 11, 7, 30));
  });
});

describe('wall time against the Temporal reference', () => {
  const zones = [
    'Europe/Lisbon',
    'America/New_York',
    'Australia/Lord_Howe',
    'Africa/Casablanca',
    'America/St_Johns',
    'Asia/Tehran',
    'UTC',
  ];
  for (const zone of [
    ...zones,
    'Pacific/Apia',
    'America/Caracas',
    'Antarctica/Troll',
    'Europe/Dublin',
    'Asia/Kathmandu',
  ])
    it(`${zone}: the same around every change of offset from 2005 to 2026, and between`, () => {
      const from = Date.UTC(2005, 0, 1);
      const changes = transitionsBetween(zone, from, Date.UTC(2026, 0, 1)).map(({ atMs }) => atMs);
      for (const atMs of [...changes, from, Date.UTC(2011, 11, 30, 12), Date.UTC(2016, 6, 1)])
        for (let minutes = -1800; minutes <= 1800; minutes += 15) {
          const instant = atMs + minutes * 60_000;
          const wall = Temporal.Instant.fromEpochMilliseconds(instant).toZonedDateTimeISO(zone).toPlainDateTime();
          expect(wallTimeAt(instant, zone)).toBe(wall.toString().slice(0, 16));
          // As a clock reading it may be skipped there, or come twice.
          const reading = new Date(instant).toISOString().slice(0, 16);
          const meant = Temporal.PlainDateTime.from(reading).toZonedDateTime(zone, { disambiguation: 'compatible' });
          expect(resolveWallTime(reading, zone)).withContext(reading).toBe(meant.epochMilliseconds);
        }
    });
});

describe('a clock reading that is odd', () => {
  for (const [wall, zone, odd] of [
    ['2026-03-29T00:59', 'Europe/Lisbon', null],
    ['2026-03-29T01:00', 'Europe/Lisbon', { kind: 'skipped', means: '2026-03-29T02:00' }],
    ['2026-03-29T01:59', 'Europe/Lisbon', { kind: 'skipped', means: '2026-03-29T02:59' }],
    ['2026-03-29T02:00', 'Europe/Lisbon', null],
    ['2026-10-25T00:59', 'Europe/Lisbon', null],
    ['2026-10-25T01:00', 'Europe/Lisbon', { kind: 'twice' }],
    ['2026-10-25T01:59', 'Europe/Lisbon', { kind: 'twice' }],
    ['2026-10-25T02:00', 'Europe/Lisbon', null],
    // Lord Howe Island puts its clocks back by half an hour (tz database).
    ['2026-04-05T01:29', 'Australia/Lord_Howe', null],
    ['2026-04-05T01:30', 'Australia/Lord_Howe', { kind: 'twice' }],
    // Samoa left this whole day out when it crossed the date line (tz database).
    ['2011-12-30T12:00', 'Pacific/Apia', { kind: 'skipped', means: '2011-12-31T12:00' }],
    ['2026-13-01T12:00', 'Europe/Lisbon', null],
    ['2026-03-29T01:30', 'Mars/Olympus', null],
  ] as const)
    it(`${wall} in ${zone} is ${odd?.kind ?? 'ordinary, or none'}`, () => expect(oddityOf(wall, zone)).toEqual(odd));
});

describe('what counts as a time', () => {
  it('refuses days and readings that do not exist', () => {
    expect(['2026-02-29', '2026-04-31', '0000-01-01', '2026-1-1', ''].filter(isDay)).toEqual([]);
    expect(['2026-02-28T24:00', '2026-02-28T23:60', '2026-02-30T10:00', '2026-02-28 10:00'].filter(isWallTime)).toEqual(
      [],
    );
    expect(isWallTime('2028-02-29T23:59')).toBeTrue();
  });
  it('knows zones by name only', () => {
    expect(['Europe/Lisbon', 'Asia/Kathmandu', 'UTC'].every(isZone)).toBeTrue();
    expect(['Lisbon', '+01:00', '', 'Mars/Olympus', '../etc/passwd'].some(isZone)).toBeFalse();
  });
  it('knows them by their names in the tz database, and old names for what they mean (its file “backward”)', () => {
    for (const [name, zone] of [
      ['Asia/Calcutta', 'Asia/Kolkata'],
      ['US/Eastern', 'America/New_York'],
      ['europe/lisbon', 'Europe/Lisbon'],
      ['America/Godthab', 'America/Nuuk'],
      ['GMT', 'UTC'],
      ['Etc/UTC', 'UTC'],
      ['EST5EDT', 'America/New_York'],
      ['Europe/Oslo', 'Europe/Oslo'],
      ['Etc/GMT-14', 'Etc/GMT-14'],
      ['PST', null],
      ['IST', null],
      ['SystemV/EST5', null],
      ['+01:00', null],
      ['Etc/GMT+13', null],
      ['constructor', null],
    ] as const) {
      expect(canonicalZone(name)).withContext(name).toBe(zone);
      expect(isZone(name))
        .withContext(name)
        .toBe(name === zone);
      // Whatever counts as a zone can be reckoned with.
      if (zone) expect(() => resolveWallTime('2026-06-18T19:30', zone)).not.toThrow();
    }
    expect(zoneNames().filter((name) => !isZone(name) || canonicalZone(name) !== name)).toEqual([]);
    expect(zoneNames()).toContain('Europe/Kyiv');
  });
  it('says them for people', () => {
    const start = resolveWallTime('2026-11-27T20:30', 'Europe/Lisbon');
    expect(sayInstant(start, 'Europe/Lisbon')).toBe('Fri 27 Nov 2026 20:30 Lisbon');
    expect(sayDistance(start - 2 * 86_400_000, start, 'Europe/Lisbon')).toBe('in 2 days');
    // From early on Tuesday to Friday evening are 3.7 times 24 hours, and three days to everybody.
    expect(sayDistance(resolveWallTime('2026-11-24T05:00', 'Europe/Lisbon'), start, 'Europe/Lisbon')).toBe('in 3 days');
    expect(sayDistance(start, start - 60 * 60_000, 'UTC')).toBe('60 minutes ago');
    expect(sayDistance(start, start + 70 * 604_800_000, 'UTC')).toBe('in 70 weeks');
    expect(sayDistance(start, start + 5 * 365.25 * 86_400_000, 'UTC')).toBe('in 5 years');
  });
});

describe('what falls on each day', () => {
  it('names each day once though clocks change in between, and sums by the calendar of the zone', () => {
    // Lisbon puts its clocks back on 25 October 2026: that day has 25 hours (IANA tz database).
    const from = resolveWallTime('2026-10-24T23:30', 'Europe/Lisbon');
    const days = daysFrom(from, 'Europe/Lisbon', 3);
    expect(days).toEqual(['2026-10-24', '2026-10-25', '2026-10-26']);
    const hour = 3_600_000;
    const parts = [0, 1, 24, 25, 26, 90].map((hours) => ({ atMs: from + hours * hour, value: 1 }));
    expect(sumByDay(days, 'Europe/Lisbon', parts).map(({ value }) => value)).toEqual([1, 3, 1]);
  });
});
