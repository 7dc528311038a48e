import type { FoundCue } from '@convite/contract';
import type { Context } from '../context';

/** Whoever looks for another types more of its name. */
const mostFound = 8;

/** Cues of any event, by words of their names. */
export const findCues = ({ store }: Pick<Context, 'store'>, search: string): Promise<FoundCue[]> =>
  store.cueSearch.byWords(search, mostFound);
