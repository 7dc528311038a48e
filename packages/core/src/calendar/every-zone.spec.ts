import ICAL from 'ical.js';
import * as z from 'zod';
import { offsetMinutesAt, transitionsBetween } from '../time/zone';
import { zoneNames } from '../time/zone-names';
import { readComponents, type Component } from './read-components';
import { matchZone, vtimezoneOffsetAt } from './read-zone';
import { writeTimeZone } from './vtimezone';

// Every zone of the tz database as the runtime has it, with every change of offset from 2015 to 2037. Runs in Node only:
// a browser asked for four hundred zones takes minutes.
const fromMs = Date.UTC(2015, 0, 1);
const toMs = Date.UTC(2038, 0, 1);
const minuteMs = 60_000;
const change = z.object({
  year: z.number(),
  month: z.number(),
  day: z.number(),
  hour: z.number(),
  minute: z.number(),
  second: z.number(),
  utcOffset: z.number(),
});
const zones = zoneNames();

const wrap = (vtimezone: string): string => `BEGIN:VCALENDAR\r\n${vtimezone}END:VCALENDAR\r\n`;

function readOurs(vtimezone: string): Component {
  const read = readComponents(wrap(vtimezone));
  const component = read.ok ? read.value[0]?.components[0] : undefined;
  if (!component) throw new Error(`cannot read ${vtimezone}`);
  return component;
}

/**
 * What an independent library makes of it: the changes it works out, by instant. Its own `utcOffset` goes by local time,
 * which says two things in a repeated hour.
 */
function readIndependently(vtimezone: string, zone: string): (atMs: number) => number | undefined {
  const component = new ICAL.Component(ICAL.parse(wrap(vtimezone))).getFirstSubcomponent('vtimezone');
  if (!component) throw new Error('no VTIMEZONE');
  const timezone = new ICAL.Timezone({ component, tzid: zone });
  // Asking for one offset makes it work out all changes until then.
  timezone.utcOffset(ICAL.Time.fromDateTimeString('2038-06-01T00:00:00'));
  const changes = timezone.changes.map((one) => {
    const { year, month, day, hour, minute, second, utcOffset } = change.parse(one);
    return { atMs: Date.UTC(year, month - 1, day, hour, minute, second), minutes: utcOffset / 60 };
  });
  return (atMs) => changes.filter((one) => one.atMs <= atMs).at(-1)?.minutes ?? changes[0]?.minutes;
}

describe('the VTIMEZONE of an endless series, for every zone (RFC 5545 §3.6.5)', () => {
  it(`gives the tz database’s offset a minute each side of every change, 2015 to 2037, in ${zones.length} zones`, () => {
    const wrong: string[] = [];
    let checked = 0;
    for (const zone of zones) {
      const text = writeTimeZone(zone, fromMs, null);
      const ours = readOurs(text);
      const theirs = readIndependently(text, zone);
      const changes = transitionsBetween(zone, fromMs, toMs);
      for (const { atMs } of changes.length ? changes : [{ atMs: fromMs + 2 * minuteMs }]) {
        for (const near of [atMs - minuteMs, atMs + minuteMs]) {
          checked += 1;
          const expected = offsetMinutesAt(zone, near);
          if (vtimezoneOffsetAt(ours, near) !== expected) wrong.push(`ours ${zone} ${new Date(near).toISOString()}`);
          if (theirs(near) !== expected) wrong.push(`theirs ${zone} ${new Date(near).toISOString()}`);
        }
      }
    }
    expect(wrong).toEqual([]);
    expect(checked).toBeGreaterThan(6000);
  }, 240_000);

  it('is small where the zone has rules, and listed where it has none', () => {
    const lisbon = writeTimeZone('Europe/Lisbon', Date.UTC(2026, 10, 27), null);
    expect(lisbon.match(/RRULE:.*/g)).toEqual([
      'RRULE:FREQ=YEARLY;BYMONTH=10;BYDAY=-1SU',
      'RRULE:FREQ=YEARLY;BYMONTH=3;BYDAY=-1SU',
    ]);
    const casablanca = writeTimeZone('Africa/Casablanca', Date.UTC(2026, 10, 27), null);
    expect([casablanca.includes('RRULE'), casablanca.includes('RDATE')]).toEqual([false, true]);
    expect(Math.max(...zones.map((zone) => writeTimeZone(zone, Date.UTC(2026, 0, 1), null).length))).toBeLessThan(1500);
  });

  it('is recognised by its rules when its name says nothing, as a zone with the same offsets', () => {
    const aroundMs = Date.UTC(2026, 5, 1);
    for (const zone of [
      'Europe/Lisbon',
      'America/New_York',
      'Australia/Lord_Howe',
      'Asia/Kolkata',
      'America/Santiago',
    ]) {
      const component = readOurs(writeTimeZone(zone, fromMs, null));
      const found = matchZone('Customized Time Zone 7', component, aroundMs);
      for (let month = -5; month < 12; month += 1) {
        const atMs = aroundMs + month * 30 * 86_400_000;
        expect(found && offsetMinutesAt(found, atMs))
          .withContext(zone)
          .toBe(offsetMinutesAt(zone, atMs));
      }
    }
    expect(matchZone('/vendor.example/20240101/Europe/Lisbon', undefined, aroundMs)).toBe('Europe/Lisbon');
    expect(matchZone('Middle of Nowhere', undefined, aroundMs)).toBeNull();
  });
});
