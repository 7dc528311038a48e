import type { StoreSubjects } from '../../store/store';
import { nowOf, type Context } from '../context';

/**
 * Does a deliberate sending once, however often it is asked for: by two presses, two tabs, or a retry after a lost answer.
 * The key and the work are stored together, or neither is.
 * @param key given by whoever asks, the same for the same wish; null where it may be done again
 * @returns what the first answer was
 */
export function once(
  context: Context,
  key: string | null,
  work: (tx: StoreSubjects) => Promise<number>,
): Promise<number> {
  return context.store.transact(async (tx) => {
    const before = key === null ? null : await tx.requests.take(key, nowOf(context));
    if (before) return Number(before.answer);
    const answer = await work(tx);
    if (key !== null) await tx.requests.keep(key, answer);
    return answer;
  });
}
