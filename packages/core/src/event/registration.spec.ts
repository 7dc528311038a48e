import { checkEvent } from './check-event';
import { differencesBetween, isSameOn, matters } from './change';
import { dueAt, sayMoment } from '../countdown/moment';
import { eventFields } from '../message/fields';
import { blankFacts, type EventFacts } from './event';
import { changeOccurrence } from './edit-series';
import { findOccurrence, formerOccurrence, type Occurrence } from './occurrences';
import { keptUntilMs, registrationEndsMs, registrationState, sayRegistration } from './registration';

const facts: EventFacts = {
  ...blankFacts,
  title: 'Dome night',
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T22:00' },
  series: { rule: 'FREQ=WEEKLY', added: [], exceptions: [] },
  registration: { places: 2, closesMinutes: 120, confirms: true },
};
const key = '20310625T193000';
const dateOf = (over: Partial<EventFacts> = {}): Occurrence => {
  const date = findOccurrence({ ...facts, ...over }, key);
  if (!date) throw new Error('no date');
  return date;
};

describe('registration', () => {
  // Lisbon is at UTC+01:00 in June: 19:30 is 18:30 UTC, and two hours before that it closes.
  const endsMs = Date.UTC(2031, 5, 25, 16, 30);
  const cases: [string, Partial<EventFacts>, number, number, string][] = [
    ['until the last instant', {}, 1, endsMs, 'open'],
    ['and no later', {}, 0, endsMs + 1, 'closed'],
    ['until the places are taken', {}, 2, endsMs, 'full'],
    ['and when more than all are', {}, 5, endsMs, 'full'],
    [
      'and then to wait for one',
      { registration: { places: 2, closesMinutes: 120, confirms: true, waitlist: true } },
      2,
      endsMs,
      'waitlist',
    ],
    [
      'but not once it is closed',
      { registration: { places: 2, closesMinutes: 120, confirms: true, waitlist: true } },
      2,
      endsMs + 1,
      'closed',
    ],
    [
      'without a limit for as many as come',
      { registration: { places: null, closesMinutes: 120, confirms: true } },
      9999,
      endsMs,
      'open',
    ],
    ['not where the event takes nobody', { registration: null }, 0, 0, 'closed'],
    ['not where everybody is given a time of their own', { isPersonal: true }, 0, 0, 'closed'],
  ];
  for (const [what, over, taken, nowMs, expected] of cases)
    it(`is open ${what}`, () => expect(registrationState(dateOf(over), taken, nowMs)).toBe(expected as 'open'));

  it('is the deadline that a reminder counts from, by the calendar or exactly, and says when it is', () => {
    const before = (amount: number, unit: 'days' | 'hours', at: string | null) =>
      ({ kind: 'relative', amount, unit, direction: 'before', anchor: 'deadline', at }) as const;
    expect(dueAt(before(3, 'hours', null), dateOf().facts)).toBe(endsMs - 3 * 3_600_000);
    expect(dueAt(before(1, 'days', '09:00'), dateOf().facts)).toBe(Date.UTC(2031, 5, 24, 8));
    expect(sayMoment(before(1, 'days', '09:00'))).toBe('1 day before the close of registration, at 09:00');
    expect(eventFields(dateOf().facts, '')['event.registrationEnds']).toBe('Wed 25 Jun 2031 17:30 Lisbon time');
    expect(eventFields({ ...facts, registration: null }, '')['event.registrationEnds']).toBe('');
  });

  const minuteMs = 60_000;
  const hourMs = 60 * minuteMs;
  const kept: [string, number, number][] = [
    ['a day, weeks ahead', 20 * 24 * hourMs, 24 * hourMs],
    ['a day, as long as two are left', 48 * hourMs, 24 * hourMs],
    ['half of what is left, so that others can be asked as well', 10 * hourMs, 5 * hourMs],
    ['half an hour, near the end', 40 * minuteMs, 30 * minuteMs],
    ['never longer than registration is open', 10 * minuteMs, 10 * minuteMs],
  ];
  for (const [what, leftMs, expected] of kept)
    it(`keeps a place for whoever waited for it: ${what}`, () =>
      expect(keptUntilMs(endsMs - leftMs, endsMs) - (endsMs - leftMs)).toBe(expected));

  it('follows a date that is moved, and closes for one that is called off', () => {
    const to = (date: EventFacts, calledOff: boolean) => changeOccurrence(facts, key, { facts: date, calledOff });
    const later = {
      ...dateOf().facts,
      span: { kind: 'timed', start: '2031-06-25T21:30', end: '2031-06-25T23:00' },
    } as const;
    const moved = findOccurrence(to(later, false), key);
    expect(moved && registrationEndsMs(moved)).toBe(endsMs + 2 * 3_600_000);
    const off = findOccurrence(to(dateOf().facts, true), key);
    expect(off && registrationState(off, 0, 0)).toBe('closed');
  });

  it('says what is wrong with it, and what it is; a change of it is no news for calendars', () => {
    const problems = checkEvent({ ...facts, registration: { places: 0, closesMinutes: 1.5, confirms: true } });
    expect(problems.map(({ path, code }) => `${path} ${code}`)).toEqual([
      'registration.places bad-number',
      'registration.closes bad-number',
    ]);
    expect(
      [
        facts.registration,
        { places: 1, closesMinutes: 0, confirms: true },
        { places: null, closesMinutes: 2880, confirms: true },
        null,
      ].map(sayRegistration),
    ).toEqual([
      '2 places, until 2 hours before',
      '1 place, until the start',
      'no limit, until 2 days before',
      'nobody puts themselves down',
    ]);
    expect(sayRegistration({ places: 1, closesMinutes: 0, confirms: false })).toContain('not confirmed by mail');
    const version = { number: 1, sequence: 0, calledOff: false };
    const differences = differencesBetween(
      { ...version, facts },
      { ...version, facts: { ...facts, registration: null } },
    );
    expect([differences.map(({ field }) => field), matters(differences)]).toEqual([['registration'], false]);
  });
});

describe('one date of a series, for who comes to that date alone', () => {
  it('is the same while its own entry would be, whatever happens to the others', () => {
    const other = changeOccurrence(facts, '20310702T193000', { facts: dateOf().facts, calledOff: true });
    const cases: [EventFacts, boolean][] = [
      [facts, true],
      [other, true],
      [{ ...facts, series: { rule: 'FREQ=WEEKLY;COUNT=2', added: [], exceptions: [] } }, true],
      [{ ...facts, registration: null, topics: ['moon'] }, true],
      [{ ...facts, venue: 'Dome 2' }, false],
      [{ ...facts, series: { rule: 'FREQ=WEEKLY;COUNT=1', added: [], exceptions: [] } }, false],
      [changeOccurrence(facts, key, { facts: dateOf().facts, calledOff: true }), false],
    ];
    expect(cases.map(([after]) => isSameOn(facts, after, key))).toEqual(cases.map(([, isSame]) => isSame));
  });

  it('can still be named when the series has it no more', () => {
    const without: EventFacts = { ...facts, series: { rule: 'FREQ=WEEKLY;COUNT=1', added: [], exceptions: [] } };
    expect(findOccurrence(without, key)).toBeNull();
    const former = formerOccurrence(without, key);
    expect([former?.key, former?.calledOff, former?.startMs]).toEqual([key, true, Date.UTC(2031, 5, 25, 18, 30)]);
    expect([formerOccurrence(without, 'nonsense'), formerOccurrence(without, '20310625')]).toEqual([null, null]);
  });
});
