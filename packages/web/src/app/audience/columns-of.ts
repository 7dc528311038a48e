import type { ColumnTarget } from '@convite/core';
import type { SeenColumn } from '../workers/people-file';
import type { ChosenColumn } from './bring-columns';

/**
 * The columns of a file as they are first shown: where they went the last time, or as they are guessed. Of names of lists and
 * topics those are taken that there are; what would be new is asked about.
 */
export function columnsOf(
  seen: readonly SeenColumn[],
  around: { readonly lists: readonly string[]; readonly topics: readonly string[] },
  remembered: readonly ColumnTarget[] | null,
): ChosenColumn[] {
  return seen.map((column, id) => {
    const target = remembered?.[id] ?? column.guess.target;
    if (target.to !== 'lists' && target.to !== 'topics')
      return { ...column, id, target, doubts: remembered ? [] : column.guess.doubts };
    // As they are called here, however the file writes them.
    const words = new Set((column.words ?? []).map((word) => word.toLowerCase()));
    const names = new Map([...target.known, ...around[target.to]].map((name) => [name.toLowerCase(), name]));
    const known = [...names].flatMap(([key, name]) => (words.has(key) ? [name] : []));
    return { ...column, id, target: { to: target.to, known }, doubts: [] };
  });
}
