/** Rests of one part of the worker, cut short when there is something to do, or when it is to end. */
export interface Rests {
  rest(ms: number): Promise<void>;
  /** Ends the rests under way. */
  wake(): void;
  /** Ends them, and all that are to come. */
  end(): void;
}

export function openRests(): Rests {
  const resting = new Set<() => void>();
  let hasEnded = false;
  const wake = (): void => {
    for (const done of [...resting]) done();
  };
  return {
    rest: (ms) =>
      hasEnded
        ? Promise.resolve()
        : new Promise((resolve) => {
            const done = (): void => {
              clearTimeout(timer);
              resting.delete(done);
              resolve();
            };
            const timer = setTimeout(done, ms);
            resting.add(done);
          }),
    wake,
    end() {
      hasEnded = true;
      wake();
    },
  };
}
