/**
 * One question for all who ask at the same time: while one is being answered, whoever comes waits for the next, so that
 * each answer is as new as its question, and thousands a second cost the database some two hundred.
 * @param restMs between two questions: so long somebody may wait, and others with them
 * @param read answers many keys at once; a key without an answer is answered null. When it throws, all who wait are told
 */
export function askTogether<T>(
  read: (keys: readonly string[]) => Promise<ReadonlyMap<string, T>>,
  restMs = 4,
): (key: string) => Promise<T | null> {
  interface Round {
    readonly keys: Set<string>;
    readonly answers: Promise<ReadonlyMap<string, T>>;
  }
  let next: Round | null = null;
  let before: Promise<unknown> = Promise.resolve();
  let askedAt = -Infinity;
  const open = (): Round => {
    const keys = new Set<string>();
    const answers = before.then(async () => {
      const restedMs = performance.now() - askedAt;
      if (restedMs < restMs) await new Promise((resolve) => setTimeout(resolve, restMs - restedMs));
      askedAt = performance.now();
      next = null;
      return read([...keys]);
    });
    before = answers.catch(() => undefined);
    return { keys, answers };
  };
  return async (key) => {
    next ??= open();
    next.keys.add(key);
    return (await next.answers).get(key) ?? null;
  };
}
