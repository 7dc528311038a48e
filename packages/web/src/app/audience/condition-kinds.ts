import type { SegmentCondition } from '@convite/core';

export type ConditionKind = SegmentCondition['kind'];

/** What can be asked, in the words of the sentence that it becomes. */
export const kindWords: Readonly<Record<ConditionKind, string>> = {
  list: 'is on a list',
  segment: 'is in a segment',
  topic: 'asked for a topic',
  field: 'has in a field',
  consent: 'agreed to be written to',
  zone: 'lives by the time of',
  answered: 'answered an event',
  registered: 'has a place at an event',
  waitlisted: 'waits for a place at an event',
  'in-person': 'comes in person to an event',
  online: 'comes online to an event',
  attended: 'came to an event',
  'no-show': 'was expected, and did not come',
  invited: 'was invited to an event',
  got: 'got a message',
  person: 'is one of these people',
};
export const conditionKinds: readonly ConditionKind[] = [
  'list',
  'segment',
  'topic',
  'field',
  'consent',
  'zone',
  'answered',
  'registered',
  'waitlisted',
  'in-person',
  'online',
  'attended',
  'no-show',
  'invited',
  'got',
  'person',
];

/** A condition of a kind before anything is chosen for it. */
export function blankCondition(kind: ConditionKind): SegmentCondition {
  switch (kind) {
    case 'list':
      return { kind, lists: [] };
    case 'segment':
      return { kind, segments: [] };
    case 'topic':
      return { kind, topics: [] };
    case 'field':
      return { kind, field: 0, test: { is: 'filled' } };
    case 'consent':
      return { kind, channel: 'email' };
    case 'zone':
      return { kind, zones: [] };
    case 'answered':
      return { kind, event: 0, replies: ['accepted'], withinDays: null };
    case 'got':
      return { kind, message: 'cue', event: null, withinDays: 30 };
    case 'person':
      return { kind, ids: [] };
    default:
      return { kind, event: 0 };
  }
}
