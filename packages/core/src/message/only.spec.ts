import { blankFacts } from '../event/event';
import type { Block } from './document';
import { aboutNothing } from './about-event';
import { livesElsewhere } from './fields';
import { anyReader, sayOnly, type Only, type Reader } from './only';
import { prepareDocument } from './render';

describe('a block that is only for some', () => {
  const reader = (over: Partial<Reader>): Reader => ({ ...anyReader, ...over });
  const rows: readonly [Only, string, Reader, Reader][] = [
    [
      { kind: 'reply', replies: ['needs-action'] },
      'only for those who did not answer',
      reader({}),
      reader({ reply: 'declined' }),
    ],
    [
      { kind: 'reply', replies: ['accepted', 'tentative'] },
      'only for those who said yes or said perhaps',
      reader({ reply: 'tentative' }),
      reader({}),
    ],
    [{ kind: 'online' }, 'only if it is online', reader({ isOnline: true }), reader({ hasPlace: true })],
    [{ kind: 'in-place' }, 'only if it has a place', reader({ hasPlace: true }), reader({ isOnline: true })],
    [
      { kind: 'elsewhere' },
      'only for who lives in another zone',
      reader({ livesElsewhere: true }),
      reader({ isOnline: true }),
    ],
    [
      { kind: 'topic', topic: 'moon' },
      'only for who asked for “moon”',
      reader({ topics: ['sun', 'moon'] }),
      reader({ topics: ['sun'] }),
    ],
    // Who asked for nothing in particular asked for everything.
    [
      { kind: 'topic', topic: 'sun' },
      'only for who asked for “sun”',
      reader({ topics: [] }),
      reader({ topics: ['moon'] }),
    ],
  ];
  for (const [only, says, yes, no] of rows)
    it(says, () => {
      expect(sayOnly(only)).toBe(says);
      const line = [
        { kind: 'field' as const, field: 'event.place' as const, fallback: '' },
        { kind: 'text' as const, text: 'here' },
      ];
      const blocks: Block[] = [{ kind: 'divider' }, { kind: 'paragraph', line, only }];
      const prepared = prepareDocument({ subject: '', blocks });
      const about = aboutNothing;
      const said = (one: Reader) => prepared.fill({}, { ...about, reader: one });
      expect([said(yes).text, said(no).text]).toEqual(['---\n\nhere', '---']);
      expect(said(no).html).not.toContain('here');
      // What is left out lacks nothing either.
      const empty = (one: Reader) => prepared.emptyWith({}, { ...about, reader: one });
      expect([empty(yes), empty(no)]).toEqual([['event.place'], []]);
      expect(prepared.onlys).toEqual([only]);
    });

  it('knows who lives where clocks show another time: not by the name of a zone, and not for whole days', () => {
    const facts = {
      ...blankFacts,
      zone: 'Europe/Lisbon',
      span: { kind: 'timed', start: '2026-11-27T20:30', end: '2026-11-27T23:00' } as const,
    };
    const rows: [string, boolean][] = [
      ['Europe/Lisbon', false],
      ['Europe/London', false],
      ['Europe/Madrid', true],
      ['Asia/Kolkata', true],
      ['', false],
      ['Mars/Olympus', false],
    ];
    for (const [zone, isSo] of rows) expect(livesElsewhere(facts, zone)).withContext(zone).toBe(isSo);
    const days = { ...facts, span: { kind: 'all-day', firstDay: '2026-11-27', lastDay: '2026-11-27' } as const };
    expect(livesElsewhere(days, 'Asia/Kolkata')).toBeFalse();
    // Clocks there go back an hour while it lasts: they begin together, and end apart.
    const night = {
      ...facts,
      zone: 'Africa/Lagos',
      span: { kind: 'timed', start: '2026-10-25T00:30', end: '2026-10-25T03:30' } as const,
    };
    expect(livesElsewhere(night, 'Europe/London')).toBeTrue();
  });
});
