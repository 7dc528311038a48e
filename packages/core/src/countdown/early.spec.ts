import { resolveWallTime, wallTimeAt } from '../time/wall-time';
import { quietEndsMs } from '../time/quiet-hours';
import { zoneNames } from '../time/zone-names';
import { aheadOfQuietMs, earlyMs, withEarly } from './early';
import type { Moment } from './moment';
import { quietOf, type HouseQuiet } from './quiet';

describe('what goes before quiet hours', () => {
  const house: HouseQuiet = { from: '22:00', until: '08:00', channels: ['text'], manner: 'before' };
  const at = (wall: string, zone = 'Europe/Lisbon'): number => resolveWallTime(wall, zone);
  const before: Moment = {
    ...{ kind: 'relative', amount: 12, unit: 'hours', direction: 'before' },
    ...{ anchor: 'start', at: null },
  };
  const cue = { moment: before, channel: 'text' } as const;
  const dueMs = at('2031-06-18T07:30');

  const rows: [
    what: string,
    house: HouseQuiet | null,
    cue: { moment: Moment; channel: 'text' | 'email' },
    at: number | null,
  ][] = [
    ['what counts down', house, cue, at('2031-06-17T21:45')],
    ['an email, where only texts are held back', house, { ...cue, channel: 'email' }, null],
    ['what waits', { ...house, manner: 'wait' }, cue, null],
    ['what follows the event', house, { ...cue, moment: { ...before, direction: 'after' } }, null],
    [
      'a fixed moment, which has its reason',
      house,
      { ...cue, moment: { kind: 'fixed', wall: '2031-06-18T07:30' } },
      null,
    ],
    ['anything, where there is no time before it', { ...house, from: '08:10' }, cue, null],
    ['anything, without quiet hours', null, cue, null],
  ];
  for (const [what, quiet, one, expected] of rows)
    it(`${expected === null ? 'is not' : 'is'} ${what}`, () =>
      void expect(earlyMs(quiet, one, 'Europe/Lisbon', dueMs)).toBe(expected));

  it('has a moment of its own for each zone that is asleep, and the others theirs; too late for it, it waits', () => {
    const one = { slot: '', zone: '', dueMs, occurrence: null };
    const zones = ['Europe/Lisbon', 'Asia/Tokyo', 'America/New_York', 'Pacific/Auckland'];
    const moments = withEarly([one], house, cue, zones, ({ dueMs: early }) => early >= at('2031-06-17T22:00'));
    // Lisbon's is past by then; in Tokyo it is half past three, in Auckland half past six.
    expect(moments.map(({ zone, dueMs: due }) => [zone, due])).toEqual([
      ['', dueMs],
      ['America/New_York', at('2031-06-17T21:45', 'America/New_York')],
    ]);
    const byZone = [{ ...one, zone: 'Europe/Lisbon' }];
    expect(withEarly(byZone, house, cue, zones, () => true).map(({ dueMs: due }) => due)).toEqual([
      at('2031-06-17T21:45'),
    ]);
    expect(withEarly(byZone, house, cue, zones, () => false)).toEqual(byZone);
  });

  it('is never in them, and never later than it says, in 48 zones through days with clock changes', () => {
    // Common practice: quiet hours are read on each person's own clock. The oracle looks at the clock minute by minute.
    const zones = zoneNames()
      .filter((_, index) => index % Math.ceil(zoneNames().length / 48) === 0)
      .concat('Australia/Lord_Howe', 'Africa/Casablanca');
    expect(zones.length).toBeGreaterThanOrEqual(48);
    const isQuiet = (atMs: number, zone: string): boolean => {
      const clock = wallTimeAt(atMs, zone).slice(11);
      return clock >= '22:00' || clock < '08:00';
    };
    for (const zone of zones)
      for (const day of ['2027-03-28', '2027-04-04', '2027-10-31', '2027-11-07'])
        for (let half = 0; half < 48; half += 3) {
          const due = Date.parse(`${day}T00:00Z`) + half * 1_800_000;
          const ends = quietEndsMs(house, zone, due);
          expect(ends !== null)
            .withContext(`${zone} ${day} ${half}`)
            .toBe(isQuiet(due, zone));
          if (ends === null) continue;
          // Until they end there is not a minute that is not quiet, and then there is.
          for (let atMs = due; atMs < ends; atMs += 60_000)
            if (!isQuiet(atMs, zone)) fail(`${zone}: ${wallTimeAt(atMs, zone)} is not quiet`);
          if (isQuiet(ends, zone)) fail(`${zone}: it is still quiet at ${wallTimeAt(ends, zone)}`);
          const early = earlyMs(house, cue, zone, due) ?? NaN;
          expect(early).toBeLessThan(due);
          for (let atMs = early; atMs < early + aheadOfQuietMs; atMs += 60_000)
            if (isQuiet(atMs, zone)) fail(`${zone}: ${wallTimeAt(atMs, zone)} is quiet already`);
          for (let atMs = early + aheadOfQuietMs; atMs < due; atMs += 60_000)
            if (!isQuiet(atMs, zone)) fail(`${zone}: ${wallTimeAt(atMs, zone)} is not quiet, and it went before it`);
        }
  });

  it('finds nobody in quiet hours as it goes; who was not reached then waits for their end', () => {
    const message = { kind: 'cue', channel: 'text', event: 1, startsMs: null, homeZone: 'Europe/Lisbon' } as const;
    const zones = ['Europe/Lisbon'];
    expect(
      quietOf(house, { ...message, dueIn: (zone) => earlyMs(house, cue, zone, dueMs) ?? dueMs }, zones),
    ).toBeNull();
    expect(quietOf(house, { ...message, dueIn: () => dueMs }, zones)?.waits).toEqual([
      { zone: 'Europe/Lisbon', untilMs: at('2031-06-18T08:00') },
    ]);
  });
});
