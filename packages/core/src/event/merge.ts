import { isSame } from '../same';
import type { EventFacts } from './event';

/** Parts of an event that only make sense together: a time read in another's zone would be another time. */
const parts = {
  title: ['title'],
  when: ['span', 'zone', 'endZone', 'series', 'isPersonal'],
  venue: ['venue'],
  joinLink: ['joinLink'],
  description: ['description'],
  topics: ['topics'],
  entry: ['entry'],
  registration: ['registration'],
} as const satisfies Record<string, readonly (keyof EventFacts)[]>;
export type FactsPart = keyof typeof parts;

/** What two people made of one version, put together. */
export interface Merged {
  readonly facts: EventFacts;
  /** Parts that both changed, each in their own way; mine stands. */
  readonly clashes: readonly FactsPart[];
}

/**
 * Puts my changes on top of what somebody else saved meanwhile, part by part: what I did not touch is theirs.
 * @param base what both began with
 */
export function mergeFacts(base: EventFacts, mine: EventFacts, theirs: EventFacts): Merged {
  const facts: EventFacts = { ...theirs };
  const clashes: FactsPart[] = [];
  for (const part of factsParts) {
    const fields: readonly (keyof EventFacts)[] = parts[part];
    const differ = (a: EventFacts, b: EventFacts): boolean => fields.some((field) => !isSame(a[field], b[field]));
    if (!differ(base, mine)) continue;
    Object.assign(facts, Object.fromEntries(fields.map((field) => [field, mine[field]])));
    if (differ(base, theirs) && differ(mine, theirs)) clashes.push(part);
  }
  return { facts, clashes };
}

const factsParts = Object.keys(parts).filter((part): part is FactsPart => part in parts);
