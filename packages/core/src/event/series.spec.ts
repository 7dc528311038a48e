import { dueAt, type Moment } from '../countdown/moment';
import { cueMoments, planAheadMs } from '../countdown/plan';
import { resolveWallTime, wallTimeAt } from '../time/wall-time';
import { sayWhen } from '../message/fields';
import { checkEvent } from './check-event';
import { addOccurrence, carryDates, changeOccurrence, matchDates, splitSeries } from './edit-series';
import { blankFacts, type EventFacts } from './event';
import { extentOf, findOccurrence, keyOf, nextOccurrence, occurrencesBetween, startOfKey } from './occurrences';
import { checkOwn, personalFacts } from './personal';
import { checkSeries, sayRepeats } from './series';

const zone = 'Europe/Lisbon';
const fridays: EventFacts = {
  ...blankFacts,
  title: 'Open dome',
  zone,
  span: { kind: 'timed', start: '2026-10-02T20:30', end: '2026-10-02T23:00' },
  venue: 'Dome 1',
  series: { rule: 'FREQ=WEEKLY;BYDAY=FR', added: [], exceptions: [] },
};
const at = (wall: string): number => resolveWallTime(wall, zone);
const startsOf = (facts: EventFacts, from: string, to: string): string[] =>
  occurrencesBetween(facts, at(from), at(to)).map(
    ({ startMs, calledOff }) => `${wallTimeAt(startMs, zone).slice(5)}${calledOff ? ' off' : ''}`,
  );
const one = (facts: EventFacts, key: string) => {
  const found = findOccurrence(facts, key);
  if (!found) throw new Error(`no ${key}`);
  return found;
};
const moved = (facts: EventFacts, key: string, start: string, end: string): EventFacts =>
  changeOccurrence(facts, key, {
    facts: { ...one(facts, key).facts, span: { kind: 'timed', start, end } },
    calledOff: false,
  });
const calledOff = (facts: EventFacts, key: string): EventFacts =>
  changeOccurrence(facts, key, { facts: one(facts, key).facts, calledOff: true });

describe('the moments of a series', () => {
  const nowMs = at('2026-10-01T00:00');
  const planned = (facts: EventFacts, moment: Moment): number =>
    cueMoments(moment, facts, nowMs, nowMs + planAheadMs, []).length;
  const before = (amount: number, anchor: 'start' | 'end' | 'deadline', unit: 'days' | 'hours' = 'days'): Moment => ({
    kind: 'relative',
    amount,
    unit,
    direction: 'before',
    anchor,
    at: null,
  });

  it('are planned wherever their anchor lies: a close of registration 60 days before the start', () => {
    const registration = { places: null, closesMinutes: 60 * 1440, confirms: true };
    expect(planned({ ...fridays, registration }, before(0, 'deadline'))).toBe(5);
    expect(planned({ ...fridays, registration }, before(7, 'deadline'))).toBe(5);
    expect(planned(fridays, before(200, 'start'))).toBe(5);
  });

  it('are planned for every date, however often it repeats', () => {
    const daily = (rule: string): EventFacts => ({
      ...fridays,
      span: { kind: 'timed', start: '2026-09-01T00:00', end: '2026-09-01T00:20' },
      series: { rule, added: [], exceptions: [] },
    });
    // Summer time ends within these 35 days; a reading that comes twice is one date.
    expect(planned(daily('FREQ=HOURLY'), before(1, 'start', 'hours'))).toBe(35 * 24 - 1);
    expect(planned(daily('FREQ=HOURLY;BYMINUTE=0,30'), before(1, 'start', 'hours'))).toBe(2 * (35 * 24 - 1));
  });

  it('follow the end of a date that was made much longer than the others', () => {
    const long = moved(fridays, '20261009T203000', '2026-10-09T20:30', '2026-10-30T20:30');
    const due = cueMoments(before(0, 'end'), long, nowMs, nowMs + planAheadMs, []).map(({ slot }) => slot);
    expect(due.filter((slot) => slot === '20261009T203000').length).toBe(1);
  });
});

