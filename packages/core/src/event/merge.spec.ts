import { blankFacts, type EventFacts } from './event';
import { mergeParts, type Merged } from '../merge';
import { factsParts, type FactsPart } from './merge';

const base: EventFacts = {
  ...blankFacts,
  title: 'Dome night',
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T22:00' },
  venue: 'Dome',
};
const later = { kind: 'timed', start: '2031-06-18T20:30', end: '2031-06-18T23:00' } as const;

const mergeFacts = (mine: EventFacts, theirs: EventFacts): Merged<EventFacts, FactsPart> =>
  mergeParts(factsParts, { base, mine, theirs });

describe('Two who edit one event', () => {
  const rows: readonly [string, Partial<EventFacts>, Partial<EventFacts>, Partial<EventFacts>, readonly string[]][] = [
    ['what I did not touch is theirs', { title: 'Mine' }, { venue: 'Hall' }, { title: 'Mine', venue: 'Hall' }, []],
    ['what they did not touch is mine', { span: later }, {}, { span: later }, []],
    ['both the same is no clash', { title: 'Same' }, { title: 'Same' }, { title: 'Same' }, []],
    [
      'both otherwise: mine stands, and it is said',
      { venue: 'Mine' },
      { venue: 'Theirs' },
      { venue: 'Mine' },
      ['venue'],
    ],
    [
      'a time is never read in the other’s zone',
      { span: later },
      { zone: 'America/New_York' },
      { span: later, zone: 'Europe/Lisbon' },
      ['when'],
    ],
    [
      'topics in another order are another choice',
      { topics: ['b', 'a'] },
      { topics: ['a'] },
      { topics: ['b', 'a'] },
      ['topics'],
    ],
  ];
  for (const [what, mine, theirs, merged, clashes] of rows)
    it(what, () => {
      const found = mergeFacts({ ...base, ...mine }, { ...base, ...theirs });
      expect(found.merged).toEqual({ ...base, ...merged });
      expect([...found.clashes].map(String)).toEqual([...clashes]);
    });

  it('takes the same for the same, in whatever order its parts stand', () => {
    const again = { span: { end: '2031-06-18T22:00', start: '2031-06-18T19:30', kind: 'timed' } } as const;
    expect(mergeFacts({ ...base, ...again }, { ...base, venue: 'Hall' }).merged.venue).toBe('Hall');
    expect(mergeFacts({ ...base, ...again }, { ...base, span: later }).merged.span).toEqual(later);
  });
});
