import type { List, PersonField, SegmentRow } from '@convite/contract';

/** What a segment may ask about, and how it is called. */
export interface SegmentAround {
  readonly lists: readonly List[];
  readonly topics: readonly string[];
  readonly fields: readonly PersonField[];
  /** The others: it cannot ask about itself. */
  readonly segments: readonly SegmentRow[];
  /** Titles of the events that are named. */
  readonly events: ReadonlyMap<number, string>;
  /** Keeps the title of an event that was chosen. */
  noteEvent(id: number, title: string): void;
}
