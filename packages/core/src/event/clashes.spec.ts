import { findClashes, type PlacedDate } from './clashes';

const date = (eventId: number, from: number, to: number, venue = 'Dome'): PlacedDate => ({
  eventId,
  title: `Event ${eventId}`,
  venue,
  startMs: from,
  endMs: to,
});
const pairs = (dates: readonly PlacedDate[]): string[] =>
  findClashes(dates, 1000).map(({ first, second }) => `${first.eventId}+${second.eventId}`);

describe('Dates that want one venue', () => {
  const rows: readonly [string, readonly PlacedDate[], readonly string[]][] = [
    ['overlap', [date(1, 0, 10), date(2, 5, 15)], ['1+2']],
    ['one within the other', [date(1, 0, 100), date(2, 5, 15)], ['1+2']],
    ['the same time', [date(2, 0, 10), date(1, 0, 10)], ['1+2']],
    ['one after the other', [date(1, 0, 10), date(2, 10, 20)], []],
    ['two dates of one series', [date(1, 0, 10), date(1, 5, 15)], []],
    ['other places', [date(1, 0, 10), date(2, 5, 15, 'Hall')], []],
    ['one place, written otherwise', [date(1, 0, 10, ' Dome  1'), date(2, 5, 15, 'dome 1')], ['1+2']],
    ['nowhere', [date(1, 0, 10, ''), date(2, 5, 15, ' ')], []],
    ['a long one and all within it', [date(1, 0, 100), date(2, 5, 15), date(3, 20, 30)], ['1+2', '1+3']],
    ['three at once', [date(1, 0, 10), date(2, 1, 11), date(3, 2, 12)], ['1+2', '1+3', '2+3']],
  ];
  for (const [what, dates, expected] of rows)
    it(what, () => {
      expect(pairs(dates)).toEqual([...expected]);
      expect(pairs([...dates].reverse()).sort()).toEqual([...expected].sort());
    });

  it('agree with looking at every pair', () => {
    let seed = 11;
    const random = (below: number): number => (seed = (seed * 48_271) % 2_147_483_647) % below;
    const dates = Array.from({ length: 120 }, (_, n) => {
      const from = random(500);
      return date(n % 17, from, from + 1 + random(40), ['Dome', 'Hall', ''][random(3)]);
    });
    let expected = 0;
    dates.forEach((a, i) =>
      dates.slice(i + 1).forEach((b) => {
        if (a.venue && a.venue === b.venue && a.eventId !== b.eventId && a.startMs < b.endMs && b.startMs < a.endMs)
          expected += 1;
      }),
    );
    expect(findClashes(dates, 10_000).length).toBe(expected);
    expect(findClashes(dates, 7).length).toBe(7);
  });
});
