import { blankFacts, type EventFacts } from '../event/event';
import { readWebCalendarPattern, writeWebCalendarLink } from './web-calendar';

const facts: EventFacts = {
  ...blankFacts,
  title: 'Moon & stars #1 + coffee, já! 🌒',
  description: 'First line\nsecond; 50% =off',
  zone: 'America/Los_Angeles',
  span: { kind: 'timed', start: '2026-02-10T06:00', end: '2026-02-10T07:30' },
  venue: 'Dome 2, Serra',
};
const parameters = (pattern: string, event = facts): URLSearchParams => {
  const read = readWebCalendarPattern(pattern);
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return new URL(writeWebCalendarLink(read.value, event, 'u@x', 'https://convite.example/e/1')).searchParams;
};

describe('web-calendar links', () => {
  it('say every fact unharmed, the start in UTC and with the offset of that date', () => {
    const found = parameters('https://c.example/add{?title,place,description,start,end,startIso,startLocal,zone}');
    expect(found.get('title')).toBe(facts.title);
    expect(found.get('place')).toBe(facts.venue);
    expect(found.get('description')).toBe(`${facts.description}\n\nhttps://convite.example/e/1`);
    // Common practice (PRODUCT.md): Los Angeles in February is UTC-08:00.
    expect(found.get('start')).toBe('20260210T140000Z');
    expect(found.get('startIso')).toBe('2026-02-10T06:00:00-08:00');
    expect([found.get('startLocal'), found.get('zone')]).toEqual(['20260210T060000', 'America/Los_Angeles']);
  });

  it('give days without a zone for all-day events, the end exclusive', () => {
    const found = parameters('https://c.example/{?start,end,lastDay}', {
      ...facts,
      span: { kind: 'all-day', firstDay: '2026-12-30', lastDay: '2026-12-31' },
    });
    expect([found.get('start'), found.get('end'), found.get('lastDay')]).toEqual(['20261230', '20270101', '20261231']);
  });

  const refused: [string, string][] = [
    ['https://c.example/{?start', 'bad-pattern'],
    ['ftp://c.example/{?start}', 'bad-link'],
    ['javascript:alert(1){?start}', 'bad-link'],
    ['https://c.example/{?start,tittle}', 'unknown-variable'],
    ['https://c.example/{?title}', 'no-start-in-pattern'],
    ['https://c.example/{?startLocal}', 'no-start-in-pattern'],
  ];
  for (const [pattern, code] of refused) {
    it(`refuse ${pattern}: ${code}`, () => {
      const read = readWebCalendarPattern(pattern);
      expect(read.ok ? '' : read.problems[0]?.code).toBe(code as 'bad-link');
    });
  }
});
