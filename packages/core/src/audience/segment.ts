import type { ReplyState } from '../reply-state';
import type { FieldTest } from './field';
import type { MessageKind, Tree } from './tree';

/** What may be asked of people in a segment: what a tree knows, with times that go along with the day it is asked. */
export type SegmentCondition =
  | { readonly kind: 'list'; readonly lists: readonly number[] }
  | { readonly kind: 'topic'; readonly topics: readonly string[] }
  | { readonly kind: 'field'; readonly field: number; readonly test: FieldTest }
  | { readonly kind: 'consent'; readonly channel: 'email' | 'text' }
  | { readonly kind: 'zone'; readonly zones: readonly string[] }
  /** Answered so for the whole of the event or for any of its dates; within so many days, or ever when null. */
  | {
      readonly kind: 'answered';
      readonly event: number;
      readonly replies: readonly ReplyState[];
      readonly withinDays: number | null;
    }
  | {
      readonly kind: 'registered' | 'waitlisted' | 'in-person' | 'online' | 'attended' | 'no-show' | 'invited';
      readonly event: number;
    }
  | { readonly kind: 'got'; readonly message: MessageKind; readonly event: number | null; readonly withinDays: number }
  | { readonly kind: 'person'; readonly ids: readonly number[] }
  /** Is in one of these segments. */
  | { readonly kind: 'segment'; readonly segments: readonly number[] };

export type Segment =
  | SegmentCondition
  | { readonly kind: 'all'; readonly of: readonly Segment[] }
  | { readonly kind: 'any'; readonly of: readonly Segment[] }
  | { readonly kind: 'none'; readonly of: readonly Segment[] };

/** A segment is put together no deeper, and of no more parts, than somebody can read; and names others no further. */
export const segmentBounds = { depth: 6, parts: 60, chain: 8 } as const;

export const isGroup = (segment: Segment): segment is Extract<Segment, { of: readonly Segment[] }> => 'of' in segment;

const dayMs = 86_400_000;

/**
 * A segment as a tree of what is so now. Others that it names are put in their place; one that is gone by now is nobody.
 * @param known every segment that may be named, by its number
 */
export function treeOfSegment(segment: Segment, known: ReadonlyMap<number, Segment>, nowMs: number, chain = 0): Tree {
  if (isGroup(segment))
    return { kind: segment.kind, of: segment.of.map((one) => treeOfSegment(one, known, nowMs, chain)) };
  switch (segment.kind) {
    case 'segment':
      return {
        kind: 'any',
        of: segment.segments.flatMap((id) => {
          const named = known.get(id);
          return named && chain < segmentBounds.chain ? [treeOfSegment(named, known, nowMs, chain + 1)] : [];
        }),
      };
    case 'answered': {
      const { event, replies, withinDays } = segment;
      return { kind: 'answered-any', event, replies, sinceMs: withinDays === null ? null : nowMs - withinDays * dayMs };
    }
    case 'got': {
      const { message, event, withinDays } = segment;
      return { kind: 'got', message, event, sinceMs: nowMs - withinDays * dayMs };
    }
    case 'registered':
    case 'waitlisted':
    case 'in-person':
    case 'online':
    case 'attended':
    case 'no-show':
      return { kind: segment.kind, about: { event: segment.event, date: '' } };
    case 'invited':
      return { kind: 'invited', event: segment.event };
    default:
      return segment;
  }
}

/** A tree in which every segment that it names is put in its place. */
export function withSegments(tree: Tree, known: ReadonlyMap<number, Segment>, nowMs: number): Tree {
  if (tree.kind === 'segment') return treeOfSegment(tree, known, nowMs);
  return 'of' in tree ? { kind: tree.kind, of: tree.of.map((one) => withSegments(one, known, nowMs)) } : tree;
}

/** Does any condition in one ask for this? */
export const asks = (segment: Segment, is: (condition: SegmentCondition) => boolean): boolean =>
  isGroup(segment) ? segment.of.some((one) => asks(one, is)) : is(segment);

/** Every event that one asks about. */
export function eventsIn(segment: Segment): number[] {
  if (isGroup(segment)) return segment.of.flatMap(eventsIn);
  return 'event' in segment && segment.event !== null && segment.event > 0 ? [segment.event] : [];
}

/** Every segment that one names by itself. */
export function segmentsIn(segment: Segment | Tree): number[] {
  if (segment.kind === 'segment') return [...segment.segments];
  return 'of' in segment ? segment.of.flatMap(segmentsIn) : [];
}

/** Whether a segment would name itself, over however many others, if it were this. */
export function namesItself(id: number, segment: Segment, known: ReadonlyMap<number, Segment>): boolean {
  const seen = new Set<number>();
  const waiting = segmentsIn(segment);
  for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
    if (next === id) return true;
    const other = known.get(next);
    if (!other || seen.has(next)) continue;
    seen.add(next);
    waiting.push(...segmentsIn(other));
  }
  return false;
}

/** Parts in all, and how deep they are put into each other. */
export function sizeOfSegment(segment: Segment): { readonly parts: number; readonly depth: number } {
  if (!isGroup(segment)) return { parts: 1, depth: 1 };
  const sizes = segment.of.map(sizeOfSegment);
  return {
    parts: 1 + sizes.reduce((sum, { parts }) => sum + parts, 0),
    depth: 1 + sizes.reduce((most, { depth }) => Math.max(most, depth), 0),
  };
}
