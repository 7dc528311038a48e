import { isSame } from '../same';
import { isGroup, type Segment, type SegmentCondition } from './segment';

/** What somebody who puts a segment together may not have meant. */
export type Pitfall =
  /** A part that asks nothing: a group without conditions, or a condition without a choice. */
  | { readonly kind: 'unfinished'; readonly path: readonly number[] }
  /** Everybody is in it. */
  | { readonly kind: 'everybody' }
  /** Nobody can be in it, whatever they do: `path` is where it begins. */
  | { readonly kind: 'nobody'; readonly path: readonly number[] }
  /** People who had to do with one event: they agreed to hear of that one, and not of others by it. */
  | { readonly kind: 'outcome'; readonly event: number };

/** Looks for what may not be meant. Where a segment leaves people out, what became of an event is always right. */
export function pitfallsOf(segment: Segment): Pitfall[] {
  const unfinished = unfinishedIn(segment, []);
  const outcomes = [...new Set(eventsMeant(segment, true))].map((event): Pitfall => ({ kind: 'outcome', event }));
  if (unfinished.length) return [...unfinished, ...outcomes];
  const value = constantOf(segment);
  const impossible = value === null ? impossibleIn(segment, []) : null;
  return [
    ...(value === true ? [{ kind: 'everybody' } as const] : []),
    ...(value === false
      ? [{ kind: 'nobody', path: [] } as const]
      : impossible
        ? [{ kind: 'nobody', path: impossible } as const]
        : []),
    ...outcomes,
  ];
}

function unfinishedIn(segment: Segment, path: readonly number[]): Pitfall[] {
  if (!isGroup(segment)) return isFinished(segment) ? [] : [{ kind: 'unfinished', path }];
  if (segment.of.length === 0) return [{ kind: 'unfinished', path }];
  return segment.of.flatMap((one, index) => unfinishedIn(one, [...path, index]));
}

/** Does a condition say what it asks? */
export function isFinished(condition: SegmentCondition): boolean {
  switch (condition.kind) {
    case 'list':
      return condition.lists.length > 0;
    case 'topic':
      return condition.topics.length > 0;
    case 'zone':
      return condition.zones.length > 0;
    case 'person':
      return condition.ids.length > 0;
    case 'segment':
      return condition.segments.length > 0;
    case 'answered':
      return condition.event > 0 && condition.replies.length > 0;
    case 'field': {
      const { test } = condition;
      if (condition.field <= 0) return false;
      if (test.is === 'any-of') return test.values.some((value) => value.trim() !== '');
      if (test.is === 'begins-with') return test.text.trim() !== '';
      if (test.is === 'day-of-year') return test.days.length > 0;
      return test.is === 'filled' || test.from !== null || test.to !== null;
    }
    case 'consent':
    case 'got':
      return true;
    default:
      return condition.event > 0;
  }
}

/** What a segment is of everybody, where it is the same for all: by groups of groups, and by what contradicts itself. */
function constantOf(segment: Segment): boolean | null {
  if (!isGroup(segment)) return isImpossible(segment) ? false : null;
  const values = segment.of.map(constantOf);
  if (segment.kind === 'all') {
    if (values.includes(false) || contradicts(segment.of)) return false;
    return values.every((value) => value === true) ? true : null;
  }
  const isAny = values.includes(true) || complement(segment.of);
  const isNone = values.every((value) => value === false);
  if (segment.kind === 'any') return isAny ? true : isNone ? false : null;
  return isAny ? false : isNone ? true : null;
}

/** One condition, and that it is not so, beside each other. */
function contradicts(of: readonly Segment[]): boolean {
  return of.some((one) => one.kind === 'none' && one.of.some((left) => of.some((other) => isSame(other, left))));
}
const complement = (of: readonly Segment[]): boolean =>
  of.some((one) => one.kind === 'none' && one.of.length === 1 && of.some((other) => isSame(other, one.of[0])));

/** A span that ends before it begins. */
function isImpossible(condition: SegmentCondition): boolean {
  if (condition.kind !== 'field') return false;
  const { test } = condition;
  if (test.is !== 'number' && test.is !== 'date') return false;
  return test.from !== null && test.to !== null && test.from > test.to;
}

function impossibleIn(segment: Segment, path: readonly number[]): readonly number[] | null {
  if (!isGroup(segment)) return isImpossible(segment) ? path : null;
  for (const [index, one] of segment.of.entries()) {
    const found = impossibleIn(one, [...path, index]);
    if (found) return found;
  }
  return segment.kind !== 'none' && constantOf(segment) === false ? path : null;
}

/** Events whose outcome brings people in, rather than leaving them out. */
function eventsMeant(segment: Segment, isIn: boolean): number[] {
  if (isGroup(segment)) return segment.of.flatMap((one) => eventsMeant(one, segment.kind === 'none' ? !isIn : isIn));
  const isOutcome =
    segment.kind === 'answered' ||
    segment.kind === 'registered' ||
    segment.kind === 'waitlisted' ||
    segment.kind === 'in-person' ||
    segment.kind === 'online' ||
    segment.kind === 'attended' ||
    segment.kind === 'no-show' ||
    segment.kind === 'invited';
  return isOutcome && isIn && segment.event > 0 ? [segment.event] : [];
}
