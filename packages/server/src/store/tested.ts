import { createHash } from 'node:crypto';
import type { Knex } from 'knex';
import type { Channel, WordingDocument } from '@convite/core';

/** What a message says, in 43 letters: the same words by the same channel have the same mark. */
export const testMark = (channel: Channel, wording: WordingDocument): string =>
  createHash('sha256')
    .update(JSON.stringify([channel, wording]))
    .digest('base64url');

/** Which messages of an event somebody tried out, as they stand: a test before saving counts, one of other words does not. */
export function testedStore(db: Knex) {
  return {
    async note(eventId: number, mark: string, at: Date): Promise<void> {
      await db('tested').insert({ event_id: eventId, mark, at }).onConflict().merge(['at']);
    },
    async among(eventId: number, marks: readonly string[]): Promise<Set<string>> {
      return new Set<string>(
        await db('tested')
          .where({ event_id: eventId })
          .whereIn('mark', [...marks])
          .pluck('mark'),
      );
    },
  };
}
