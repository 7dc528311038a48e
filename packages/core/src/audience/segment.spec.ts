import { explainSegment } from './explain';
import { pitfallsOf, type Pitfall } from './pitfalls';
import { saySegment, type SegmentNames } from './say-segment';
import { namesItself, sizeOfSegment, treeOfSegment, withSegments, type Segment } from './segment';
import type { PersonFacts } from './judge';

const list = (...lists: number[]): Segment => ({ kind: 'list', lists });
const all = (...of: Segment[]): Segment => ({ kind: 'all', of });
const any = (...of: Segment[]): Segment => ({ kind: 'any', of });
const none = (...of: Segment[]): Segment => ({ kind: 'none', of });
const inSegment = (...segments: number[]): Segment => ({ kind: 'segment', segments });
const yesTo = (event: number, withinDays: number | null = null): Segment => ({
  kind: 'answered',
  event,
  replies: ['accepted'],
  withinDays,
});
const aged = (from: number | null, to: number | null): Segment => ({
  kind: 'field',
  field: 5,
  test: { is: 'number', from, to },
});
const dayMs = 86_400_000;

describe('a segment', () => {
  const known = new Map<number, Segment>([
    [1, list(10)],
    [2, all(inSegment(1), none(inSegment(3)))],
    [3, yesTo(7, 90)],
  ]);

  it('becomes a tree of what is so now, with those that it names in their place', () => {
    expect(treeOfSegment(inSegment(2), known, 100 * dayMs)).toEqual({
      kind: 'any',
      of: [
        {
          kind: 'all',
          of: [
            { kind: 'any', of: [{ kind: 'list', lists: [10] }] },
            {
              kind: 'none',
              of: [
                { kind: 'any', of: [{ kind: 'answered-any', event: 7, replies: ['accepted'], sinceMs: 10 * dayMs }] },
              ],
            },
          ],
        },
      ],
    });
    // One that is gone is nobody, and no chain is followed for ever.
    expect(treeOfSegment(inSegment(9), known, 0)).toEqual({ kind: 'any', of: [] });
    expect(JSON.stringify(treeOfSegment(inSegment(4), new Map([[4, inSegment(4)]]), 0)).length).toBeLessThan(500);
    expect(withSegments({ kind: 'none', of: [{ kind: 'segment', segments: [1] }] }, known, 0)).toEqual({
      kind: 'none',
      of: [{ kind: 'any', of: [{ kind: 'list', lists: [10] }] }],
    });
  });

  it('knows when it would name itself, over others too', () => {
    expect(namesItself(1, inSegment(2), known)).toBeTrue();
    expect(namesItself(5, inSegment(2), known)).toBeFalse();
    expect(namesItself(5, all(inSegment(5)), known)).toBeTrue();
  });

  it('is as large as it is', () => {
    expect(sizeOfSegment(all(list(1), any(list(2), none(list(3)))))).toEqual({ parts: 6, depth: 4 });
  });

  it('explains of somebody each of its parts', () => {
    const person: PersonFacts = {
      ...{
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
      },
      ...{ zone: '', lists: [10], topics: [], fields: new Map(), guestOf: new Map(), got: [], had: [] },
    };
    expect(explainSegment(all(inSegment(1), yesTo(7)), known, person, 0)).toEqual([
      { path: [], isSo: false },
      { path: [0], isSo: true },
      { path: [1], isSo: false },
    ]);
  });
});

describe('a segment in words', () => {
  const names: SegmentNames = {
    list: (id) => `list ${id}`,
    event: (id) => `event ${id}`,
    field: () => 'Age',
    segment: (id) => `segment ${id}`,
  };
  const rows: [Segment, string][] = [
    [
      all(list(1), yesTo(7, 90), none(list(2))),
      'on list 1 and answered yes to event 7 in the last 90 days, but not on list 2',
    ],
    [all(list(1), any(list(2), list(3, 4))), 'on list 1 and (on list 2 or on list 3 or list 4)'],
    [any(list(1), list(2), all(list(3), none(list(4)))), 'on list 1, on list 2 or (on list 3, but not on list 4)'],
    [none(list(1), list(2)), 'not on list 1 or on list 2'],
    [all(none(list(1))), 'everybody, but not on list 1'],
    [all(), 'everybody'],
    [any(), 'nobody'],
    [aged(18, null), 'Age is 18 or more'],
    [aged(18, 30), 'Age is from 18 to 30'],
    [{ kind: 'field', field: 5, test: { is: 'date', from: null, to: '2026-01-01' } }, 'Age is 2026-01-01 or earlier'],
    [{ kind: 'field', field: 5, test: { is: 'any-of', values: ['a', 'b'] } }, 'Age is a or b'],
    [{ kind: 'field', field: 0, test: { is: 'filled' } }, '… is filled in'],
    [{ kind: 'answered', event: 0, replies: [], withinDays: 1 }, 'answered … to … in the last day'],
    [{ kind: 'got', message: 'digest', event: null, withinDays: 30 }, 'got a digest in the last 30 days'],
    [{ kind: 'got', message: 'cue', event: 3, withinDays: 7 }, 'got a cue about event 3 in the last 7 days'],
    [{ kind: 'no-show', event: 3 }, 'was expected at event 3, and did not come'],
    [{ kind: 'zone', zones: ['Europe/Lisbon', 'Asia/Tokyo'] }, 'in the time of Lisbon or Tokyo'],
    [{ kind: 'person', ids: [1, 2] }, '2 people by hand'],
    [inSegment(2), 'in segment 2'],
  ];
  for (const [segment, words] of rows) it(words, () => expect(saySegment(segment, names)).toBe(words));
});

describe('pitfalls of a segment', () => {
  const outcome = (event: number): Pitfall => ({ kind: 'outcome', event });
  const rows: [string, Segment, Pitfall[]][] = [
    ['none', all(list(1), none(list(2))), []],
    ['a group without conditions', all(list(1), any()), [{ kind: 'unfinished', path: [1] }]],
    ['a condition without a choice', all({ kind: 'list', lists: [] }), [{ kind: 'unfinished', path: [0] }]],
    ['a field without a span', all(aged(null, null)), [{ kind: 'unfinished', path: [0] }]],
    ['everybody: this or not this', any(list(1), none(list(1))), [{ kind: 'everybody' }]],
    ['everybody: none of what nobody is', none(all(list(1), none(list(1)))), [{ kind: 'everybody' }]],
    ['nobody: this and not this', all(list(1), none(list(1), list(2))), [{ kind: 'nobody', path: [] }]],
    ['nobody: a span that ends before it begins', all(list(1), aged(30, 18)), [{ kind: 'nobody', path: [] }]],
    ['a part that nobody can be in', any(list(1), aged(30, 18)), [{ kind: 'nobody', path: [1] }]],
    ['what became of an event, to bring people in', all(list(1), yesTo(7)), [outcome(7)]],
    [
      'each event once',
      any(yesTo(7), { kind: 'attended', event: 7 }, { kind: 'no-show', event: 8 }),
      [outcome(7), outcome(8)],
    ],
    ['what became of an event, to leave people out', all(list(1), none(yesTo(7))), []],
    ['leaving out who was left out', none(none(yesTo(7))), [outcome(7)]],
  ];
  for (const [what, segment, found] of rows) it(what, () => expect(pitfallsOf(segment)).toEqual(found));
});
