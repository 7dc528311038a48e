import { Temporal } from 'temporal-polyfill';
import { quietEndsMs, type QuietSpan } from './quiet-hours';
import { resolveWallTime, wallTimeAt } from './wall-time';
import { transitionsBetween } from './zone';
import { zoneNames } from './zone-names';

const night: QuietSpan = { from: '22:00', until: '08:00' };
const noon: QuietSpan = { from: '12:00', until: '14:00' };

describe('quiet hours', () => {
  const lisbon = (wall: string): number => resolveWallTime(wall, 'Europe/Lisbon');
  const rows: [string, QuietSpan, string, string | null][] = [
    ['a minute before they begin', night, '2031-06-10T21:59', null],
    ['as they begin', night, '2031-06-10T22:00', '2031-06-11T08:00'],
    ['after midnight', night, '2031-06-11T00:10', '2031-06-11T08:00'],
    ['the last minute', night, '2031-06-11T07:59', '2031-06-11T08:00'],
    ['as they end', night, '2031-06-11T08:00', null],
    ['within a day', noon, '2031-06-10T13:59', '2031-06-10T14:00'],
    ['around a day’s midday', noon, '2031-06-10T11:59', null],
    // The clock goes from 01:00 to 02:00 on 30 March 2031, and from 02:00 back to 01:00 on 26 October.
    ['a night in which clocks are put on', night, '2031-03-29T23:00', '2031-03-30T08:00'],
    ['an end that the clock leaps over', { from: '22:00', until: '01:30' }, '2031-03-29T23:00', '2031-03-30T02:00'],
    ['an end that comes twice: the first', { from: '22:00', until: '01:30' }, '2031-10-25T23:00', '2031-10-26T01:30'],
  ];
  for (const [what, span, wall, expected] of rows)
    it(`${what}`, () => {
      const end = quietEndsMs(span, 'Europe/Lisbon', lisbon(wall));
      expect(end && wallTimeAt(end, 'Europe/Lisbon')).toBe(expected);
    });

  it('begins again where the clock is put back into it, and ends there the second time', () => {
    const again = resolveWallTime('2031-10-26T01:10', 'Europe/Lisbon', true);
    expect(quietEndsMs({ from: '22:00', until: '01:30' }, 'Europe/Lisbon', again)).toBe(again + 20 * 60_000);
  });

  it('ends with the first minute outside, as another reading of each of 48 zones counts it minute by minute', () => {
    const all = zoneNames();
    const zones = all.filter((_, index) => index % Math.ceil(all.length / 48) === 0);
    expect(zones.length).toBeGreaterThan(40);
    const isQuiet = ({ from, until }: QuietSpan, zone: string, atMs: number): boolean => {
      const { hour, minute } = Temporal.Instant.fromEpochMilliseconds(atMs).toZonedDateTimeISO(zone);
      const [now, begin, end] = [hour * 60 + minute, asMinutes(from), asMinutes(until)];
      return begin <= end ? now >= begin && now < end : now >= begin || now < end;
    };
    for (const [index, zone] of zones.entries()) {
      const [change] = transitionsBetween(zone, Date.UTC(2031, 0, 1), Date.UTC(2032, 0, 1));
      const aroundMs = (change?.atMs ?? Date.UTC(2031, 5, 10)) - 3_600_000;
      for (const span of [{ from: '23:40', until: '02:20' }, { from: '00:15', until: '03:05' }, noon]) {
        const atMs = aroundMs + ((index * 37) % 90) * 60_000 + 30_000;
        let endMs: number | null = null;
        if (isQuiet(span, zone, atMs))
          for (endMs = atMs - (atMs % 60_000); isQuiet(span, zone, endMs);) endMs += 60_000;
        expect(quietEndsMs(span, zone, atMs))
          .withContext(`${zone} ${span.from} ${new Date(atMs).toISOString()}`)
          .toBe(endMs);
      }
    }
  });
});

const asMinutes = (clock: string): number => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));
