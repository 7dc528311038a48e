import { composeIssue, windowOf, type UpcomingEvent } from '../digest/issue';
import { nextIssues } from '../digest/rhythm';
import { blankFacts, type EventFacts } from '../event/event';
import { resolveWallTime, wallTimeAt } from '../time/wall-time';
import { planFiring, standbyMs, visibleState } from './firing';
import { dateDueNext } from './plan';

const now = Date.UTC(2026, 10, 24, 12);

describe('firings', () => {
  it('cannot be set less than ten minutes ahead, and stand by for ten (common practice)', () => {
    expect(planFiring(now + standbyMs, now, false)).toBe('set');
    expect(planFiring(now + standbyMs - 1, now, false)).toBe('missed');
    expect(planFiring(now + standbyMs, now, true)).toBe('draft');
    expect(visibleState('set', now + standbyMs + 1, now)).toBe('set');
    expect(visibleState('set', now + standbyMs, now)).toBe('standby');
    expect(visibleState('stopped', now, now)).toBe('stopped');
  });
});

describe('The date that a cue is about next', () => {
  const zone = 'Europe/Lisbon';
  const nowMs = resolveWallTime('2026-11-27T08:40', zone);
  const fridays = (over: Partial<EventFacts> = {}): EventFacts => ({
    ...blankFacts,
    zone,
    span: { kind: 'timed', start: '2026-11-13T20:30', end: '2026-11-13T23:00' },
    series: { rule: 'FREQ=WEEKLY', added: [], exceptions: [] },
    ...over,
  });
  const monthly = { rule: 'FREQ=MONTHLY;BYDAY=1FR', added: [], exceptions: [] };
  const ended = { rule: 'FREQ=WEEKLY;COUNT=1', added: [], exceptions: [] };
  const dropped = {
    rule: 'FREQ=WEEKLY',
    added: [],
    exceptions: [
      {
        at: '2026-12-04T20:30',
        calledOff: true,
        span: null,
        title: null,
        description: null,
        venue: null,
        joinLink: null,
      },
    ],
  };
  const moment = (amount: number, unit: 'hours' | 'days' | 'weeks', direction: 'before' | 'after', at: string | null) =>
    ({ kind: 'relative', amount, unit, direction, anchor: 'start', at }) as const;
  const rows: readonly [string, Parameters<typeof dateDueNext>[0], EventFacts, string | undefined][] = [
    ['two hours before: tonight', moment(2, 'hours', 'before', null), fridays(), '20261127T203000'],
    [
      'a day before: the next one, tonight’s is over',
      moment(24, 'hours', 'before', null),
      fridays(),
      '20261204T203000',
    ],
    [
      'a week before at ten: due today, for the next',
      moment(1, 'weeks', 'before', '10:00'),
      fridays(),
      '20261204T203000',
    ],
    [
      'a week after at ten: due today, for the last',
      moment(1, 'weeks', 'after', '10:00'),
      fridays(),
      '20261120T203000',
    ],
    [
      'not of one that is called off',
      moment(24, 'hours', 'before', null),
      fridays({ series: dropped }),
      '20261211T203000',
    ],
    [
      'seven weeks before of a monthly one',
      moment(7, 'weeks', 'before', null),
      fridays({ series: monthly }),
      '20270205T203000',
    ],
    ['of a series that is over: none', moment(2, 'hours', 'before', null), fridays({ series: ended }), undefined],
    ['fixed: the date that is next', { kind: 'fixed', wall: '2027-01-01T10:00' }, fridays(), '20261127T203000'],
  ];
  for (const [what, of, facts, key] of rows) it(what, () => expect(dateDueNext(of, facts, nowMs)?.key).toBe(key));
});

describe('digests', () => {
  const friday = resolveWallTime('2026-11-27T13:00', 'Europe/Lisbon');
  const event = (id: number, start: string, topics: string[] = []): UpcomingEvent => ({
    id,
    facts: {
      ...blankFacts,
      title: `e${id}`,
      zone: 'Europe/Lisbon',
      span: { kind: 'timed', start, end: '2027-01-01T00:00' },
      topics,
    },
  });

  it('sent on a Friday with 10 days show this weekend, next week and the weekend after (common practice)', () => {
    const events = [
      event(1, '2026-11-27T12:59'),
      event(2, '2026-11-28T20:00'),
      event(3, '2026-12-06T23:59'),
      event(4, '2026-12-07T10:00'),
      event(5, '2026-12-08T00:00'),
    ];
    const days = composeIssue(events, windowOf(friday, 10, 'Europe/Lisbon'), 'Europe/Lisbon', []);
    expect(days?.map(({ day, events: list }) => [day, list.map(({ id }) => id)])).toEqual([
      ['2026-11-28', [2]],
      ['2026-12-06', [3]],
      ['2026-12-07', [4]],
    ]);
  });

  it('are nothing when there is nothing, or nothing in the topics asked for', () => {
    const window = windowOf(friday, 10, 'Europe/Lisbon');
    expect(composeIssue([], window, 'Europe/Lisbon', [])).toBeNull();
    expect(composeIssue([event(1, '2026-11-28T20:00', ['moon'])], window, 'Europe/Lisbon', ['pulsars'])).toBeNull();
    expect(
      composeIssue([event(1, '2026-11-28T20:00', ['moon'])], window, 'Europe/Lisbon', ['pulsars', 'moon'])?.length,
    ).toBe(1);
  });

  it('keep the clock time across a clock change and never go twice in one week', () => {
    const issues = nextIssues(
      { weekday: 5, at: '13:00', zone: 'Europe/Lisbon' },
      resolveWallTime('2026-10-16T13:00', 'Europe/Lisbon'),
      3,
    );
    expect(issues.map((ms) => wallTimeAt(ms, 'Europe/Lisbon'))).toEqual([
      '2026-10-23T13:00',
      '2026-10-30T13:00',
      '2026-11-06T13:00',
    ]);
  });
});
