import { Temporal } from 'temporal-polyfill';
import { blankFacts, instantsOf, type EventFacts } from '../event/event';
import { resolveWallTime, wallTimeAt } from '../time/wall-time';
import { workdayUpTo } from '../time/workdays';
import { transitionsBetween } from '../time/zone';
import { dueAt, dueOfOwnDate, nextOwnDay, sayMoment, type OwnDateMoment, type RelativeMoment } from './moment';
import { cueMoments } from './plan';

const at = (zone: string, start: string, end = start): EventFacts => ({
  ...blankFacts,
  zone,
  span: { kind: 'timed', start, end },
});
const moment = (over: Partial<RelativeMoment>): RelativeMoment => ({
  ...{ kind: 'relative', amount: 1, unit: 'days', direction: 'before', anchor: 'start', at: null },
  ...over,
});
const own = (over: Partial<OwnDateMoment>): OwnDateMoment => ({
  ...{ kind: 'own-date', field: 1, repeats: 'yearly', amount: 0, unit: 'days', direction: 'before', at: '10:00' },
  ...over,
});

describe('moments of the trade (common practice)', () => {
  const wall = (facts: EventFacts, over: Partial<RelativeMoment>): string =>
    wallTimeAt(dueAt(moment(over), facts), facts.zone);

  it('fall where practitioners put them', () => {
    const june = at('Europe/Lisbon', '2027-06-18T19:30');
    expect(wall(june, { amount: 2, unit: 'weeks' })).toBe('2027-06-04T19:30');
    expect(wall(june, { amount: 3 })).toBe('2027-06-15T19:30');
    expect(wall(june, { amount: 120, unit: 'minutes' })).toBe('2027-06-18T17:30');
    expect(wall(at('Europe/Lisbon', '2027-06-09T20:00'), { amount: 3, at: '10:00' })).toBe('2027-06-06T10:00');
    expect(wall(june, { amount: 1, unit: 'months', at: '10:00' })).toBe('2027-05-18T10:00');
  });

  it('a month from a day that the month has not is its last day (our own rule, as Temporal’s)', () => {
    expect(wall(at('UTC', '2027-03-31T12:00'), { unit: 'months' })).toBe('2027-02-28T12:00');
    expect(wall(at('UTC', '2028-03-30T12:00'), { unit: 'months' })).toBe('2028-02-29T12:00');
    expect(wall(at('UTC', '2027-08-31T12:00'), { unit: 'months', amount: 18 })).toBe('2026-02-28T12:00');
    expect(wall(at('UTC', '2027-12-31T12:00'), { unit: 'months', amount: 2, direction: 'after' })).toBe(
      '2028-02-29T12:00',
    );
  });

  it('fall on the last working day before a free one, at the same clock time', () => {
    const workdays = { weekdays: [1, 2, 3, 4, 5], holidays: ['2027-06-10', '2027-06-11'] };
    const around = { publishedMs: null, workdays };
    const on = (start: string, over: Partial<RelativeMoment>): string => {
      const facts = at('Europe/Lisbon', start);
      return wallTimeAt(dueAt(moment({ onWorkdays: true, ...over }), facts, facts.zone, around), facts.zone);
    };
    // Sunday gives way to Friday; that and Thursday are holidays.
    expect(on('2027-06-14T19:30', {})).toBe('2027-06-09T19:30');
    expect(on('2027-06-14T19:30', { at: '10:00' })).toBe('2027-06-09T10:00');
    expect(on('2027-06-14T19:30', { unit: 'hours', amount: 30 })).toBe('2027-06-09T13:30');
    expect(on('2027-06-17T19:30', {})).toBe('2027-06-16T19:30');
    // A house that never works sends when it was asked to.
    expect(workdayUpTo('2027-06-13', { weekdays: [], holidays: [] })).toBe('2027-06-13');
    expect(sayMoment(moment({ onWorkdays: true, at: '10:00' }))).toBe(
      '1 day before the start, at 10:00, on a working day',
    );
  });

  it('are counted from the publication, once, also of a series, and not before it is', () => {
    const series = {
      ...at('Europe/Lisbon', '2027-06-18T19:30', '2027-06-18T21:00'),
      series: { rule: 'FREQ=WEEKLY', exceptions: [], added: [] },
    };
    const publishedMs = resolveWallTime('2027-05-01T09:12', 'Europe/Lisbon');
    const after = moment({ anchor: 'publication', direction: 'after', amount: 2, at: '10:00' });
    const around = { publishedMs, workdays: { weekdays: [1, 2, 3, 4, 5], holidays: [] } };
    expect(sayMoment(after)).toBe('2 days after the publication, at 10:00');
    for (const facts of [at('Europe/Lisbon', '2027-06-18T19:30'), series]) {
      const found = cueMoments(after, facts, publishedMs, publishedMs + 9e9, [], around);
      expect(found.map(({ slot, dueMs }) => [slot, wallTimeAt(dueMs, 'Europe/Lisbon')])).toEqual([
        ['', '2027-05-03T10:00'],
      ]);
      expect(cueMoments(after, facts, publishedMs, publishedMs + 9e9, [])).toEqual([]);
    }
  });
});