describe('dates of a series', () => {
  it('keep their clock reading over a clock change: 25 October 2026 ends summer time (common practice)', () => {
    const found = occurrencesBetween(fridays, at('2026-10-20T00:00'), at('2026-11-01T00:00'));
    expect(found.map(({ startMs }) => new Date(startMs).toISOString())).toEqual([
      '2026-10-23T19:30:00.000Z',
      '2026-10-30T20:30:00.000Z',
    ]);
  });

  it('end where the hour comes twice when they last so long: an end then is never before its start', () => {
    const daily: EventFacts = {
      ...fridays,
      span: { kind: 'timed', start: '2026-10-24T01:30', end: '2026-10-24T02:15' },
      series: { rule: 'FREQ=DAILY', added: [], exceptions: [] },
    };
    const { startMs, endMs, facts } = one(daily, '20261025T013000');
    expect([startMs, endMs].map((ms) => new Date(ms).toISOString().slice(11, 16))).toEqual(['00:30', '01:15']);
    expect(facts.span).toEqual({ kind: 'timed', start: '2026-10-25T01:30', end: '2026-10-25T01:15', again: 'end' });
    expect(checkEvent(facts)).toEqual([]);
    const afterEnd = {
      kind: 'relative',
      amount: 5,
      unit: 'minutes',
      direction: 'after',
      anchor: 'end',
      at: null,
    } as const;
    expect(new Date(dueAt(afterEnd, facts)).toISOString().slice(11, 16)).toBe('01:20');
    expect(sayWhen(facts, '')).toBe('Sun 25 Oct 2026 01:30 to 01:15 (after the clocks went back) Lisbon time');
  });

  it('last as long as the first does, in exact time, over a clock change (RFC 5545 §3.8.5.3)', () => {
    const nights: EventFacts = {
      ...fridays,
      span: { kind: 'timed', start: '2026-10-03T22:00', end: '2026-10-04T04:00' },
      series: { rule: 'FREQ=WEEKLY;BYDAY=SA', added: [], exceptions: [] },
    };
    expect(one(nights, '20261024T220000').facts.span).toEqual({
      kind: 'timed',
      start: '2026-10-24T22:00',
      end: '2026-10-25T03:00',
    });
  });

  it('can be moved, called off, put back and added, and keep their names', () => {
    let facts = moved(fridays, '20261009T203000', '2026-10-10T21:00', '2026-10-10T23:00');
    facts = calledOff(facts, '20261016T203000');
    facts = addOccurrence(addOccurrence(facts, '2026-10-13T20:30'), '2026-10-13T20:30');
    const all = ['10-02T20:30', '10-10T21:00', '10-13T20:30', '10-16T20:30 off', '10-23T20:30'];
    expect(startsOf(facts, '2026-10-01T00:00', '2026-10-24T00:00')).toEqual(all);
    expect(one(facts, '20261009T203000').isChanged).toBeTrue();
    // A date that moved into the window from outside it, and one that moved out.
    expect(startsOf(facts, '2026-10-10T00:00', '2026-10-11T00:00')).toEqual(['10-10T21:00']);
    expect(startsOf(facts, '2026-10-09T00:00', '2026-10-10T00:00')).toEqual([]);
    facts = changeOccurrence(changeOccurrence(facts, '20261009T203000', null), '20261016T203000', null);
    expect(facts.series?.exceptions).toEqual([]);
    expect(() => changeOccurrence(fridays, 'nonsense', null)).toThrowError(RangeError);
  });

  it('changed back by hand are no exceptions any more', () => {
    const facts = moved(fridays, '20261009T203000', '2026-10-09T21:00', '2026-10-09T23:30');
    expect(facts.series?.exceptions.length).toBe(1);
    expect(moved(facts, '20261009T203000', '2026-10-09T20:30', '2026-10-09T23:00').series?.exceptions).toEqual([]);
  });

  it('find the next that takes place, however far off, and none after the last', () => {
    const rare: EventFacts = {
      ...fridays,
      span: { kind: 'timed', start: '2028-02-29T20:00', end: '2028-02-29T22:00' },
      series: { rule: 'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29;COUNT=3', added: [], exceptions: [] },
    };
    const next = (facts: EventFacts, after: string): string | undefined => nextOccurrence(facts, at(after))?.key;
    expect(next(rare, '2026-01-01T00:00')).toBe('20280229T200000');
    expect(next(rare, '2028-03-01T00:00')).toBe('20320229T200000');
    expect(next(rare, '2036-03-01T00:00')).toBeUndefined();
    expect(next(calledOff(fridays, '20261002T203000'), '2026-09-01T00:00')).toBe('20261009T203000');
    // One that is under way is still the next.
    expect(next(fridays, '2026-10-02T22:59')).toBe('20261002T203000');
    expect(next(fridays, '2026-10-02T23:00')).toBe('20261009T203000');
    expect([extentOf(rare).endMs, extentOf(fridays).endMs]).toEqual([at('2036-02-29T22:00'), null]);
  });

  it('are named by the start that the rule gives', () => {
    expect([keyOf('2026-10-02T20:30'), keyOf('2026-10-02')]).toEqual(['20261002T203000', '20261002']);
    expect(['20261002T203000', '20261002', '20260230', '2026', 'x'].map(startOfKey)).toEqual([
      '2026-10-02T20:30',
      '2026-10-02',
      null,
      null,
      null,
    ]);
    expect([findOccurrence(fridays, '20261003T203000'), findOccurrence(fridays, '')]).toEqual([null, null]);
  });
});

