import { Temporal } from 'temporal-polyfill';
import { blankFacts, type EventFacts } from '../event/event';
import { resolveWallTime, wallTimeAt } from '../time/wall-time';
import { anchors, dueAt, sayMoment, type EventMoment, type MomentAround, type RelativeMoment } from './moment';
import { movedMoment } from './move';
import { postpone } from './postpone';

const zone = 'Europe/Lisbon';
const june: EventFacts = {
  ...blankFacts,
  zone,
  span: { kind: 'timed', start: '2027-06-18T19:30', end: '2027-06-18T22:00' },
  registration: { places: null, closesMinutes: 1440, confirms: false },
};
const around: MomentAround = {
  publishedMs: resolveWallTime('2027-03-01T09:00', zone),
  workdays: { weekdays: [1, 2, 3, 4, 5], holidays: [] },
};
const moment = (over: Partial<RelativeMoment>): RelativeMoment => ({
  ...{ kind: 'relative', amount: 1, unit: 'days', direction: 'before', anchor: 'start', at: null },
  ...over,
});

describe('A cue moved to an instant', () => {
  const moved = (over: Partial<RelativeMoment>, wall: string): string => {
    const to = movedMoment(moment(over), june, resolveWallTime(wall, zone), zone, around);
    return to ? sayMoment(to) : 'cannot be said';
  };
  it('is counted in what says it shortest, from where it was counted', () => {
    expect(moved({ unit: 'hours', amount: 24 }, '2027-06-18T17:30')).toBe('2 hours before the start');
    expect(moved({ unit: 'hours', amount: 24 }, '2027-06-18T17:45')).toBe('105 minutes before the start');
    expect(moved({ unit: 'minutes', amount: 30, direction: 'after', anchor: 'end' }, '2027-06-18T23:00')).toBe(
      '1 hour after the end',
    );
    expect(moved({ unit: 'weeks' }, '2027-06-04T19:30')).toBe('2 weeks before the start');
    expect(moved({ unit: 'weeks' }, '2027-06-05T10:00')).toBe('13 days before the start, at 10:00');
    expect(moved({ unit: 'months' }, '2027-04-18T10:00')).toBe('2 months before the start, at 10:00');
    expect(moved({ at: '10:00' }, '2027-06-18T09:00')).toBe('the day of the start, at 09:00');
    expect(moved({ at: '10:00' }, '2027-06-20T09:00')).toBe('2 days after the start, at 09:00');
    // The start itself, in days, has a clock time all the same: none would say that it was lost.
    expect(moved({}, '2027-06-18T19:30')).toBe('the day of the start, at 19:30');
    expect(moved({ anchor: 'deadline' }, '2027-06-15T19:30')).toBe('2 days before the close of registration');
    expect(moved({ anchor: 'publication', direction: 'after' }, '2027-03-03T10:00')).toBe(
      '2 days after the publication, at 10:00',
    );
    expect(moved({ anchor: 'publication', direction: 'after' }, '2027-02-27T10:00')).toBe('cannot be said');
    expect(moved({}, '2022-06-18T19:30')).toBe('cannot be said');
    // Minutes too many to be counted become days.
    expect(moved({ unit: 'minutes' }, '2027-05-18T10:01')).toBe('31 days before the start, at 10:01');
  });

  it('falls at that instant, whatever it was counted in, in every zone with changes of clocks', () => {
    const zones = ['Europe/Lisbon', 'America/New_York', 'Australia/Lord_Howe', 'Africa/Casablanca', 'Asia/Kolkata'];
    let tried = 0;
    for (const there of zones)
      for (const anchor of anchors)
        for (const unit of ['minutes', 'hours', 'days', 'weeks', 'months'] as const)
          for (const at of [null, '10:00'])
            for (let hours = -900; hours < 2300; hours += 97) {
              const facts = { ...june, zone: there };
              const startMs = resolveWallTime('2027-06-18T19:30', there);
              const toMs = startMs - hours * 3_600_000 + (hours % 60) * 60_000;
              const isReal =
                wallTimeAt(toMs, there) ===
                Temporal.Instant.fromEpochMilliseconds(resolveWallTime(wallTimeAt(toMs, there), there))
                  .toZonedDateTimeISO(there)
                  .toPlainDateTime()
                  .toString({ smallestUnit: 'minute' });
              // The second of an hour that comes twice has no name of its own.
              if (!isReal || resolveWallTime(wallTimeAt(toMs, there), there) !== toMs) continue;
              const to = movedMoment(moment({ anchor, unit, at }), facts, toMs, there, around);
              if (!to) continue;
              tried += 1;
              expect(dueAt(to, facts, there, around)).toBe(toMs);
            }
    expect(tried).toBeGreaterThan(5000);
  });

  it('at a fixed time names the new one; a date of people’s own cannot be moved', () => {
    const fixed: EventMoment = { kind: 'fixed', wall: '2027-06-01T10:00' };
    expect(movedMoment(fixed, june, resolveWallTime('2027-06-02T11:05', zone))).toEqual({
      ...fixed,
      wall: '2027-06-02T11:05',
    });
    expect(
      movedMoment(
        { kind: 'own-date', field: 1, repeats: 'once', amount: 0, unit: 'days', direction: 'before', at: '10:00' },
        june,
        0,
      ),
    ).toBeNull();
  });
});

describe('An event that begins at another time', () => {
  it('takes along what counts from its start, its end and the close of registration, and says what comes too late', () => {
    const cues = [
      moment({ unit: 'weeks', amount: 1 }),
      moment({ unit: 'days', amount: 2, anchor: 'deadline', at: '10:00' }),
      moment({ unit: 'hours', amount: 1, direction: 'after', anchor: 'end' }),
      moment({ anchor: 'publication', direction: 'after' }),
      { kind: 'fixed', wall: '2027-06-01T10:00' } as const,
    ].map((one, id) => ({ id, moment: one }));
    const now = resolveWallTime('2027-06-08T12:00', zone);
    const found = postpone(cues, june, resolveWallTime('2027-06-13T21:00', zone), now, around);
    expect(found.map(({ toMs, isLate }) => [wallTimeAt(toMs, zone), isLate])).toEqual([
      ['2027-06-06T21:00', true],
      ['2027-06-10T10:00', false],
      ['2027-06-14T00:30', false],
      ['2027-03-02T09:00', false],
      ['2027-06-01T10:00', false],
    ]);
    const days: EventFacts = { ...june, span: { kind: 'all-day', firstDay: '2027-06-18', lastDay: '2027-06-19' } };
    const [camp] = postpone(cues.slice(0, 1), days, resolveWallTime('2027-06-20T00:00', zone), now, around);
    expect(camp && wallTimeAt(camp.toMs, zone)).toBe('2027-06-13T00:00');
  });
});
