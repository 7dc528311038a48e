import { isSame } from '../same';
import { sayDay, sayInstant } from '../time/say';
import { sayEntry } from './entry';
import { instantsOf, type EventFacts, type EventVersion } from './event';
import { findOccurrence, keyOf, type Occurrence } from './occurrences';
import { sayRegistration } from './registration';
import { sayRepeats } from './series';

export const changedFields = [
  'title',
  'start',
  'end',
  'zone',
  'endZone',
  'rule',
  'occurrence',
  'venue',
  'joinLink',
  'description',
  'topics',
  'entry',
  'isPersonal',
  'registration',
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
const revisionFields: ReadonlySet<ChangedField> = new Set([
  'start',
  'end',
  'zone',
  'endZone',
  'rule',
  'occurrence',
  'venue',
  'joinLink',
  'isPersonal',
  'calledOff',
]);

/** What differs between two versions of an event, in the order people ask: when, where, what. */
export function differencesBetween(before: EventVersion, after: EventVersion): Difference[] {
  const differences: Difference[] = [];
  for (const field of changedFields) {
    if (field === 'occurrence') differences.push(...occurrenceDifferences(before.facts, after.facts));
    else if (field === 'entry') differences.push(...entryDifference(before.facts, after.facts));
    else {
      const [was, is] = [valueOf(before, field), valueOf(after, field)];
      if (was !== is) differences.push({ field, before: was, after: is });
    }
  }
  return differences;
}

/** Single dates of a series that were changed, called off, added or put back. */
function occurrenceDifferences(before: EventFacts, after: EventFacts): Difference[] {
  if (!before.series || !after.series) return [];
  const named = [...before.series.exceptions, ...after.series.exceptions].map(({ at }) => at);
  const dates = [...new Set([...named, ...before.series.added, ...after.series.added])].sort();
  return dates.flatMap((at): Difference[] => {
    const [was, is] = [sayOccurrence(before, at), sayOccurrence(after, at)];
    // What the rule alone takes away or adds is said by the rule.
    return was === is ? [] : [{ field: 'occurrence', before: was, after: is }];
  });
}

/** Does a change leave one date of a series as it was, for somebody who comes to that date alone? */
export function isSameOn(before: EventFacts, after: EventFacts, key: string): boolean {
  const [was, is] = [findOccurrence(before, key), findOccurrence(after, key)];
  return was !== null && is !== null && isSame(heldOf(was), heldOf(is));
}

/** What a calendar entry of a date holds. */
const heldOf = ({ calledOff, facts }: Occurrence): unknown => {
  const { title, description, zone, endZone, span, venue, joinLink, entry } = facts;
  return { calledOff, title, description, zone, endZone, span, venue, joinLink, entry };
};

function sayOccurrence(facts: EventFacts, at: string): string {
  const found = findOccurrence(facts, keyOf(at));
  if (!found) return '';
  const { startMs, endMs, calledOff } = found;
  if (calledOff) return `${sayStart(found.facts, startMs)}: called off`;
  const others = (['title', 'venue', 'joinLink', 'description'] as const).flatMap((field) =>
    found.facts[field] === facts[field] ? [] : [found.facts[field] || 'left empty'],
  );
  const moved = findOccurrence({ ...facts, series: facts.series && { ...facts.series, exceptions: [] } }, keyOf(at));
  const end =
    moved && endMs - startMs !== moved.endMs - moved.startMs
      ? [`until ${sayInstant(endMs, facts.endZone || facts.zone)}`]
      : [];
  return [sayStart(found.facts, startMs), ...end, ...others].join(' · ');
}

const sayStart = ({ span, zone }: EventFacts, startMs: number): string =>
  span.kind === 'all-day' ? sayDay(span.firstDay) : sayInstant(startMs, zone);

function entryDifference(before: EventFacts, after: EventFacts): Difference[] {
  const [was, is] = [sayEntry(before.entry), sayEntry(after.entry)];
  const only = (some: readonly string[], others: readonly string[]): string =>
    some.filter((line) => !others.includes(line)).join('; ');
  const difference = { field: 'entry', before: only(was, is), after: only(is, was) } as const;
  return difference.before || difference.after ? [difference] : [];
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

function valueOf({ facts, calledOff }: EventVersion, field: Exclude<ChangedField, 'occurrence' | 'entry'>): string {
  switch (field) {
    case 'start':
      return facts.span.kind === 'all-day'
        ? sayDay(facts.span.firstDay)
        : sayInstant(instantsOf(facts).startMs, facts.zone);
    case 'end':
      return facts.span.kind === 'all-day'
        ? sayDay(facts.span.lastDay)
        : sayInstant(instantsOf(facts).endMs, facts.endZone || facts.zone);
    case 'rule':
      return sayRepeats(facts) || 'once';
    case 'isPersonal':
      return facts.isPersonal ? 'everybody has their own time' : 'one time for everybody';
    case 'registration':
      return sayRegistration(facts.registration);
    case 'topics':
      return facts.topics.join(', ');
    case 'calledOff':
      return calledOff ? 'called off' : 'takes place';
    default:
      return facts[field];
  }
}
