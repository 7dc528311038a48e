import type { ChosenPeople } from './sending';

/** Whom somebody chose, in words. @param lists and segments by number, with their names */
export function sayChosen(
  { lists, segments, people, exceptLists, exceptSegments, exceptPeople }: ChosenPeople,
  listNames: ReadonlyMap<number, string>,
  segmentNames: ReadonlyMap<number, string>,
): string {
  const named = (ids: readonly number[], names: ReadonlyMap<number, string>): string[] =>
    ids.flatMap((id) => names.get(id) ?? []);
  const byHand = ({ length }: readonly number[]): string[] =>
    length === 0 ? [] : [length === 1 ? 'one person by hand' : `${length} people by hand`];
  const of = [...named(lists, listNames), ...named(segments, segmentNames), ...byHand(people)];
  const less = [...named(exceptLists, listNames), ...named(exceptSegments, segmentNames), ...byHand(exceptPeople)];
  return [of.join(', ') || 'nobody', ...(less.length ? [`without ${less.join(', ')}`] : [])].join(', ');
}
