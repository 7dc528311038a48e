import { changeOccurrence } from '../event/edit-series';
import { blankFacts, type EventFacts, type EventVersion } from '../event/event';
import { isOvertaken, judgeReply, type ReplyContext } from './judge-reply';
import { keyOfRecurrence } from './calendar-time';
import { readPersonMessages, uidIn, type PersonMessage } from './person-message';
import { readMailto, writeMailto } from './values';

/** The one message of a text. */
const readOne = (text: string): PersonMessage | undefined => {
  const read = readPersonMessages(text, 'b@example.com');
  return read?.ok ? read.value[0] : undefined;
};

// RFC 5546 §4.2.2, "Reply to a Group Event Request", with its CRLF; more of its samples in published-samples.spec.ts.
const sample = [
  'BEGIN:VCALENDAR',
  'PRODID:-//Example/ExampleCalendarClient//EN',
  'METHOD:REPLY',
  'VERSION:2.0',
  'BEGIN:VEVENT',
  'ATTENDEE;PARTSTAT=ACCEPTED:mailto:b@example.com',
  'ORGANIZER:mailto:a@example.com',
  'UID:calsrv.example.com-873970198738777@example.com',
  'SEQUENCE:0',
  'REQUEST-STATUS:2.0;Success',
  'DTSTAMP:19970612T190000Z',
  'END:VEVENT',
  'END:VCALENDAR',
  '',
].join('\r\n');

describe('reading a reply', () => {
  it('takes no other method for an answer', () => {
    expect(readPersonMessages(sample.replace('METHOD:REPLY', 'METHOD:PUBLISH'), '')).toBeNull();
  });

  it('takes the method from the part’s type where the text names none (RFC 6047 §2.4)', () => {
    const bare = sample.replace('METHOD:REPLY\r\n', '');
    expect(readPersonMessages(bare, '')).toBeNull();
    const read = readPersonMessages(bare, '', 'reply');
    expect(read?.ok && read.value[0]?.method).toBe('REPLY');
  });

  it('finds the UID of what it cannot read', () => {
    expect(uidIn('BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:x\r\nUID;X=1:abc-\r\n def@x\r\n???')).toBe('abc-def@x');
    expect(uidIn('nothing')).toBe('');
  });

  it('reads addresses that are encoded, and writes them so (RFC 6068 §2)', () => {
    for (const [address, written] of [
      ['a?b@x.example', 'mailto:a%3Fb@x.example'],
      ['a%41b@x.example', 'mailto:a%2541b@x.example'],
      ["o'neil+news@x.example", "mailto:o'neil+news@x.example"],
    ] as const) {
      expect(writeMailto(address)).toBe(written);
      expect(readMailto(written)).toBe(address);
    }
  });

  it('knows the date of a series that is named by its day alone, in UTC, or in any zone', () => {
    const facts = {
      zone: 'Europe/Lisbon',
      span: { kind: 'timed', start: '2026-06-05T20:30', end: '2026-06-05T22:00' },
    } as const;
    for (const time of [
      { kind: 'day', day: '2026-06-12' },
      { kind: 'utc', atMs: Date.UTC(2026, 5, 12, 19, 30) },
      { kind: 'local', wall: '2026-06-12T21:30', zone: 'Europe/Paris' },
    ] as const)
      expect(keyOfRecurrence(time, facts)).toBe('20260612T203000');
  });

  it('reads a counter proposal, a request to refresh, a delegation, and an answer for one date', () => {
    const counter = readOne(
      sample
        .replace('METHOD:REPLY', 'METHOD:COUNTER')
        .replace(
          'SEQUENCE:0',
          'SEQUENCE:0\r\nRECURRENCE-ID:19970701T180000Z\r\nDTSTART;TZID=/x/Europe/Lisbon:19970701T200000\r\nDTEND:19970701T200000Z\r\nCOMMENT:An hour later?',
        ),
    );
    expect(counter).toEqual(
      jasmine.objectContaining({
        method: 'COUNTER',
        comment: 'An hour later?',
        recurrence: { kind: 'utc', atMs: Date.UTC(1997, 6, 1, 18) },
        proposed: {
          start: { kind: 'local', wall: '1997-07-01T20:00', zone: 'Europe/Lisbon' },
          end: { kind: 'utc', atMs: Date.UTC(1997, 6, 1, 20) },
          length: null,
          place: '',
        },
      }),
    );
    expect(readOne(sample.replace('METHOD:REPLY', 'METHOD:REFRESH'))?.method).toBe('REFRESH');
    const passedOn = readOne(
      sample.replace('PARTSTAT=ACCEPTED', 'PARTSTAT=DELEGATED;DELEGATED-TO="mailto:C@example.com"'),
    );
    expect([passedOn?.state, passedOn?.delegatedTo]).toEqual(['declined', 'c@example.com']);
  });

  it('reads what calendars in the field send: LF, folds, quoted names, lower case, no SEQUENCE', () => {
    const text = sample
      .replaceAll('\r\n', '\n')
      .replace(
        'ATTENDEE;PARTSTAT=ACCEPTED:mailto:b@example.com',
        'attendee;cn="Lopes; Bê: \n B";partstat=declined:MAILTO:B@Example.com',
      )
      .replace('SEQUENCE:0\n', 'COMMENT:No\\, sorry\\; ill\n');
    const read = readOne(text);
    expect([read?.attendee, read?.state, read?.sequence, read?.comment]).toEqual([
      'b@example.com',
      'declined',
      0,
      'No, sorry; ill',
    ]);
  });

  const broken: [string, string, string][] = [
    ['SEQUENCE:0', 'SEQUENCE:abc', 'calendar-bad-value'],
    ['DTSTAMP:19970612T190000Z', 'DTSTAMP:1997', 'calendar-bad-value'],
    ['DTSTAMP:19970612T190000Z', 'DTSTAMP:19970631T190000Z', 'calendar-bad-value'],
    ['PARTSTAT=ACCEPTED', 'PARTSTAT=MAYBE', 'calendar-bad-value'],
    ['UID:calsrv.example.com-873970198738777@example.com', 'X-NO:1', 'calendar-missing'],
    ['END:VEVENT', 'END:VTODO', 'calendar-bad-line'],
    ['END:VCALENDAR', 'X:1', 'calendar-not-closed'],
    ['BEGIN:VEVENT', 'BEGIN:A\r\n'.repeat(50), 'calendar-too-deep'],
    ['METHOD:REPLY', '\u0000;;;', 'calendar-bad-line'],
  ];
  for (const [from, to, code] of broken) {
    it(`says ${code} for ${to.slice(0, 30).trim()}, never a silent default`, () => {
      const read = readPersonMessages(sample.replace(from, to), 'b@example.com');
      expect(!read || read.ok ? [] : read.problems.map((problem) => problem.code)).toEqual([
        jasmine.stringContaining(code) as unknown as 'required',
      ]);
    });
  }
});

