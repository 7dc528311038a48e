import type { Problem, ProblemCode } from '../problem';
import { propertyOf, type Component } from './read-components';
import { readText } from './values';

/** A series and the dates that differ from it, or one event. */
export interface EventGroup {
  readonly uid: string;
  readonly master: Component;
  /** The newest first. */
  readonly changed: readonly Component[];
}

/**
 * The events of all calendars in a file: a series and the dates that differ from it carry one UID.
 * Problem code: event-older, for what stands there in a newer version too.
 */
export function groupByUid(components: readonly Component[], problems: Problem[]): EventGroup[] {
  const byUid = new Map<string, Component[]>();
  for (const component of components) {
    const known = byUid.get(uidOf(component));
    if (known) known.push(component);
    else byUid.set(uidOf(component), [component]);
  }
  return [...byUid].flatMap(([uid, group]) => {
    group.sort(newestFirst);
    const changed = group.filter((one) => propertyOf(one, 'RECURRENCE-ID'));
    const [master, ...older] = group.filter((one) => !propertyOf(one, 'RECURRENCE-ID'));
    problems.push(...older.map((one) => at('event-older', one.lineNumber, { title: titleOf(one) })));
    if (master) return [{ uid, master, changed }];
    // A single date whose series is not in the file stands for itself.
    return changed.map((one) => ({
      uid: `${uid} ${propertyOf(one, 'RECURRENCE-ID')?.value.trim()}`.slice(0, 255),
      master: one,
      changed: [],
    }));
  });
}

/** The standard asks for a UID (§3.8.4.7); of an event without one, start and title are what a later look knows it by. */
const uidOf = (component: Component): string => {
  const value = (name: string): string => propertyOf(component, name)?.value.trim() ?? '';
  return value('UID') || `without UID: ${value('DTSTART')} ${value('SUMMARY')}`.slice(0, 255);
};

/** RFC 5546 §2.1.5: of two with one UID the higher SEQUENCE is the newer, and with one SEQUENCE the later DTSTAMP. */
const newestFirst = (a: Component, b: Component): number => {
  const value = (of: Component, name: string): string => propertyOf(of, name)?.value.trim() ?? '';
  return (
    (Number(value(b, 'SEQUENCE')) || 0) - (Number(value(a, 'SEQUENCE')) || 0) ||
    value(b, 'DTSTAMP').localeCompare(value(a, 'DTSTAMP'))
  );
};

export const titleOf = (component: Component): string =>
  readText((propertyOf(component, 'SUMMARY')?.value ?? '').slice(0, 200)) || 'An event without a title';

/** A problem at a line. */
export const at = (code: ProblemCode, line: number, facts?: Problem['facts']): Problem => ({
  code,
  path: `line ${line}`,
  ...(facts && { facts }),
});
