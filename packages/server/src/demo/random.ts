/** A small seeded generator (mulberry32), so that the demonstration is the same for everybody. */
export interface Random {
  /** 0 ≤ x < 1 */
  next(): number;
  below(limit: number): number;
  pick<T>(items: readonly T[]): T;
  chance(probability: number): boolean;
}

export function seededRandom(seed: number): Random {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
  const below = (limit: number): number => Math.floor(next() * limit);
  return {
    next,
    below,
    pick: (items) => {
      const item = items[below(items.length)];
      if (item === undefined) throw new RangeError('nothing to pick from');
      return item;
    },
    chance: (probability) => next() < probability,
  };
}