describe('judging a reply (RFC 5546 §2.1.5)', () => {
  const reply = { sequence: 1, stampMs: 1000 };
  const context: ReplyContext = {
    invitedAddress: 'b@example.com',
    fromAddress: 'b@example.com',
    eventSequence: 1,
    isOvertaken: false,
    lastSequence: null,
    lastStampMs: null,
  };
  const cases: [string, Partial<typeof reply>, Partial<ReplyContext>, string][] = [
    ['a first answer', {}, {}, 'apply'],
    ['a second answer, later', {}, { lastSequence: 1, lastStampMs: 999 }, 'apply'],
    ['the same answer again', {}, { lastSequence: 1, lastStampMs: 1000 }, 'apply'],
    ['an answer overtaken by a newer one', {}, { lastSequence: 1, lastStampMs: 1001 }, 'older-than-last'],
    ['an answer to what was changed since', { sequence: 0 }, { isOvertaken: true }, 'old-version'],
    ['an answer to the version before, which changed nothing of it', { sequence: 0 }, {}, 'apply'],
    ['an answer to a version before the last answer', { sequence: 0 }, { lastSequence: 1 }, 'older-than-last'],
    ['an answer to a version that never was', { sequence: 2 }, {}, 'unknown-version'],
    ['an answer sent by somebody else', {}, { fromAddress: 'mallory@example.com' }, 'from-somebody-else'],
    ['an answer of somebody not invited', {}, { invitedAddress: null }, 'not-invited'],
    ['an older stamp, but for a newer version', { stampMs: 5 }, { lastSequence: 0, lastStampMs: 1001 }, 'apply'],
  ];
  for (const [title, overReply, overContext, expected] of cases) {
    it(`${title}: ${expected}`, () => {
      const verdict = judgeReply({ ...reply, ...overReply }, { ...context, ...overContext });
      expect(verdict.kind === 'apply' ? 'apply' : verdict.reason).toBe(expected as typeof verdict.kind);
    });
  }
});

describe('an answer and what changed since (RFC 5546 §3.2.5, §2.1.5)', () => {
  const series = { rule: 'FREQ=WEEKLY', added: [], exceptions: [] };
  const facts: EventFacts = {
    ...blankFacts,
    zone: 'Europe/Lisbon',
    span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T22:00' },
    series,
  };
  const [first, second] = ['20310618T193000', '20310625T193000'] as const;
  const invited = { number: 1, sequence: 0, facts, calledOff: false };
  const dateOff = {
    number: 2,
    sequence: 1,
    facts: changeOccurrence(facts, second, { facts, calledOff: true }),
    calledOff: false,
  };
  const retitled = { ...invited, number: 2, facts: { ...facts, title: 'Other' } };
  const moved = {
    number: 3,
    sequence: 2,
    facts: { ...facts, span: { kind: 'timed', start: '2031-06-18T20:30', end: '2031-06-18T22:00' } },
    calledOff: false,
  } as const;
  const rows: [string, number, readonly EventVersion[], string, boolean][] = [
    ['to what stands', 0, [invited], '', false],
    ['to the series after one date was called off', 0, [invited, dateOff], '', false],
    ['to another date of it', 0, [invited, dateOff], first, false],
    ['to the date that was called off', 0, [invited, dateOff], second, true],
    ['to a series that was moved since', 1, [invited, dateOff, moved], '', true],
    ['to what was only renamed', 0, [invited, retitled], '', false],
    ['to what was called off whole', 0, [invited, { ...invited, number: 2, sequence: 1, calledOff: true }], '', true],
    ['of somebody who holds nothing newer', 0, [invited], first, false],
  ];
  for (const [title, sequence, versions, occurrence, expected] of rows)
    it(`${title}: ${expected ? 'late' : 'counts'}`, () => {
      expect(isOvertaken(sequence, versions, occurrence)).toBe(expected);
    });
});
