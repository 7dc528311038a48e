interface Kept<T> {
  readonly made: Promise<T>;
  readonly untilMs: number;
}

/** Renderings of what many ask for: made once for each state of what they show, whoever asks at the same moment. */
export interface KeptRenderings<T> {
  /** @param key names what is shown and the state it is in: another state is another key */
  of(key: string, make: () => Promise<T>): Promise<T>;
}

/**
 * @param keepMs after which it is made again whatever its state, since some of it goes by the clock
 * @param most so many are kept, the oldest going first
 */
export function keepRenderings<T>(keepMs: number, most: number): KeptRenderings<T> {
  const kept = new Map<string, Kept<T>>();
  return {
    of(key, make) {
      const found = kept.get(key);
      if (found && performance.now() < found.untilMs) return found.made;
      kept.delete(key);
      if (kept.size >= most) kept.delete(kept.keys().next().value ?? '');
      const made = make();
      kept.set(key, { made, untilMs: performance.now() + keepMs });
      made.catch(() => kept.delete(key));
      return made;
    },
  };
}
