import { sayDay, sayInstant } from '../time/say';
import { instantsOf, type EventFacts, type EventVersion } from './event';

export const changedFields = [
  'title',
  'start',
  'end',
  'zone',
  'venue',
  'joinLink',
  'description',
  'topics',
  'calledOff',
] as const;
export type ChangedField = (typeof changedFields)[number];

/** One thing that differs between two versions, in words people read. */
export interface Difference {
  readonly field: ChangedField;
  readonly before: string;
  readonly after: string;
}

/** Changes that make somebody arrive at the wrong time or place: RFC 5546 §2.1.4 names time; place is our own rule. */
const revisionFields: ReadonlySet<ChangedField> = new Set(['start', 'end', 'zone', 'venue', 'joinLink', 'calledOff']);

/** What differs between two versions of an event, in the order people ask: when, where, what. */
export function differencesBetween(before: EventVersion, after: EventVersion): Difference[] {
  const differences: Difference[] = [];
  for (const field of changedFields) {
    const [was, is] = [valueOf(before, field), valueOf(after, field)];
    if (was !== is) differences.push({ field, before: was, after: is });
  }
  return differences;
}

/** Must everybody who holds the old version hear of it? */
export const matters = (differences: readonly Difference[]): boolean =>
  differences.some((difference) => revisionFields.has(difference.field));

/** The version that follows, with its number and SEQUENCE (RFC 5546 §2.1.4), or null when nothing differs. */
export function nextVersion(
  current: EventVersion,
  facts: EventFacts,
  calledOff = current.calledOff,
): EventVersion | null {
  const next = { number: current.number + 1, sequence: current.sequence, facts, calledOff };
  const differences = differencesBetween(current, next);
  if (differences.length === 0) return null;
  return { ...next, sequence: current.sequence + (matters(differences) ? 1 : 0) };
}

function valueOf({ facts, calledOff }: EventVersion, field: ChangedField): string {
  switch (field) {
    case 'start':
      return facts.span.kind === 'all-day'
        ? sayDay(facts.span.firstDay)
        : sayInstant(instantsOf(facts).startMs, facts.zone);
    case 'end':
      return facts.span.kind === 'all-day'
        ? sayDay(facts.span.lastDay)
        : sayInstant(instantsOf(facts).endMs, facts.zone);
    case 'topics':
      return facts.topics.join(', ');
    case 'calledOff':
      return calledOff ? 'called off' : 'takes place';
    default:
      return facts[field];
  }
}
