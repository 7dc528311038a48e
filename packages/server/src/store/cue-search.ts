import type { Knex } from 'knex';
import type { FoundCue } from '@convite/contract';
import { likePrefix } from './database';

/** The index of words holds none that are shorter. */
const leastIndexed = 3;
/** What the words of an index are made of; all else has a meaning of its own there. */
const notOfWords = /[^\p{L}\p{N}]+/u;

/**
 * Cues whose name begins with what was typed, or has words that begin so, the newest first. One word is looked for by the
 * index, the longest; the others are asked of what it finds.
 */
export function cueSearch(db: Knex) {
  return {
    async byWords(typed: string, most: number): Promise<FoundCue[]> {
      const [longest = '', ...others] = typed
        .split(notOfWords)
        .filter(Boolean)
        .sort((a, b) => b.length - a.length);
      if (!longest) return [];
      const found = (narrow: (query: Knex.QueryBuilder) => void): Promise<FoundCue[]> =>
        db('cue as c')
          .join('event as e', 'e.id', 'c.event_id')
          .join('event_version as v', (on) => on.on('v.event_id', 'e.id').andOn('v.number', 'e.version'))
          .where('c.is_retired', false)
          .modify(narrow)
          .orderBy('c.id', 'desc')
          .limit(most)
          .select('c.id', 'c.name', { eventId: 'c.event_id', eventTitle: db.raw(`json_value(v.facts, '$.title')`) });
      const beginning = await found((query) => query.where('c.name', 'like', likePrefix(typed)));
      if (longest.length < leastIndexed || beginning.length >= most) return beginning;
      const within = await found((query) => {
        void query.whereRaw('match (c.name) against (? in boolean mode)', `+${longest}*`);
        for (const word of others) void query.whereRaw(`concat(' ', c.name) like ?`, `% ${likePrefix(word)}`);
      });
      const known = new Set(beginning.map(({ id }) => id));
      return [...beginning, ...within.filter(({ id }) => !known.has(id))].slice(0, most);
    },
  };
}
