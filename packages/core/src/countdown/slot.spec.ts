import { blankFacts, type EventFacts } from '../event/event';
import { judge, type PersonFacts } from '../audience/judge';
import { resolveWallTime, wallTimeAt } from '../time/wall-time';
import { dueAt, nextOwnDay, sayMoment, type EventMoment, type Moment, type OwnDateMoment } from './moment';
import { cueMoments } from './plan';
import { anniversariesOn, occurrenceOfSlot, ownDayOfSlot, whoOfFiring, type FiringPlace } from './slot';

const facts: EventFacts = {
  ...blankFacts,
  title: 'Night',
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2027-03-28T20:30', end: '2027-03-28T23:00' },
};
const before = (amount: number, unit: 'days' | 'hours', at: string | null): EventMoment => ({
  kind: 'relative',
  amount,
  unit,
  direction: 'before',
  anchor: 'start',
  at,
  clock: 'person',
});
const birthday: OwnDateMoment = {
  kind: 'own-date',
  field: 3,
  repeats: 'yearly',
  amount: 3,
  unit: 'days',
  direction: 'before',
  at: '10:00',
  clock: 'person',
};

describe('a moment on each person’s own clock', () => {
  // 20:30 in Lisbon on 28 March 2027, the day its clocks go forward, is 04:30 of the 29th in Tokyo and 15:30 in New York.
  const rows: [EventMoment, string, string][] = [
    [before(1, 'days', '10:00'), 'Europe/Lisbon', '2027-03-27T10:00'],
    [before(1, 'days', '10:00'), 'Asia/Tokyo', '2027-03-28T10:00'],
    [before(1, 'days', '10:00'), 'America/New_York', '2027-03-27T10:00'],
    [before(0, 'days', '08:00'), 'Asia/Tokyo', '2027-03-29T08:00'],
    // New York's clocks went forward a fortnight before: 02:30 of 14 March is no time there, and 03:30 is meant.
    [before(14, 'days', '02:30'), 'America/New_York', '2027-03-14T03:30'],
    [{ kind: 'fixed', wall: '2027-03-20T09:00', clock: 'person' }, 'Asia/Kathmandu', '2027-03-20T09:00'],
  ];
  for (const [moment, zone, expected] of rows)
    it(`${sayMoment(moment)} is ${expected} in ${zone}`, () =>
      expect(wallTimeAt(dueAt(moment, facts, zone), zone)).toBe(expected));

  it('fires once in each zone; one that is exact fires for all at once', () => {
    const zones = ['Europe/Lisbon', 'Asia/Tokyo'];
    const of = (moment: Moment) => cueMoments(moment, facts, 0, Infinity, zones).map(({ zone }) => zone);
    expect(of(before(1, 'days', '10:00'))).toEqual(zones);
    expect(of(before(24, 'hours', null))).toEqual(['']);
    expect(of({ ...before(1, 'days', '10:00'), clock: 'event' })).toEqual(['']);
  });
});

describe('a fixed moment about one date of a series', () => {
  const weekly: EventFacts = { ...facts, series: { rule: 'FREQ=WEEKLY;COUNT=3', added: [], exceptions: [] } };
  const about = (date: string): Moment => ({ kind: 'fixed', wall: '2027-04-01T09:00', date });
  const of = (moment: Moment, some = weekly) =>
    cueMoments(moment, some, 0, Infinity, ['Europe/Lisbon']).map(({ slot, occurrence }) => [slot, occurrence?.key]);

  it('is for that date, for none that is no more, and for the whole where nothing repeats', () => {
    expect(of(about('20270404T203000'))).toEqual([['20270404T203000', '20270404T203000']]);
    expect(of(about('20270405T203000'))).toEqual([]);
    expect(of(about('20270404T203000'), facts)).toEqual([['', undefined]]);
  });
});

