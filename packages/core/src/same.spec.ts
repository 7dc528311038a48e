import { isSame } from './same';

describe('What says the same', () => {
  const rows: readonly [string, unknown, unknown, boolean][] = [
    ['parts in another order', { a: 1, b: { c: 2, d: [3] } }, { b: { d: [3], c: 2 }, a: 1 }, true],
    ['a part that is undefined, and none', { a: 1, b: undefined }, { a: 1 }, true],
    ['a part that is null, and none', { a: 1, b: null }, { a: 1 }, false],
    ['a part under another name', { a: undefined, b: 1 }, { c: 1 }, false],
    ['members in another order', [1, 2], [2, 1], false],
    ['a list, and an object with its numbers', [1], { 0: 1 }, false],
    ['nothing, and an empty list', null, [], false],
    ['a number, and its text', 1, '1', false],
  ];
  for (const [what, a, b, expected] of rows)
    it(what, () => {
      expect(isSame(a, b)).toBe(expected);
      expect(isSame(b, a)).toBe(expected);
    });
});
