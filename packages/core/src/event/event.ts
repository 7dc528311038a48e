import { addDays, readingAt, resolveWallTime, type Day, type WallTime } from '../time/wall-time';
import type { EpochMs } from '../time/zone';
import { plainEntry, type Entry } from './entry';
import type { Registration } from './registration';

/** What differs on one date of a series; null leaves what the series says. */
export interface OccurrenceChange {
  /** The start that the rule gives: a clock reading, or a day when all day. Names the occurrence for good. */
  readonly at: WallTime | Day;
  readonly calledOff: boolean;
  readonly span: Span | null;
  readonly title: string | null;
  readonly description: string | null;
  readonly venue: string | null;
  readonly joinLink: string | null;
}

/** How an event repeats. The first date is the event's own span. */
export interface Series {
  /** A recurrence rule as `writeRule` keeps it; empty when only added dates repeat it. */
  readonly rule: string;
  /** Starts beside those of the rule. */
  readonly added: readonly (WallTime | Day)[];
  readonly exceptions: readonly OccurrenceChange[];
}

export type TimedSpan = Extract<Span, { readonly kind: 'timed' }>;

/** When it happens: clock readings in the event's zone, or whole days. */
export type Span =
  | {
      readonly kind: 'timed';
      readonly start: WallTime;
      readonly end: WallTime;
      /** Which of the two is a reading's second coming, on the night that clocks go back; absent on every other. */
      readonly again?: 'start' | 'end' | 'both' | undefined;
    }
  | { readonly kind: 'all-day'; readonly firstDay: Day; readonly lastDay: Day };

/** What is happening: the facts that one version of an event holds. Nothing here says who is told. */
export interface EventFacts {
  readonly title: string;
  /** Plain text, line breaks kept. */
  readonly description: string;
  readonly zone: string;
  /** Zone of the end when it is another one, such as for a journey; empty when it is the same. */
  readonly endZone: string;
  readonly span: Span;
  /** Null for a one-off. */
  readonly series: Series | null;
  /** Name and address of the place; empty when it is online only. */
  readonly venue: string;
  /** Address to join online; empty when there is none. */
  readonly joinLink: string;
  readonly topics: readonly string[];
  /** How the calendar entry is written. */
  readonly entry: Entry;
  /** Everybody has a time, place or note of their own, such as a booked slot. */
  readonly isPersonal: boolean;
  /** Null when nobody puts themselves down on the event's page. */
  readonly registration: Registration | null;
}

/** Facts that say nothing yet, to build on. */
export const blankFacts: EventFacts = {
  title: '',
  description: '',
  zone: 'UTC',
  endZone: '',
  span: { kind: 'timed', start: '', end: '' },
  series: null,
  venue: '',
  joinLink: '',
  topics: [],
  entry: plainEntry,
  isPersonal: false,
  registration: null,
};

/** One numbered, never overwritten state of an event. */
export interface EventVersion {
  readonly number: number;
  /** RFC 5545 §3.8.7.4: rises when invitees must be told, never falls. */
  readonly sequence: number;
  readonly facts: EventFacts;
  readonly calledOff: boolean;
}

/** First and last instant of the event; an all-day event begins at its first midnight and ends at the one after its last day. */
export function instantsOf(facts: Pick<EventFacts, 'span' | 'zone' | 'endZone'>): { startMs: EpochMs; endMs: EpochMs } {
  const { span, zone, endZone } = facts;
  if (span.kind === 'timed')
    return {
      startMs: resolveWallTime(span.start, zone, isAgain(span, 'start')),
      endMs: resolveWallTime(span.end, endZone || zone, isAgain(span, 'end')),
    };
  return {
    startMs: resolveWallTime(`${span.firstDay}T00:00`, zone),
    endMs: resolveWallTime(`${addDays(span.lastDay, 1)}T00:00`, zone),
  };
}

/** Is that end of the span a reading's second coming? */
export const isAgain = (span: Span, side: 'start' | 'end'): boolean =>
  span.kind === 'timed' && (span.again === side || span.again === 'both');

/** The span between two instants: the same instants again by `instantsOf`, to the minute. */
export function timedSpan(
  startMs: EpochMs,
  endMs: EpochMs,
  { zone, endZone }: Pick<EventFacts, 'zone' | 'endZone'>,
): TimedSpan {
  const [start, end] = [readingAt(startMs, zone), readingAt(endMs, endZone || zone)];
  const again = start.isAgain ? (end.isAgain ? 'both' : 'start') : end.isAgain ? 'end' : null;
  return { kind: 'timed', start: start.wall, end: end.wall, ...(again && { again }) };
}

/** The start as it stands in the facts: a clock reading, or a day. */
export const startOf = (span: Span): WallTime | Day => (span.kind === 'timed' ? span.start : span.firstDay);
