import { checkEvent } from '../event/check-event';
import { fileOf, inventEvents, seeded } from '../testing/invent-events';
import { readPersonMessages } from './person-message';
import { readCalendarEvents, type ImportedEvent } from './read-events';

describe('hostile and broken calendars', () => {
  const random = seeded(3);
  const bases = [
    fileOf(inventEvents(random, 3)),
    'BEGIN:VCALENDAR\r\nMETHOD:REPLY\r\nBEGIN:VEVENT\r\nUID:u@x\r\nDTSTAMP:20260101T000000Z\r\nSEQUENCE:1\r\nATTENDEE;PARTSTAT=ACCEPTED:mailto:a@b.example\r\nRECURRENCE-ID;TZID=Europe/Lisbon:20260605T203000\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n',
    'BEGIN:VCALENDAR\r\nMETHOD:COUNTER\r\nBEGIN:VEVENT\r\nUID:u@x\r\nDTSTAMP:20260101T000000Z\r\nDTSTART:20260605T203000Z\r\nDURATION:PT2H\r\nRRULE:FREQ=DAILY;COUNT=3\r\nEXDATE:20260606T203000Z\r\nRDATE;VALUE=PERIOD:20260620T203000Z/PT1H\r\nATTENDEE:mailto:a@b.example\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n',
  ];
  const splinters = [
    '\r\n',
    ':',
    ';',
    '"',
    '\\',
    ',',
    '=',
    'BEGIN:VEVENT\r\n',
    'END:VCALENDAR',
    '\u0000',
    '\uD800',
    '-',
    '9'.repeat(30),
    'FREQ=SECONDLY',
    'TZID=',
    'T',
    'Z',
    '\t',
    '^',
    '%',
    'RRULE:',
    'P1W',
    'é',
  ];

  const mutate = (text: string): string => {
    let mutated = text;
    for (let times = 1 + random.below(4); times > 0; times -= 1) {
      const at = random.below(mutated.length + 1);
      const to = at + random.below(12);
      switch (random.below(5)) {
        case 0:
          mutated = mutated.slice(0, at) + mutated.slice(to);
          break;
        case 1:
          mutated = mutated.slice(0, at) + random.pick(splinters) + mutated.slice(at);
          break;
        case 2:
          mutated = mutated.slice(0, at) + mutated.slice(at, to) + mutated.slice(at);
          break;
        case 3:
          mutated = mutated.slice(0, at);
          break;
        default:
          mutated = mutated.slice(0, at) + String.fromCharCode(random.below(300)) + mutated.slice(at + 1);
      }
    }
    return mutated;
  };

  it('100,000 of them never crash, hang or come in by halves', () => {
    let slowestMs = 0;
    let understood = 0;
    const isWhole = ({ facts }: ImportedEvent): boolean => checkEvent(facts).length === 0;
    for (let round = 0; round < 100_000; round += 1) {
      const text = mutate(random.pick(bases));
      const startedAt = performance.now();
      const read = readCalendarEvents(text, 'Europe/Lisbon');
      const messages = readPersonMessages(text, 'a@b.example');
      slowestMs = Math.max(slowestMs, performance.now() - startedAt);
      if (read.ok) {
        understood += read.value.events.length;
        if (!read.value.events.every(isWhole)) throw new Error(`half an event from ${JSON.stringify(text)}`);
      } else if (read.problems.length === 0) throw new Error('refused without a reason');
      if (messages && !messages.ok && messages.problems.length === 0) throw new Error('refused without a reason');
    }
    expect(understood).toBeGreaterThan(5000);
    // What hangs does so for ever; a busy machine may pause for a second.
    expect(slowestMs).toBeLessThan(10_000);
  }, 240_000);

  const inEvent = (lines: string): string =>
    `BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:a\r\nSUMMARY:x\r\nDTSTART:20260605T203000Z\r\n${lines}END:VEVENT\r\nEND:VCALENDAR\r\n`;
  const hostile: [string, () => string, string][] = [
    ['a rule every second for ever', () => inEvent('RRULE:FREQ=SECONDLY\r\n'), 'rule-too-often'],
    ['a rule that names nothing', () => inEvent('RRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30\r\n'), 'start-not-in-rule'],
    ['a rule of a million times', () => inEvent('RRULE:FREQ=DAILY;COUNT=1000000\r\n'), 'bad-rule'],
    ['deep nesting', () => 'BEGIN:VCALENDAR\r\n'.repeat(100_000), 'calendar-too-deep'],
    [
      'one line of 100 MB',
      () => `BEGIN:VCALENDAR\r\nX:${'y'.repeat(100_000_000)}\r\nEND:VCALENDAR`,
      'calendar-too-big',
    ],
    ['a million dates', () => inEvent(`EXDATE:${'20260606T203000Z,'.repeat(500_000)}20260606T203000Z\r\n`), 'too-long'],
    ['a text of nine million letters', () => inEvent(`DESCRIPTION:${'é\\n'.repeat(3_000_000)}\r\n`), 'calendar-cut'],
    [
      'an unknown zone',
      () => inEvent('').replace('DTSTART:', 'DTSTART;TZID=Nowhere:').replace('3000Z', '3000'),
      'unknown-zone',
    ],
  ];
  for (const [name, make, code] of hostile)
    it(`${name}: a clear answer within two seconds`, () => {
      const text = make();
      const startedAt = performance.now();
      const read = readCalendarEvents(text, 'Europe/Lisbon');
      expect(performance.now() - startedAt).toBeLessThan(2000);
      const codes = (read.ok ? read.value.problems : read.problems).map((problem) => problem.code as string);
      expect(code ? codes : []).toEqual(code ? jasmine.arrayContaining([code]) : []);
    });
});
