import ICAL from 'ical.js';
import { transitionsBetween, offsetMinutesAt } from '../time/zone';
import { blankFacts, type EventFacts } from '../event/event';
import { writeTimeZone } from './vtimezone';
import { writeZones, zoneNeeds } from './write-event';

/** Zones with half-hour shifts, negative summer time, several changes a year, changes that stopped or moved a day. */
const unusualZones = [
  'Europe/Lisbon',
  'Europe/Dublin',
  'America/New_York',
  'America/Los_Angeles',
  'America/St_Johns',
  'America/Sao_Paulo',
  'America/Caracas',
  'America/Havana',
  'America/Argentina/San_Luis',
  'Australia/Lord_Howe',
  'Australia/Adelaide',
  'Asia/Kathmandu',
  'Asia/Pyongyang',
  'Asia/Tehran',
  'Asia/Gaza',
  'Asia/Kolkata',
  'Asia/Colombo',
  'Africa/Casablanca',
  'Africa/Cairo',
  'Africa/Juba',
  'Europe/Istanbul',
  'Europe/Volgograd',
  'Pacific/Apia',
  'Pacific/Chatham',
  'Pacific/Marquesas',
  'Antarctica/Troll',
  'Atlantic/Azores',
  'America/Nuuk',
];
const minuteMs = 60_000;

/** Reads a VTIMEZONE with an independent library and asks it for the offset at an instant. */
function independentOffsetMinutes(vtimezone: string, zone: string, atMs: number): number {
  const calendar = new ICAL.Component(ICAL.parse(`BEGIN:VCALENDAR\r\n${vtimezone}END:VCALENDAR\r\n`));
  const component = calendar.getFirstSubcomponent('vtimezone');
  if (!component) throw new Error('no VTIMEZONE');
  const local = new Date(atMs + offsetMinutesAt(zone, atMs) * minuteMs);
  const time = ICAL.Time.fromDateTimeString(local.toISOString().slice(0, 19));
  return new ICAL.Timezone({ component, tzid: zone }).utcOffset(time) / 60;
}

describe('VTIMEZONE (RFC 5545 §3.6.5) against the tz database as the runtime has it', () => {
  for (const zone of unusualZones) {
    it(`${zone}: read back by an independent library, right around every change from 2000 to 2037`, () => {
      const from = Date.UTC(2000, 0, 1);
      const changes = transitionsBetween(zone, from, Date.UTC(2038, 0, 1));
      for (const { atMs, fromMinutes, toMinutes } of changes.length
        ? changes
        : [{ atMs: from, fromMinutes: 0, toMinutes: 0 }]) {
        const text = writeTimeZone(zone, atMs - 86_400_000, atMs + 86_400_000);
        // Far enough from the change that the local time is neither skipped nor repeated.
        const clearMs = (Math.abs(toMinutes - fromMinutes) + 1) * minuteMs;
        for (const instant of [atMs - clearMs, atMs + clearMs]) {
          const expected = offsetMinutesAt(zone, instant);
          expect(independentOffsetMinutes(text, zone, instant))
            .withContext(new Date(instant).toISOString())
            .toBe(expected);
        }
      }
    });
  }

  it('is true where a date was named from that was moved before the change (RFC 5545 §3.8.4.4)', () => {
    const moved = {
      at: '2026-11-01T20:30',
      calledOff: false,
      title: null,
      description: null,
      venue: null,
      joinLink: null,
    };
    const facts: EventFacts = {
      ...blankFacts,
      title: 'Three nights',
      zone: 'Europe/Lisbon',
      span: { kind: 'timed', start: '2026-10-18T20:30', end: '2026-10-18T22:00' },
      series: {
        rule: 'FREQ=WEEKLY;COUNT=3',
        added: [],
        exceptions: [{ ...moved, span: { kind: 'timed', start: '2026-10-20T20:30', end: '2026-10-20T22:00' } }],
      },
    };
    const early = {
      ...facts,
      series: { rule: 'FREQ=WEEKLY;COUNT=2', added: [], exceptions: facts.series?.exceptions ?? [] },
    };
    for (const named of [facts, early]) {
      const text = writeZones(zoneNeeds(named));
      expect(independentOffsetMinutes(text, 'Europe/Lisbon', Date.UTC(2026, 10, 1, 20, 30))).toBe(0);
    }
  });

  it('has rules also for what begins in 2033 or later, and the letters of the zone where it has some', () => {
    const late = writeTimeZone('Europe/Lisbon', Date.UTC(2035, 0, 10), null);
    expect(late.match(/RRULE:.*/g)?.length).toBe(2);
    expect(independentOffsetMinutes(late, 'Europe/Lisbon', Date.UTC(2044, 6, 1))).toBe(60);
    expect(
      late
        .match(/TZNAME:.*/g)
        ?.map((line) => line.trim())
        .sort(),
    ).toContain('TZNAME:WEST');
    const letters = (zone: string): string[] =>
      [...new Set(writeTimeZone(zone, Date.UTC(2026, 5, 1), Date.UTC(2027, 5, 1)).match(/TZNAME:.*/g))]
        .map((line) => line.slice(7).trim())
        .sort();
    expect(['Europe/Berlin', 'America/New_York', 'Australia/Sydney', 'Asia/Kathmandu'].map(letters)).toEqual([
      ['CEST', 'CET'],
      ['EDT', 'EST'],
      ['AEDT', 'AEST'],
      ['+0545'],
    ]);
  });

  it('carries one observance for an event without a change in it, two across one', () => {
    const count = (text: string): number => text.split('TZOFFSETTO').length - 1;
    expect(count(writeTimeZone('Europe/Lisbon', Date.UTC(2026, 5, 18, 18), Date.UTC(2026, 5, 18, 20)))).toBe(1);
    expect(count(writeTimeZone('Europe/Lisbon', Date.UTC(2026, 9, 24, 18), Date.UTC(2026, 9, 25, 6)))).toBe(2);
    expect(count(writeTimeZone('Etc/UTC', 0, 1))).toBe(1);
  });
});
