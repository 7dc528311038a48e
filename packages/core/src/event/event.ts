import type { Problem } from '../problem';
import { addDays, isDay, isWallTime, resolveWallTime, type Day, type WallTime } from '../time/wall-time';
import { isZone, type EpochMs } from '../time/zone';

/** When it happens: clock readings in the event's zone, or whole days. */
export type Span =
  | { readonly kind: 'timed'; readonly start: WallTime; readonly end: WallTime }
  | { readonly kind: 'all-day'; readonly firstDay: Day; readonly lastDay: Day };

/** What is happening: the facts that one version of an event holds. Nothing here says who is told. */
export interface EventFacts {
  readonly title: string;
  /** Plain text, line breaks kept. */
  readonly description: string;
  readonly zone: string;
  readonly span: Span;
  /** Name and address of the place; empty when it is online only. */
  readonly venue: string;
  /** Address to join online; empty when there is none. */
  readonly joinLink: string;
  readonly topics: readonly string[];
}

/** One numbered, never overwritten state of an event. */
export interface EventVersion {
  readonly number: number;
  /** RFC 5545 §3.8.7.4: rises when invitees must be told, never falls. */
  readonly sequence: number;
  readonly facts: EventFacts;
  readonly calledOff: boolean;
}

/** First and last instant of the event; an all-day event begins at its first midnight and ends at the one after its last day. */
export function instantsOf(facts: EventFacts): { startMs: EpochMs; endMs: EpochMs } {
  const { span, zone } = facts;
  const [start, end] =
    span.kind === 'timed' ? [span.start, span.end] : [`${span.firstDay}T00:00`, `${addDays(span.lastDay, 1)}T00:00`];
  return { startMs: resolveWallTime(start, zone), endMs: resolveWallTime(end, zone) };
}

/** Everything that is wrong with the facts, each problem at its field; empty when they can be saved. */
export function checkEvent(facts: EventFacts): Problem[] {
  const problems: Problem[] = [];
  const say = (code: Problem['code'], path: string, more?: Problem['facts']): void => {
    problems.push({ code, path, ...(more && { facts: more }) });
  };
  if (!facts.title.trim()) say('required', 'title');
  if (facts.title.length > 200) say('too-long', 'title', { most: 200 });
  if (facts.description.length > 10_000) say('too-long', 'description', { most: 10_000 });
  if (facts.venue.length > 500) say('too-long', 'venue', { most: 500 });
  if (!isZone(facts.zone)) say('unknown-zone', 'zone', { zone: facts.zone });
  if (facts.joinLink && !isWebAddress(facts.joinLink)) say('bad-link', 'joinLink');
  problems.push(...checkSpan(facts));
  return problems;
}

/** Is this an absolute http(s) address, without spaces? */
export function isWebAddress(text: string): boolean {
  return /^https?:\/\/[^\s/]+\S*$/i.test(text) && URL.canParse(text);
}

function checkSpan({ span, zone }: EventFacts): Problem[] {
  if (span.kind === 'all-day') {
    const problems: Problem[] = [];
    if (!isDay(span.firstDay)) problems.push({ code: 'bad-date', path: 'span.firstDay' });
    if (!isDay(span.lastDay)) problems.push({ code: 'bad-date', path: 'span.lastDay' });
    if (problems.length === 0 && span.lastDay < span.firstDay)
      problems.push({ code: 'end-before-start', path: 'span.lastDay' });
    return problems;
  }
  const problems: Problem[] = [];
  if (!isWallTime(span.start)) problems.push({ code: 'bad-date', path: 'span.start' });
  if (!isWallTime(span.end)) problems.push({ code: 'bad-date', path: 'span.end' });
  if (problems.length === 0 && isZone(zone) && resolveWallTime(span.end, zone) <= resolveWallTime(span.start, zone)) {
    problems.push({ code: 'end-before-start', path: 'span.end' });
  }
  return problems;
}
