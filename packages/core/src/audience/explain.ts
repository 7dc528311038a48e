import { isSo, type PersonFacts } from './judge';
import { isGroup, treeOfSegment, type Segment } from './segment';

/** Whether each part of a segment is so of somebody, in the order in which it is read. */
export interface ExplainedPart {
  readonly path: readonly number[];
  readonly isSo: boolean;
}

/** Why somebody is in a segment, or not: every part of it, with whether it is so of them. */
export function explainSegment(
  segment: Segment,
  known: ReadonlyMap<number, Segment>,
  person: PersonFacts,
  nowMs: number,
  path: readonly number[] = [],
): ExplainedPart[] {
  const own = { path, isSo: isSo(treeOfSegment(segment, known, nowMs), person) };
  if (!isGroup(segment)) return [own];
  return [own, ...segment.of.flatMap((one, index) => explainSegment(one, known, person, nowMs, [...path, index]))];
}
