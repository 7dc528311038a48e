import type { Knex } from 'knex';
import { isDuplicate, readJson } from './database';

/** What was asked once already, by the key that whoever asks gave it. */
export function requestStore(db: Knex) {
  return {
    /**
     * Takes a key inside a transaction: null when it is new, else what was answered. Whoever asks the same at the same
     * moment waits here until the first is done.
     */
    async take(key: string, now: Date): Promise<{ readonly answer: unknown } | null> {
      try {
        await db('request_key').insert({ key, at: now });
        return null;
      } catch (error) {
        if (!isDuplicate(error)) throw error;
        const row: { answer: unknown } | undefined = await db('request_key').where({ key }).first('answer');
        return { answer: row ? readJson(row.answer) : null };
      }
    },
    async keep(key: string, answer: unknown): Promise<void> {
      await db('request_key')
        .where({ key })
        .update({ answer: JSON.stringify(answer ?? null) });
    },
    async forget(now: Date): Promise<void> {
      await db('request_key')
        .where('at', '<', new Date(now.getTime() - 2 * 86_400_000))
        .limit(5000)
        .delete();
    },
  };
}