describe('people’s own dates', () => {
  it('have one firing a day and zone, at that day’s clock time', () => {
    const fromMs = resolveWallTime('2027-02-24T12:00', 'Europe/Lisbon');
    const found = cueMoments(birthday, facts, fromMs, fromMs + 2 * 86_400_000, ['Europe/Lisbon', 'Asia/Tokyo']);
    expect(found.map(({ slot, zone, dueMs }) => `${slot} ${zone} ${wallTimeAt(dueMs, 'UTC')}`)).toEqual([
      '2027-02-28 Asia/Tokyo 2027-02-25T01:00',
      '2027-02-28 Europe/Lisbon 2027-02-25T10:00',
      '2027-03-01 Asia/Tokyo 2027-02-26T01:00',
      '2027-03-01 Europe/Lisbon 2027-02-26T10:00',
    ]);
  });

  const anniversaries: [string, string[]][] = [
    ['2027-02-28', ['02-28', '02-29']],
    ['2028-02-28', ['02-28']],
    ['2028-02-29', ['02-29']],
    ['2027-03-01', ['03-01']],
  ];
  for (const [day, expected] of anniversaries)
    it(`that fall on ${day} are those of ${expected.join(' and ')}`, () =>
      expect(anniversariesOn(day)).toEqual(expected));

  const nowMs = resolveWallTime('2027-02-25T10:01', 'Europe/Lisbon');
  const once: OwnDateMoment = { ...birthday, repeats: 'once' };
  const next: [OwnDateMoment, string, string | null][] = [
    [birthday, '2000-02-29', '2028-02-29'],
    [birthday, '1990-03-01', '2027-03-01'],
    [birthday, '1990-02-28', '2028-02-28'],
    [birthday, '2027-12-31', '2027-12-31'],
    [birthday, '2029-01-01', '2029-01-01'],
    [{ ...birthday, direction: 'after', amount: 60 }, '1990-12-31', '2026-12-31'],
    [once, '2027-03-01', '2027-03-01'],
    [once, '2027-02-28', null],
  ];
  for (const [moment, date, expected] of next)
    it(`${sayMoment(moment)}, of ${date}, come next for ${expected}`, () =>
      expect(nextOwnDay(moment, date, nowMs, 'Europe/Lisbon')).toBe(expected));
});

describe('who gets a firing', () => {
  const audience = { invitees: [], lists: [1], exceptLists: [], exceptReplies: [], topics: null };
  const person = (zone: string, date = '2000-02-29'): PersonFacts => ({
    id: 1,
    hasEmail: true,
    hasMobile: false,
    isPaused: false,
    isSameAsOther: false,
    sharesNumberWith: [],
    emailConsent: true,
    mostPerWeek: null,
    counted: [],
    textConsent: false,
    optedOut: false,
    bounced: false,
    zone,
    lists: [1],
    topics: [],
    fields: new Map([[3, date]]),
    guestOf: new Map(),
    had: [],
    got: [],
  });
  const zones = ['Asia/Tokyo', 'Europe/Lisbon', 'America/New_York'];
  const around = { moment: birthday, isPersonal: false, homeZone: 'Europe/Lisbon', zones };
  const gets = (one: PersonFacts, over: Partial<FiringPlace>) =>
    judge(one, whoOfFiring(audience, { eventId: 1, cueId: 9, slot: '2027-02-28', zone: '', ...over }, around), 'email');

  it('is of one zone group and no other; whose zone has none goes with the event’s', () => {
    for (const [zone, group] of [
      ['Asia/Tokyo', 'Asia/Tokyo'],
      ['', 'Europe/Lisbon'],
      ['Europe/Lisbon', 'Europe/Lisbon'],
      ['Asia/Kathmandu', 'Europe/Lisbon'],
    ] as const)
      expect(zones.filter((one) => gets(person(zone), { zone: one }) === null)).toEqual([group]);
  });

  it('has the date that it is about, once it has been; who had it in another zone does not get it again', () => {
    const ofDay = (date: string) => gets(person('Asia/Tokyo', date), { zone: 'Asia/Tokyo' });
    expect(['2000-02-29', '1990-02-28', '2027-02-28'].map(ofDay)).toEqual([null, null, null]);
    expect(['2031-02-28', '1990-03-01', ''].map(ofDay)).toEqual(['not-chosen', 'not-chosen', 'not-chosen']);
    const moved = { ...person('America/New_York'), had: [{ cue: 9, slot: '2027-02-28', zone: 'Asia/Tokyo' }] };
    expect(gets(moved, { zone: 'America/New_York' })).toBe('had-it');
    expect(gets(moved, { zone: 'America/New_York', slot: '2028-02-29' })).toBeNull();
  });

  it('is told by its slot: a date of the series, a day of people’s own, or the whole', () => {
    expect(['20270618T193000', '20270618', '2027-06-18', ''].map(occurrenceOfSlot)).toEqual([
      '20270618T193000',
      '20270618',
      '',
      '',
    ]);
    expect(['20270618', '2027-06-18', ''].map(ownDayOfSlot)).toEqual([null, '2027-06-18', null]);
  });
});