describe('moments counted from people’s own dates', () => {
  it('a month ahead falls on the same day of the month before, or its last; every one of a year is found once', () => {
    const renewal = own({ unit: 'months', amount: 1 });
    expect(wallTimeAt(dueOfOwnDate(renewal, '2027-03-31', 'UTC'), 'UTC')).toBe('2027-02-28T10:00');
    const year = [Date.UTC(2027, 0, 1), Date.UTC(2028, 0, 1)] as const;
    for (const over of [{}, { onWorkdays: true }, { direction: 'after' }, { unit: 'weeks', amount: 2 }] as const) {
      const it = own({ unit: 'months', amount: 1, ...over });
      const found = cueMoments(it, at('UTC', '2027-06-18T19:30'), ...year, ['UTC']);
      const slots = new Set(found.map(({ slot }) => slot));
      expect(slots.size).toBe(found.length);
      // Day by day, asked of each.
      const wanted = Array.from({ length: 1100 }, (_, n) =>
        new Date(Date.UTC(2026, 0, 1 + n)).toISOString().slice(0, 10),
      ).filter((day) => {
        const dueMs = dueOfOwnDate(it, day, 'UTC');
        return dueMs >= year[0] && dueMs < year[1];
      });
      expect([...slots].sort()).toEqual(wanted);
    }
  });

  it('of a date that is years ahead begin with it', () => {
    const nowMs = Date.UTC(2027, 0, 1);
    expect(nextOwnDay(own({}), '2040-06-18', nowMs, 'Europe/Lisbon')).toBe('2040-06-18');
    expect(nextOwnDay(own({ repeats: 'once' }), '2040-06-18', nowMs, 'Europe/Lisbon')).toBe('2040-06-18');
  });

  it('no days from a start in the second pass of a repeated hour is that start', () => {
    const night = { kind: 'timed', start: '2026-10-25T01:30', end: '2026-10-25T03:00', again: 'start' } as const;
    const facts = { ...at('Europe/Lisbon', '2026-10-25T01:30'), span: night };
    const { startMs } = instantsOf(facts);
    expect(startMs - resolveWallTime('2026-10-25T01:30', 'Europe/Lisbon')).toBe(3_600_000);
    for (const unit of ['minutes', 'hours', 'days', 'weeks', 'months'] as const)
      expect(dueAt(moment({ amount: 0, unit }), facts)).toBe(startMs);
  });

  it('of 29 February are kept on the 28th of other years, in every zone', () => {
    for (const zone of Intl.supportedValuesOf('timeZone')) {
      const from = (day: string): number => resolveWallTime(`${day}T12:00`, zone);
      expect(nextOwnDay(own({}), '2000-02-29', from('2027-01-01'), zone)).toBe('2027-02-28');
      expect(nextOwnDay(own({}), '2000-02-29', from('2028-01-01'), zone)).toBe('2028-02-29');
      expect(nextOwnDay(own({}), '2000-02-29', from('2028-02-29'), zone)).toBe('2029-02-28');
    }
  });
});

describe('moments over clock changes, in every zone that has them (oracle: Temporal)', () => {
  const shifts = [
    ...(['minutes', 'hours'] as const).flatMap((unit) => [1, 5, 90].map((amount) => ({ unit, amount }))),
    ...(['days', 'weeks', 'months'] as const).flatMap((unit) => [1, 2, 7].map((amount) => ({ unit, amount }))),
  ];
  const zones = Intl.supportedValuesOf('timeZone')
    .map((zone) => ({ zone, changes: transitionsBetween(zone, Date.UTC(2025, 0, 1), Date.UTC(2036, 0, 1)) }))
    .filter(({ changes }) => changes.length > 0);

  /** Where Temporal puts it: gaps as RFC 5545 §3.3.5 has them, of a repeated time the first. */
  const oracle = (startMs: number, zone: string, { amount, unit, direction, at: clock }: RelativeMoment): number => {
    const start = Temporal.Instant.fromEpochMilliseconds(startMs).toZonedDateTimeISO(zone);
    const shifted = start.add({ [unit]: direction === 'before' ? -amount : amount });
    if (clock === null) return shifted.epochMilliseconds;
    return shifted.toPlainDate().toZonedDateTime({ timeZone: zone, plainTime: clock }).epochMilliseconds;
  };

  it('none is lost, doubled, or at the wrong time of the clock', () => {
    let asked = 0;
    const wrong: string[] = [];
    const clocks = [null, '02:30', '00:15'];
    for (const { zone, changes } of zones)
      for (const { atMs } of changes)
        for (const shift of shifts) {
          // The event is the day after the clocks change, or a month, at times that gaps and repeats touch: each by turns.
          const startMs = atMs + (asked % 2 ? 30 * 3_600_000 : 28 * 86_400_000 + 1_800_000);
          const start = wallTimeAt(startMs, zone);
          const turn = asked + Math.floor(asked / shifts.length);
          const direction = turn % 5 ? 'before' : 'after';
          const it = moment({ ...shift, direction, at: clocks[turn % 3] ?? null });
          asked += 1;
          if (dueAt(it, at(zone, start)) !== oracle(resolveWallTime(start, zone), zone, it))
            wrong.push(`${zone} ${start} ${sayMoment(it)}`);
        }
    expect(wrong).toEqual([]);
    expect(asked).toBeGreaterThan(30_000);
  });
});