describe('edits of a series', () => {
  it('part it at “this and following”: every date is in one half, changed ones with it', () => {
    const facts = calledOff(
      moved(fridays, '20261009T203000', '2026-10-08T20:30', '2026-10-08T23:00'),
      '20261023T203000',
    );
    const parts = splitSeries(facts, one(facts, '20261016T203000'));
    if (!parts) throw new Error('not parted');
    const window = ['2026-10-01T00:00', '2026-11-07T00:00'] as const;
    expect(startsOf(parts.before, ...window)).toEqual(['10-02T20:30', '10-08T20:30']);
    expect(startsOf(parts.after, ...window)).toEqual(['10-16T20:30', '10-23T20:30 off', '10-30T20:30', '11-06T20:30']);
    expect([checkSeries(parts.before), checkSeries(parts.after)]).toEqual([[], []]);
    expect(splitSeries(facts, one(facts, '20261002T203000'))).toBeNull();
  });

  it('share out a number of times between the halves', () => {
    const ten: EventFacts = {
      ...fridays,
      series: { rule: 'FREQ=WEEKLY;BYDAY=FR;COUNT=10', added: [], exceptions: [] },
    };
    const parts = splitSeries(ten, one(ten, '20261023T203000'));
    const count = (facts: EventFacts | undefined): number =>
      facts ? startsOf(facts, '2026-01-01T00:00', '2028-01-01T00:00').length : 0;
    expect([count(parts?.before), count(parts?.after)]).toEqual([3, 7]);
  });

  it('carry the changed dates along when the whole moves to another day and hour', () => {
    const before = calledOff(
      moved(fridays, '20261009T203000', '2026-10-10T10:00', '2026-10-10T12:00'),
      '20261016T203000',
    );
    const { facts, moveKey } = carryDates(before, {
      ...before,
      span: { kind: 'timed', start: '2026-10-03T21:00', end: '2026-10-03T23:00' },
      series: { rule: 'FREQ=WEEKLY;BYDAY=SA', added: [], exceptions: before.series?.exceptions ?? [] },
    });
    expect(startsOf(facts, '2026-10-01T00:00', '2026-10-25T00:00')).toEqual([
      '10-03T21:00',
      '10-10T10:00',
      '10-17T21:00 off',
      '10-24T21:00',
    ]);
    expect(['20261016T203000', '20261023T203000', 'x'].map(moveKey)).toEqual([
      '20261017T210000',
      '20261024T210000',
      null,
    ]);
  });

  const read = (start: string, end: string, rule = 'FREQ=WEEKLY;BYDAY=FR'): EventFacts => ({
    ...fridays,
    span: { kind: 'timed', start, end },
    series: { rule, added: [], exceptions: [] },
  });
  const matches: [string, EventFacts, string, string][] = [
    ['stand where nothing moved', fridays, '20261016T203000', '20261016T203000'],
    [
      'stand where the past fell off its beginning',
      read('2026-10-16T20:30', '2026-10-16T23:00'),
      '20261023T203000',
      '20261023T203000',
    ],
    ['and so does what is past', read('2026-10-16T20:30', '2026-10-16T23:00'), '20261002T203000', '20261002T203000'],
    [
      'move where all begin half an hour later',
      read('2026-10-02T21:00', '2026-10-02T23:00'),
      '20261016T203000',
      '20261016T210000',
    ],
    [
      'move to the day after',
      read('2026-10-03T20:30', '2026-10-03T23:00', 'FREQ=WEEKLY;BYDAY=SA'),
      '20261016T203000',
      '20261017T203000',
    ],
    [
      'stay where the series ends before',
      read('2026-10-02T21:00', '2026-10-02T23:00', 'FREQ=WEEKLY;COUNT=2'),
      '20261016T203000',
      '20261016T203000',
    ],
  ];
  for (const [what, after, key, expected] of matches)
    it(`read again from elsewhere, names of dates ${what}`, () =>
      expect(matchDates(fridays, after)(key)).toBe(expected));

  it('are refused when a rule does not name its first date, or rings all day', () => {
    const problem = (rule: string) => checkSeries({ ...fridays, series: { rule, added: [], exceptions: [] } })[0]?.code;
    expect(problem('FREQ=WEEKLY;BYDAY=SA')).toBe('start-not-in-rule');
    expect(problem('FREQ=MINUTELY')).toBe('rule-too-often');
    expect(problem('FREQ=SECONDLY')).toBe('rule-too-often');
    expect(problem('FREQ=FORTNIGHTLY')).toBeDefined();
    expect(problem('FREQ=HOURLY;INTERVAL=6')).toBeUndefined();
    const skipped = { kind: 'timed', start: '2027-03-28T01:30', end: '2027-03-28T04:00' } as const;
    const weekly = { rule: 'FREQ=WEEKLY', added: [], exceptions: [] };
    expect(checkSeries({ ...fridays, zone: 'Europe/Lisbon', span: skipped, series: weekly })).toEqual([
      { code: 'start-skipped', path: 'span.start' },
    ]);
    expect(sayRepeats(fridays)).toBe('every Friday');
    expect(sayRepeats({ zone, series: { rule: '', added: ['2026-10-13T20:30'], exceptions: [] } })).toBe(
      'on single dates',
    );
  });
});

