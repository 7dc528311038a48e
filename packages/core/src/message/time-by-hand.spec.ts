import { timesIn } from './time-by-hand';

// How people write times in the house's languages: common practice, from memory.
describe('times of day that somebody typed', () => {
  const rows: readonly [typed: string, times: readonly string[]][] = [
    ['Doors open at 19:00.', ['19:00']],
    ['We begin at 9:05, or at 21:30', ['09:05', '21:30']],
    ['às 19h30, na cúpula', ['19:30']],
    ['a partir das 19h', ['19:00']],
    ['à 19 h 30', ['19:30']],
    ['um 19.30 Uhr', ['19:30']],
    ['um 19 Uhr', ['19:00']],
    ['at 7 pm', ['19:00']],
    ['at 7:30 p.m. sharp', ['19:30']],
    ['12 am and 12 pm', ['00:00', '12:00']],
    ['from 20:00–22:00', ['20:00', '22:00']],
    // What is none.
    ['€12.50 at the door, 3.5 km away', []],
    ['It costs 19.30', []],
    ['Room 12, seats 40', []],
    ['25:00 and 19:75 and 13 pm', []],
    ['Ratio 16:9, 2026-11-27, 1:2:3, 192.168.19.30:80', []],
    ['https://a.example/19:00?at=20:30', []],
    ['lasts 2h30m, or 3h, or 3 h', []],
    ['19:00h', ['19:00']],
    ['Psalm 119:30', []],
    ['', []],
  ];
  for (const [typed, times] of rows)
    it(`“${typed}”`, () => expect(timesIn(typed).map(({ time }) => time)).toEqual([...times]));

  it('takes a step for each character of what is pasted, not one for each pair of them', () => {
    const took = (length: number): number => {
      const text = '19 '.repeat(length) + '1:'.repeat(length) + '9h'.repeat(length);
      const before = performance.now();
      timesIn(text);
      return performance.now() - before;
    };
    took(2_000);
    // Ten times as long takes ten times as long; a step for each pair would take a hundred times.
    expect(took(20_000)).toBeLessThan(50 * Math.max(1, took(2_000)));
  });
});
