import type { SegmentFields } from '@convite/contract';

/**
 * Questions that an observatory asks about its people.
 * @param lists the demonstration's lists, in their order
 * @param eventOf the number of the event whose title holds the words
 */
export function inventSegments(lists: readonly number[], eventOf: (words: string) => number): SegmentFields[] {
  const [news = 0, members = 0] = lists;
  const friday = eventOf('Fridays');
  return [
    {
      name: 'Friday guests, not yet members',
      description: 'Said yes to a Friday under the dome lately: they may like to come closer.',
      conditions: {
        kind: 'all',
        of: [
          { kind: 'list', lists: [news] },
          { kind: 'answered', event: friday, replies: ['accepted'], withinDays: 90 },
          { kind: 'none', of: [{ kind: 'list', lists: [members] }] },
        ],
      },
    },
    {
      name: 'Watches from afar',
      description: 'Online evenings are for them.',
      conditions: {
        kind: 'any',
        of: [
          { kind: 'topic', topics: ['online'] },
          { kind: 'none', of: [{ kind: 'zone', zones: ['Europe/Lisbon', 'Atlantic/Azores', 'Atlantic/Madeira'] }] },
        ],
      },
    },
    {
      name: 'Can be texted about camps',
      description: '',
      conditions: {
        kind: 'all',
        of: [
          { kind: 'topic', topics: ['camps', 'families'] },
          { kind: 'consent', channel: 'text' },
        ],
      },
    },
  ];
}
