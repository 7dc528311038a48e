import { planChanges, type KnownFiring, type WantedFiring } from './difference';
import { standbyMs } from './firing';

const now = Date.UTC(2026, 10, 26, 12);
const later = now + 3_600_000;
const want = (over: Partial<WantedFiring> = {}): WantedFiring => ({
  cueId: 1,
  slot: 'a',
  zone: '',
  dueMs: later,
  channel: 'email',
  isDraft: false,
  off: null,
  hasBegun: false,
  ...over,
});
const there = (over: Partial<KnownFiring> = {}): KnownFiring => ({
  id: 7,
  cueId: 1,
  slot: 'a',
  zone: '',
  dueMs: later,
  channel: 'email',
  state: 'set',
  held: null,
  isExpanded: false,
  ...over,
});

describe('planning as a difference', () => {
  /** What becomes of the one, in few words. */
  const becomes = (wanted: WantedFiring | null, known: KnownFiring | null): string => {
    const { create, change, remove } = planChanges(wanted ? [wanted] : [], known ? [known] : [], now);
    const say = ({ state, held, dueMs }: { state: string; held: string | null; dueMs: number }) =>
      `${state}${held ? ` ${held}` : ''}${dueMs === later ? '' : ` ${(dueMs - now) / 60_000}`}`;
    return [
      ...create.map((to) => `new ${say(to)}`),
      ...change.map(({ to }) => say(to)),
      ...remove.map(() => 'gone'),
    ].join(', ');
  };
  const soon = now + standbyMs - 1;
  const rows: [string, WantedFiring | null, KnownFiring | null, string][] = [
    ['a new one is set', want(), null, 'new set'],
    ['a new draft is a draft', want({ isDraft: true }), null, 'new draft'],
    ['a new one that is too near is missed', want({ dueMs: now }), null, 'new missed passed 0'],
    ['a new one of a date that has begun is never to be', want({ dueMs: now, hasBegun: true }), null, ''],
    ['a new one of what is off is not made', want({ off: 'event-off' }), null, ''],
    ['one that stands as it should is left alone', want(), there(), ''],
    ['one whose date is changed moves', want({ dueMs: later + 60_000 }), there(), 'set 61'],
    ['one that moves too near is missed', want({ dueMs: soon }), there(), `missed passed ${(soon - now) / 60_000}`],
    ['one that was near already fires', want({ dueMs: soon }), there({ dueMs: soon }), ''],
    ['a draft that is set is set', want(), there({ state: 'draft' }), 'set'],
    ['a set one that becomes a draft is a draft', want({ isDraft: true }), there(), 'draft'],
    ['another channel is taken over', want({ channel: 'text' }), there(), 'set'],
    ['one that a person stopped stays so', want(), there({ state: 'stopped', held: 'by-person' }), ''],
    [
      'and moves along',
      want({ dueMs: later + 60_000 }),
      there({ state: 'stopped', held: 'by-person' }),
      'stopped by-person 61',
    ],
    ['a date called off stops it', want({ off: 'date-off' }), there(), 'stopped date-off'],
    ['once', want({ off: 'date-off' }), there({ state: 'stopped', held: 'date-off' }), ''],
    ['and put back it goes on', want(), there({ state: 'stopped', held: 'date-off' }), 'set'],
    ['an event called off does not', want(), there({ state: 'stopped', held: 'event-off' }), ''],
    ['one that was missed is set when it lies ahead', want(), there({ state: 'missed', held: 'passed' }), 'set'],
    [
      'one that no worker fired keeps its reason',
      want({ dueMs: now - 1 }),
      there({ state: 'missed', held: 'no-worker', dueMs: now - 1 }),
      '',
    ],
    ['one of a date that is no more is gone', null, there(), 'gone'],
    ['unless it was to go by now', null, there({ dueMs: now }), ''],
    ['or a person stopped it', null, there({ state: 'stopped', held: 'by-person' }), ''],
    ['what went out is history', want({ dueMs: later + 1 }), there({ state: 'done', isExpanded: true }), ''],
    ['what is going out too', want({ off: 'event-off' }), there({ state: 'sending', isExpanded: true }), ''],
    ['what failed too', want(), there({ state: 'failed' }), ''],
    ['another zone group is another firing', want({ zone: 'Asia/Tokyo' }), there(), 'new set, gone'],
  ];
  for (const [what, wanted, known, expected] of rows) it(what, () => expect(becomes(wanted, known)).toBe(expected));

  it('changes nothing the second time', () => {
    for (const [, wanted, known] of rows) {
      if (!wanted) continue;
      const { create, change } = planChanges([wanted], known ? [known] : [], now);
      const made = [
        ...create.map((to) => ({ ...there(), ...to })),
        ...change.map(({ id, to }) => ({ ...there(), ...to, id })),
      ];
      const again = planChanges([wanted], made.length ? made : known ? [known] : [], now);
      expect([again.create, again.change]).withContext(JSON.stringify(wanted)).toEqual([[], []]);
    }
  });
});
