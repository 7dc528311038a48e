import type { WordingDocument } from './document';
import { plainTextOf } from './written';

/** A line of a message that stays, comes or goes. */
export interface LineChange {
  readonly kind: 'same' | 'added' | 'removed';
  readonly text: string;
}

/** So many lines of each are compared line by line; of longer ones, what begins and ends alike is set aside first. */
const mostCompared = 400;

/**
 * What differs between two versions of a message, line by line, as its words are written down: subject, the line beside it, then
 * the blocks. Removed lines stand before those that came in their place.
 */
export function differenceBetween(before: WordingDocument, after: WordingDocument): LineChange[] {
  const [was, is] = [linesOf(before), linesOf(after)];
  let start = 0;
  while (start < was.length && start < is.length && was[start] === is[start]) start += 1;
  let end = 0;
  while (end < was.length - start && end < is.length - start && was.at(-1 - end) === is.at(-1 - end)) end += 1;
  const same = (text: string): LineChange => ({ kind: 'same', text });
  return [
    ...was.slice(0, start).map(same),
    ...between(was.slice(start, was.length - end), is.slice(start, is.length - end)),
    ...was.slice(was.length - end).map(same),
  ];
}

const linesOf = ({ subject, preheader, blocks }: WordingDocument): string[] =>
  [subject, preheader ?? '', ...plainTextOf({ blocks }).split('\n')].filter((line) => line.trim() !== '');

/** The longest run of lines that both have in their order stays; all else went or came. */
function between(was: readonly string[], is: readonly string[]): LineChange[] {
  const gone = was.map((text): LineChange => ({ kind: 'removed', text }));
  const come = is.map((text): LineChange => ({ kind: 'added', text }));
  if (was.length > mostCompared || is.length > mostCompared) return [...gone, ...come];
  // How many lines stay from each pair of places on.
  const stays = was.map(() => is.map(() => 0));
  const at = (row: number, column: number): number => stays[row]?.[column] ?? 0;
  for (let row = was.length - 1; row >= 0; row -= 1)
    for (let column = is.length - 1; column >= 0; column -= 1) {
      const line = stays[row];
      if (line)
        line[column] =
          was[row] === is[column] ? at(row + 1, column + 1) + 1 : Math.max(at(row + 1, column), at(row, column + 1));
    }
  const changes: LineChange[] = [];
  let [row, column] = [0, 0];
  while (row < was.length || column < is.length) {
    const [mine, theirs] = [was[row], is[column]];
    if (mine !== undefined && mine === theirs) {
      changes.push({ kind: 'same', text: mine });
      row += 1;
      column += 1;
    } else if (mine !== undefined && (theirs === undefined || at(row + 1, column) >= at(row, column + 1))) {
      changes.push({ kind: 'removed', text: mine });
      row += 1;
    } else if (theirs !== undefined) {
      changes.push({ kind: 'added', text: theirs });
      column += 1;
    }
  }
  return changes;
}
