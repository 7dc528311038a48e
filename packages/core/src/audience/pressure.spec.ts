import { hadEnough, heldBackUnder, limitOf, noPressure, pressureWindowMs, type Counted, type Limit } from './pressure';

const day = 86_400_000;
const now = 100 * day;
const sent = (...daysAgo: number[]): Counted[] =>
  daysAgo.map((ago, index) => ({ firing: index + 1, atMs: now - ago * day }));
const limit = (over: Partial<Limit> = {}): Limit => ({
  perWeek: 3,
  sinceMs: now - pressureWindowMs,
  firing: 50,
  spares: null,
  ...over,
});

describe('contact pressure', () => {
  const rows: [string, number | null, Counted[], Partial<Limit>, boolean][] = [
    ['as many as the house allows', null, sent(1, 2, 3), {}, true],
    ['one fewer', null, sent(1, 2), {}, false],
    ['the seventh day to the millisecond still counts', null, sent(1, 2, 7), {}, true],
    ['a millisecond earlier does not', null, [...sent(1, 2), { firing: 9, atMs: now - 7 * day - 1 }], {}, false],
    ['without a limit of either', null, sent(1, 1, 1, 1, 1, 1), { perWeek: null }, false],
    ['their own is stricter', 1, sent(2), {}, true],
    ['the house is stricter', 9, sent(1, 2, 3), {}, true],
    ['their own alone', 2, sent(1, 2), { perWeek: null }, true],
    ['the firing’s own messages do not count', 1, [{ firing: 50, atMs: now }], { perWeek: null }, false],
    ['what is on its way and began before counts', 1, [{ firing: 49, atMs: null }], {}, true],
    ['what is on its way and began later gives way itself', 1, [{ firing: 51, atMs: null }], {}, false],
    ['for whoever looks ahead, nothing is on its way', 1, [{ firing: 49, atMs: null }], { firing: null }, false],
  ];
  for (const [what, mostPerWeek, counted, over, expected] of rows)
    it(`${expected ? 'holds back' : 'lets go'}: ${what}`, () =>
      void expect(hadEnough({ mostPerWeek, counted }, limit(over))).toBe(expected));

  it('is no limit for answers, confirmations, changes and call-offs, and spares those who come of reminders alone', () => {
    const asked = { event: 4, firing: 1, atMs: now };
    const spared = (kind: 'cue' | 'digest' | 'invitation' | 'answer' | 'notice') => {
      const found = limitOf({ perWeek: 3, sparesComers: true }, { ...asked, kind });
      return found === null ? 'no limit' : found.spares !== null;
    };
    expect((['answer', 'notice', 'cue', 'digest', 'invitation'] as const).map(spared)).toEqual([
      'no limit',
      'no limit',
      true,
      false,
      false,
    ]);
    expect(limitOf({ ...noPressure, sparesComers: false }, { ...asked, kind: 'cue' })?.spares).toBeNull();
    expect(limitOf(noPressure, { ...asked, kind: 'cue', event: null })?.spares).toBeNull();
  });

  it('says what a limit would have held back: what was held back does not count itself', () => {
    const times = [0, 1, 2, 3, 8, 8.5, 20].map((at) => at * day);
    // By hand: of one a week, days 0, 8 and 20 stay; of two, 0, 1, 8, 8.5 and 20 do.
    expect([1, 2, 3, 7].map((most) => heldBackUnder(most, times))).toEqual([4, 2, 1, 0]);
  });
});
