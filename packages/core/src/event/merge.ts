import type { Parts } from '../merge';
import type { EventFacts } from './event';

export type FactsPart = 'title' | 'when' | 'venue' | 'joinLink' | 'description' | 'topics' | 'entry' | 'registration';

/** Parts of an event that only make sense together: a time read in another's zone would be another time. */
export const factsParts: Parts<EventFacts, FactsPart> = {
  title: ['title'],
  when: ['span', 'zone', 'endZone', 'series', 'isPersonal'],
  venue: ['venue'],
  joinLink: ['joinLink'],
  description: ['description'],
  topics: ['topics'],
  entry: ['entry'],
  registration: ['registration'],
};
