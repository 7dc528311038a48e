import type { Problem } from '../problem';
import { isWallTime, resolveWallTime } from '../time/wall-time';
import { instantsOf, timedSpan, type EventFacts, type Span } from './event';

/** What is one person's own at an event, such as a booked slot. Empty leaves what the event says. */
export interface Own {
  /** Clock reading in the event's zone. */
  readonly start: string;
  readonly end: string;
  readonly place: string;
  readonly notes: string;
  /** How often it was changed; added to the event's SEQUENCE, so that it rises for this person alone. */
  readonly revision: number;
}

/** The event as it is for a person with something of their own. A start without end takes as long as the event. */
export function personalFacts(facts: EventFacts, own: Own | null): EventFacts {
  if (!own) return facts;
  return {
    ...facts,
    ...(own.start && { span: ownSpan(facts, own) }),
    ...(own.place && { venue: own.place }),
    ...(own.notes && { description: [own.notes, facts.description].filter(Boolean).join('\n\n') }),
  };
}

function ownSpan(facts: EventFacts, { start, end }: Own): Span {
  if (end) return { kind: 'timed', start, end };
  const { startMs, endMs } = instantsOf(facts);
  const atMs = resolveWallTime(start, facts.zone);
  return timedSpan(atMs, atMs + Math.max(endMs - startMs, 60_000), facts);
}

/** What is wrong with one person's own facts. */
export function checkOwn(own: Own, path: string): Problem[] {
  const isGood = (text: string): boolean => text === '' || isWallTime(text);
  if (!isGood(own.start)) return [{ code: 'bad-date', path: `${path}, start` }];
  if (!isGood(own.end) || (own.end && !own.start)) return [{ code: 'bad-date', path: `${path}, end` }];
  if (own.end && own.end <= own.start) return [{ code: 'end-before-start', path: `${path}, end` }];
  if (own.place.length > 500) return [{ code: 'too-long', path: `${path}, place`, facts: { most: 500 } }];
  if (own.notes.length > 2000) return [{ code: 'too-long', path: `${path}, notes`, facts: { most: 2000 } }];
  return [];
}