describe('cues of a series', () => {
  const dayBefore = {
    kind: 'relative',
    amount: 1,
    unit: 'days',
    direction: 'before',
    anchor: 'start',
    at: '10:00',
  } as const;

  it('follow each date: a moved one takes its cue along, a clock change leaves the hour alone', () => {
    const facts = moved(fridays, '20261030T203000', '2026-10-29T19:00', '2026-10-29T21:00');
    const now = at('2026-10-20T12:00');
    const found = cueMoments(dayBefore, facts, now, now + planAheadMs, []).map(
      ({ slot, dueMs }) => `${slot.slice(4, 8)} ${wallTimeAt(dueMs, zone).slice(5)}`,
    );
    expect(found).toEqual([
      '1023 10-22T10:00',
      '1030 10-28T10:00',
      '1106 11-05T10:00',
      '1113 11-12T10:00',
      '1120 11-19T10:00',
    ]);
  });

  it('with a fixed moment fire once, series or not', () => {
    const fixed = { kind: 'fixed', wall: '2026-10-01T09:00' } as const;
    expect(cueMoments(fixed, fridays, 0, 1, []).map(({ slot }) => slot)).toEqual(['']);
    expect(dueAt(fixed, fridays)).toBe(at('2026-10-01T09:00'));
  });
});

describe('a time of one’s own', () => {
  it('stands in for the event’s; without an end it lasts as long', () => {
    const facts: EventFacts = { ...fridays, series: null, isPersonal: true };
    const own = personalFacts(facts, {
      start: '2026-10-05T21:15',
      end: '',
      place: 'East',
      notes: 'Seat 4',
      revision: 2,
    });
    expect([own.span, own.venue]).toEqual([
      { kind: 'timed', start: '2026-10-05T21:15', end: '2026-10-05T23:45' },
      'East',
    ]);
    expect(own.description).toContain('Seat 4');
    expect(personalFacts(facts, null)).toEqual(facts);
  });

  it('is checked where it stands', () => {
    const own = { start: '', end: '', place: '', notes: '', revision: 0 };
    const found = (over: Partial<typeof own>) =>
      checkOwn({ ...own, ...over }, 'line 3').map(({ path, code }) => `${path} ${code}`);
    expect(found({ start: '31 June' })).toEqual(['line 3, start bad-date']);
    expect(found({ start: '2026-10-05T21:00', end: '2026-10-05T20:00' })[0]).toContain('end-before-start');
    expect(found({ start: '2026-10-05T21:00' })).toEqual([]);
  });
});
