import ICAL from 'ical.js';
import { occurrencesBetween } from '../event/occurrences';
import { offsetMinutesAt, transitionsBetween } from '../time/zone';
import { wallTimeAt } from '../time/wall-time';
import { readContentLine, unfoldLines, writeContentLine } from './content-line';
import { readPersonMessages, type PersonMessage } from './person-message';
import { readComponents, type Component } from './read-components';
import { readCalendarEvents, type ImportedCalendar } from './read-events';
import { matchZone, vtimezoneOffsetAt } from './read-zone';

// The examples of RFC 5545 §3.6.5 and §4, RFC 5546 §4.2 and §4.4, and RFC 6868 §3.1, word for word as Debian's package
// doc-rfc-std-proposed (20230121) has the published texts, without their indentation and page breaks.

const published = (text: string): string => text.trimStart().replaceAll('\n', '\r\n');

const conference = published(String.raw`
BEGIN:VCALENDAR
PRODID:-//xyz Corp//NONSGML PDA Calendar Version 1.0//EN
VERSION:2.0
BEGIN:VEVENT
DTSTAMP:19960704T120000Z
UID:uid1@example.com
ORGANIZER:mailto:jsmith@example.com
DTSTART:19960918T143000Z
DTEND:19960920T220000Z
STATUS:CONFIRMED
CATEGORIES:CONFERENCE
SUMMARY:Networld+Interop Conference
DESCRIPTION:Networld+Interop Conference
  and Exhibit\nAtlanta World Congress Center\n
 Atlanta\, Georgia
END:VEVENT
END:VCALENDAR
`);

const meeting = published(String.raw`
BEGIN:VCALENDAR
PRODID:-//RDU Software//NONSGML HandCal//EN
VERSION:2.0
BEGIN:VTIMEZONE
TZID:America/New_York
BEGIN:STANDARD
DTSTART:19981025T020000
TZOFFSETFROM:-0400
TZOFFSETTO:-0500
TZNAME:EST
END:STANDARD
BEGIN:DAYLIGHT
DTSTART:19990404T020000
TZOFFSETFROM:-0500
TZOFFSETTO:-0400
TZNAME:EDT
END:DAYLIGHT
END:VTIMEZONE
BEGIN:VEVENT
DTSTAMP:19980309T231000Z
UID:guid-1.example.com
ORGANIZER:mailto:mrbig@example.com
ATTENDEE;RSVP=TRUE;ROLE=REQ-PARTICIPANT;CUTYPE=GROUP:
 mailto:employee-A@example.com
DESCRIPTION:Project XYZ Review Meeting
CATEGORIES:MEETING
CLASS:PUBLIC
CREATED:19980309T130000Z
SUMMARY:XYZ Project Review
DTSTART;TZID=America/New_York:19980312T083000
DTEND;TZID=America/New_York:19980312T093000
LOCATION:1CP Conference Room 4350
END:VEVENT
END:VCALENDAR
`);

const planning = published(String.raw`
BEGIN:VCALENDAR
METHOD:xyz
VERSION:2.0
PRODID:-//ABC Corporation//NONSGML My Product//EN
BEGIN:VEVENT
DTSTAMP:19970324T120000Z
SEQUENCE:0
UID:uid3@example.com
ORGANIZER:mailto:jdoe@example.com
ATTENDEE;RSVP=TRUE:mailto:jsmith@example.com
DTSTART:19970324T123000Z
DTEND:19970324T210000Z
CATEGORIES:MEETING,PROJECT
CLASS:PUBLIC
SUMMARY:Calendaring Interoperability Planning Meeting
DESCRIPTION:Discuss how we can test c&s interoperability\n
 using iCalendar and other IETF standards.
LOCATION:LDB Lobby
ATTACH;FMTTYPE=application/postscript:ftp://example.com/pub/
 conf/bkgrnd.ps
END:VEVENT
END:VCALENDAR
`);

const toDo = published(String.raw`
BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//ABC Corporation//NONSGML My Product//EN
BEGIN:VTODO
DTSTAMP:19980130T134500Z
SEQUENCE:2
UID:uid4@example.com
ORGANIZER:mailto:unclesam@example.com
ATTENDEE;PARTSTAT=ACCEPTED:mailto:jqpublic@example.com
DUE:19980415T000000
STATUS:NEEDS-ACTION
SUMMARY:Submit Income Taxes
BEGIN:VALARM
ACTION:AUDIO
TRIGGER:19980403T120000Z
ATTACH;FMTTYPE=audio/basic:http://example.com/pub/audio-
 files/ssbanner.aud
REPEAT:4
DURATION:PT1H
END:VALARM
END:VTODO
END:VCALENDAR
`);

const journal = published(String.raw`
BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//ABC Corporation//NONSGML My Product//EN
BEGIN:VJOURNAL
DTSTAMP:19970324T120000Z
UID:uid5@example.com
ORGANIZER:mailto:jsmith@example.com
STATUS:DRAFT
CLASS:PUBLIC
CATEGORIES:Project Report,XYZ,Weekly Meeting
DESCRIPTION:Project xyz Review Meeting Minutes\n
 Agenda\n1. Review of project version 1.0 requirements.\n2.
  Definition
 of project processes.\n3. Review of project schedule.\n
 Participants: John Smith\, Jane Doe\, Jim Dandy\n-It was
  decided that the requirements need to be signed off by
  product marketing.\n-Project processes were accepted.\n
 -Project schedule needs to account for scheduled holidays
  and employee vacation time. Check with HR for specific
  dates.\n-New schedule will be distributed by Friday.\n-
 Next weeks meeting is cancelled. No meeting until 3/23.
END:VJOURNAL
END:VCALENDAR
`);

const busyTime = published(String.raw`
BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//RDU Software//NONSGML HandCal//EN
BEGIN:VFREEBUSY
ORGANIZER:mailto:jsmith@example.com
DTSTART:19980313T141711Z
DTEND:19980410T141711Z
FREEBUSY:19980314T233000Z/19980315T003000Z
FREEBUSY:19980316T153000Z/19980316T163000Z
FREEBUSY:19980318T030000Z/19980318T040000Z
URL:http://www.example.com/calendar/busytime/jsmith.ifb
END:VFREEBUSY
END:VCALENDAR
`);

const newYorkSince1967 = published(String.raw`
BEGIN:VTIMEZONE
TZID:America/New_York
LAST-MODIFIED:20050809T050000Z
BEGIN:DAYLIGHT
DTSTART:19670430T020000
RRULE:FREQ=YEARLY;BYMONTH=4;BYDAY=-1SU;UNTIL=19730429T070000Z
TZOFFSETFROM:-0500
TZOFFSETTO:-0400
TZNAME:EDT
END:DAYLIGHT
BEGIN:STANDARD
DTSTART:19671029T020000
RRULE:FREQ=YEARLY;BYMONTH=10;BYDAY=-1SU;UNTIL=20061029T060000Z
TZOFFSETFROM:-0400
TZOFFSETTO:-0500
TZNAME:EST
END:STANDARD
BEGIN:DAYLIGHT
DTSTART:19740106T020000
RDATE:19750223T020000
TZOFFSETFROM:-0500
TZOFFSETTO:-0400
TZNAME:EDT
END:DAYLIGHT
BEGIN:DAYLIGHT
DTSTART:19760425T020000
RRULE:FREQ=YEARLY;BYMONTH=4;BYDAY=-1SU;UNTIL=19860427T070000Z
TZOFFSETFROM:-0500
TZOFFSETTO:-0400
TZNAME:EDT
END:DAYLIGHT
BEGIN:DAYLIGHT
DTSTART:19870405T020000
RRULE:FREQ=YEARLY;BYMONTH=4;BYDAY=1SU;UNTIL=20060402T070000Z
TZOFFSETFROM:-0500
TZOFFSETTO:-0400
TZNAME:EDT
END:DAYLIGHT
BEGIN:DAYLIGHT
DTSTART:20070311T020000
RRULE:FREQ=YEARLY;BYMONTH=3;BYDAY=2SU
TZOFFSETFROM:-0500
TZOFFSETTO:-0400
TZNAME:EDT
END:DAYLIGHT
BEGIN:STANDARD
DTSTART:20071104T020000
RRULE:FREQ=YEARLY;BYMONTH=11;BYDAY=1SU
TZOFFSETFROM:-0400
TZOFFSETTO:-0500
TZNAME:EST
END:STANDARD
END:VTIMEZONE
`);

const newYorkOfOneYear = published(String.raw`
BEGIN:VTIMEZONE
TZID:America/New_York
LAST-MODIFIED:20050809T050000Z
BEGIN:STANDARD
DTSTART:20071104T020000
TZOFFSETFROM:-0400
TZOFFSETTO:-0500
TZNAME:EST
END:STANDARD
BEGIN:DAYLIGHT
DTSTART:20070311T020000
TZOFFSETFROM:-0500
TZOFFSETTO:-0400
TZNAME:EDT
END:DAYLIGHT
END:VTIMEZONE
`);

const newYorkWithRules = published(String.raw`
BEGIN:VTIMEZONE
TZID:America/New_York
LAST-MODIFIED:20050809T050000Z
TZURL:http://zones.example.com/tz/America-New_York.ics
BEGIN:STANDARD
DTSTART:20071104T020000
RRULE:FREQ=YEARLY;BYMONTH=11;BYDAY=1SU
TZOFFSETFROM:-0400
TZOFFSETTO:-0500
TZNAME:EST
END:STANDARD
BEGIN:DAYLIGHT
DTSTART:20070311T020000
RRULE:FREQ=YEARLY;BYMONTH=3;BYDAY=2SU
TZOFFSETFROM:-0500
TZOFFSETTO:-0400
TZNAME:EDT
END:DAYLIGHT
END:VTIMEZONE
`);

const fictitious = published(String.raw`
BEGIN:VTIMEZONE
TZID:Fictitious
LAST-MODIFIED:19870101T000000Z
BEGIN:STANDARD
DTSTART:19671029T020000
RRULE:FREQ=YEARLY;BYDAY=-1SU;BYMONTH=10
TZOFFSETFROM:-0400
TZOFFSETTO:-0500
TZNAME:EST
END:STANDARD
BEGIN:DAYLIGHT
DTSTART:19870405T020000
RRULE:FREQ=YEARLY;BYDAY=1SU;BYMONTH=4;UNTIL=19980404T070000Z
TZOFFSETFROM:-0500
TZOFFSETTO:-0400
TZNAME:EDT
END:DAYLIGHT
END:VTIMEZONE
`);

const fictitiousAgain = published(String.raw`
BEGIN:VTIMEZONE
TZID:Fictitious
LAST-MODIFIED:19870101T000000Z
BEGIN:STANDARD
DTSTART:19671029T020000
RRULE:FREQ=YEARLY;BYDAY=-1SU;BYMONTH=10
TZOFFSETFROM:-0400
TZOFFSETTO:-0500
TZNAME:EST
END:STANDARD
BEGIN:DAYLIGHT
DTSTART:19870405T020000
RRULE:FREQ=YEARLY;BYDAY=1SU;BYMONTH=4;UNTIL=19980404T070000Z
TZOFFSETFROM:-0500
TZOFFSETTO:-0400
TZNAME:EDT
END:DAYLIGHT
BEGIN:DAYLIGHT
DTSTART:19990424T020000
RRULE:FREQ=YEARLY;BYDAY=-1SU;BYMONTH=4
TZOFFSETFROM:-0500
TZOFFSETTO:-0400
TZNAME:EDT
END:DAYLIGHT
END:VTIMEZONE
`);

const accepts = published(String.raw`
BEGIN:VCALENDAR
PRODID:-//Example/ExampleCalendarClient//EN
METHOD:REPLY
VERSION:2.0
BEGIN:VEVENT
ATTENDEE;PARTSTAT=ACCEPTED:mailto:b@example.com
ORGANIZER:mailto:a@example.com
UID:calsrv.example.com-873970198738777@example.com
SEQUENCE:0
REQUEST-STATUS:2.0;Success
DTSTAMP:19970612T190000Z
END:VEVENT
END:VCALENDAR
`);

const counters = published(String.raw`
BEGIN:VCALENDAR
PRODID:-//Example/ExampleCalendarClient//EN
METHOD:COUNTER
VERSION:2.0
BEGIN:VEVENT
ORGANIZER:mailto:a@example.com
ATTENDEE;ROLE=CHAIR;PARTSTAT=ACCEPTED:mailto:a@example.com
ATTENDEE;RSVP=TRUE;CUTYPE=INDIVIDUAL:mailto:b@example.com
ATTENDEE;RSVP=TRUE;CUTYPE=INDIVIDUAL:mailto:c@example.com
DTSTART:19970701T160000Z
DTEND:19970701T170000Z
DTSTAMP:19970612T190000Z
SUMMARY:Discuss the Merits of the election results
LOCATION:Blue Conference Room
COMMENT:This time works much better and I think the big conference
 room is too big
UID:calsrv.example.com-873970198738777a@example.com
SEQUENCE:0
END:VEVENT
END:VCALENDAR
`);

const delegates = published(String.raw`
BEGIN:VCALENDAR
PRODID:-//Example/ExampleCalendarClient//EN
METHOD:REPLY
VERSION:2.0
BEGIN:VEVENT
ORGANIZER:mailto:a@example.com
ATTENDEE;PARTSTAT=DELEGATED;DELEGATED-
 TO="mailto:e@example.com":mailto:c@example.com
UID:calsrv.example.com-873970198738777@example.com
SEQUENCE:0
REQUEST-STATUS:2.0;Success
DTSTAMP:19970611T190000Z
END:VEVENT
END:VCALENDAR
`);

const delegateAccepts = published(String.raw`
BEGIN:VCALENDAR
PRODID:-//Example/ExampleCalendarClient//EN
METHOD:REPLY
VERSION:2.0
BEGIN:VEVENT
ORGANIZER:mailto:a@example.com
ATTENDEE;PARTSTAT=ACCEPTED;DELEGATED-
 FROM="mailto:c@example.com":mailto:e@example.com
ATTENDEE;PARTSTAT=DELEGATED;
 DELEGATED-TO="mailto:e@example.com":mailto:c@example.com
UID:calsrv.example.com-873970198738777@example.com
SEQUENCE:0
REQUEST-STATUS:2.0;Success
DTSTAMP:19970614T190000Z
END:VEVENT
END:VCALENDAR
`);

const delegateDeclines = published(String.raw`
BEGIN:VCALENDAR
PRODID:-//Example/ExampleCalendarClient//EN
METHOD:REPLY
VERSION:2.0
BEGIN:VEVENT
ORGANIZER:mailto:a@example.com
ATTENDEE;PARTSTAT=DELEGATED;
 DELEGATED-TO="mailto:e@example.com":mailto:c@example.com
ATTENDEE;PARTSTAT=DECLINED;
 DELEGATED-FROM="mailto:c@example.com":mailto:e@example.com
COMMENT:Sorry, I will be out of town at that time.
UID:calsrv.example.com-873970198738777@example.com
SEQUENCE:0
REQUEST-STATUS:2.0;Success
DTSTAMP:19970614T190000Z
END:VEVENT
END:VCALENDAR
`);

const spanningZones = published(String.raw`
BEGIN:VCALENDAR
PRODID:-//Example/ExampleCalendarClient//EN
METHOD:REQUEST
VERSION:2.0
BEGIN:VTIMEZONE
TZID:America-SanJose
TZURL:http://example.com/tz/America-SanJose
BEGIN:STANDARD
DTSTART:19671029T020000
RRULE:FREQ=YEARLY;BYDAY=-1SU;BYMONTH=10
TZOFFSETFROM:-0700
TZOFFSETTO:-0800
TZNAME:PST
END:STANDARD
BEGIN:DAYLIGHT
DTSTART:19870405T020000
RRULE:FREQ=YEARLY;BYDAY=1SU;BYMONTH=4
TZOFFSETFROM:-0800
TZOFFSETTO:-0700
TZNAME:PDT
END:DAYLIGHT
END:VTIMEZONE
BEGIN:VEVENT
ORGANIZER:mailto:a@example.com
ATTENDEE;ROLE=CHAIR;PARTSTAT=ACCEPTED;
 CUTYPE=INDIVIDUAL:a@example.com
ATTENDEE;RSVP=TRUE;CUTYPE=INDIVIDUAL:b@example.fr
ATTENDEE;RSVP=TRUE;CUTYPE=INDIVIDUAL:c@example.jp
DTSTAMP:19970613T190030Z
DTSTART;TZID=America-SanJose:19970701T140000
DTEND;TZID=America-SanJose:19970701T150000
RRULE:FREQ=WEEKLY;COUNT=20;WKST=SU;BYDAY=TU
RDATE;TZID=America-SanJose:19970910T140000
EXDATE;TZID=America-SanJose:19970909T140000
EXDATE;TZID=America-SanJose:19971028T140000
SUMMARY:Weekly Phone Conference
UID:calsrv.example.com-873970198738777@example.com
SEQUENCE:0
STATUS:CONFIRMED
END:VEVENT
END:VCALENDAR
`);

const monthly = published(String.raw`
BEGIN:VCALENDAR
METHOD:REQUEST
PRODID:-//Example/ExampleCalendarClient//EN
VERSION:2.0
BEGIN:VEVENT
UID:guid-1@example.com
SEQUENCE:0
RRULE:FREQ=MONTHLY;BYMONTHDAY=1;UNTIL=19980901T210000Z
ORGANIZER:mailto:a@example.com
ATTENDEE;ROLE=CHAIR;PARTSTAT=ACCEPTED:mailto:a@example.com
ATTENDEE:mailto:b@example.com
ATTENDEE:mailto:c@example.com
ATTENDEE:mailto:d@example.com
DESCRIPTION:IETF-C&S Conference Call
CLASS:PUBLIC
SUMMARY:IETF Calendaring Working Group Meeting
DTSTART:19970601T210000Z
DTEND:19970601T220000Z
LOCATION:Conference Call
DTSTAMP:19970526T083000Z
STATUS:CONFIRMED
END:VEVENT
END:VCALENDAR
`);

const movedDate = published(String.raw`
BEGIN:VCALENDAR
METHOD:REQUEST
PRODID:-//Example/ExampleCalendarClient//EN
VERSION:2.0
BEGIN:VEVENT
UID:guid-1@example.com
RECURRENCE-ID:19970701T210000Z
SEQUENCE:1
ORGANIZER:mailto:a@example.com
ATTENDEE;ROLE=CHAIR;PARTSTAT=ACCEPTED:mailto:a@example.com
ATTENDEE:mailto:b@example.com
ATTENDEE:mailto:c@example.com
ATTENDEE:mailto:d@example.com
DESCRIPTION:IETF-C&S Conference Call
CLASS:PUBLIC
SUMMARY:IETF Calendaring Working Group Meeting
DTSTART:19970703T210000Z
DTEND:19970703T220000Z
LOCATION:Conference Call
DTSTAMP:19970626T093000Z
STATUS:CONFIRMED
END:VEVENT
END:VCALENDAR
`);

const cancelledDate = published(String.raw`
BEGIN:VCALENDAR
METHOD:CANCEL
PRODID:-//Example/ExampleCalendarClient//EN
VERSION:2.0
BEGIN:VEVENT
UID:guid-1@example.com
ORGANIZER:mailto:a@example.com
ATTENDEE;ROLE=CHAIR;PARTSTAT=ACCEPTED:mailto:a@example.com
ATTENDEE:mailto:b@example.com
ATTENDEE:mailto:c@example.com
ATTENDEE:mailto:d@example.com
RECURRENCE-ID:19970801T210000Z
SEQUENCE:2
STATUS:CANCELLED
DTSTAMP:19970721T093000Z
END:VEVENT
END:VCALENDAR
`);

const refreshed = published(String.raw`
BEGIN:VCALENDAR
METHOD:REQUEST
PRODID:-//Example/ExampleCalendarClient//EN
VERSION:2.0
BEGIN:VEVENT
UID:123456789@example.com
SEQUENCE:2
RDATE:19980304T180000Z
RDATE:19980311T160000Z
RDATE:19980315T180000Z
ORGANIZER:mailto:a@example.com
ATTENDEE;ROLE=CHAIR;PARTSTAT=ACCEPTED:mailto:a@example.com
ATTENDEE;RSVP=TRUE:mailto:b@example.com
SUMMARY:Review Accounts
DTSTART:19980304T180000Z
DTEND:19980304T200000Z
DTSTAMP:19980303T193000Z
LOCATION:Conference Room A
STATUS:CONFIRMED
END:VEVENT
BEGIN:VEVENT
SEQUENCE:2
UID:123456789@example.com
RECURRENCE-ID:19980311T160000Z
ATTENDEE;ROLE=CHAIR;PARTSTAT=ACCEPTED:mailto:a@example.com
ATTENDEE;RSVP=TRUE:mailto:b@example.com
SUMMARY:Review Accounts
DTSTART:19980311T160000Z
DTEND:19980304T180000Z
DTSTAMP:19980306T193000Z
LOCATION:The Small conference room
STATUS:CONFIRMED
END:VEVENT
END:VCALENDAR
`);

const countersDate = published(String.raw`
BEGIN:VCALENDAR
METHOD:COUNTER
PRODID:-//Example/ExampleCalendarClient//EN
VERSION:2.0
BEGIN:VEVENT
UID:guid-1@example.com
RECURRENCE-ID:19970715T210000Z
SEQUENCE:4
ORGANIZER:mailto:a@example.com
ATTENDEE;ROLE=CHAIR;RSVP=TRUE:mailto:a@example.com
ATTENDEE;RSVP=TRUE:mailto:b@example.com
ATTENDEE;RSVP=TRUE:mailto:c@example.com
ATTENDEE;RSVP=TRUE:mailto:d@example.com
DESCRIPTION:IETF-C&S Conference Call
CLASS:PUBLIC
SUMMARY:IETF Calendaring Working Group Meeting
DTSTART:19970715T220000Z
DTEND:19970715T230000Z
LOCATION:Conference Call
COMMENT:May we bump this by an hour? I have a conflict
DTSTAMP:19970629T094000Z
END:VEVENT
END:VCALENDAR
`);

const refuses = published(String.raw`
BEGIN:VCALENDAR
PRODID:-//Example/ExampleCalendarClient//EN
METHOD:REPLY
VERSION:2.0
BEGIN:VEVENT
ORGANIZER:mailto:a@example.com
ATTENDEE:mailto:b@example.com
REQUEST-STATUS:3.0;Invalid Property Name;FOO
UID:guid-1@example.com
SEQUENCE:0
DTSTAMP:19970603T094000Z
END:VEVENT
END:VCALENDAR
`);

const readAll = (text: string): ImportedCalendar => {
  const read = readCalendarEvents(text, 'UTC');
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.value;
};
const named = ({ problems }: ImportedCalendar): string[] =>
  problems.map(({ path, code, facts }) => [path, code, facts?.['name']].filter(Boolean).join(' '));
/** The events of several texts in one calendar, as a file holds them. */
const together = (...texts: readonly string[]): string =>
  `BEGIN:VCALENDAR\r\nVERSION:2.0\r\n${texts.map((text) => /BEGIN:VEVENT[^]*END:VEVENT\r\n/.exec(text)?.[0]).join('')}END:VCALENDAR\r\n`;
const startsOf = ({ events: [event] }: ImportedCalendar, zone: string): string[] =>
  event
    ? occurrencesBetween(event.facts, 0, Date.UTC(2000, 0, 1), 30)
        .filter(({ calledOff }) => !calledOff)
        .map(({ startMs }) => wallTimeAt(startMs, zone))
    : [];

describe('the published samples of RFC 5545 §4', () => {
  it('a conference of three days', () => {
    const { events, problems } = readAll(conference);
    expect(problems).toEqual([]);
    expect(events[0]?.facts).toEqual(
      jasmine.objectContaining({
        title: 'Networld+Interop Conference',
        description: 'Networld+Interop Conference and Exhibit\nAtlanta World Congress Center\nAtlanta, Georgia',
        span: { kind: 'timed', start: '1996-09-18T14:30', end: '1996-09-20T22:00' },
      }),
    );
    expect([events[0]?.organizer?.email, events[0]?.facts.entry.categories]).toEqual([
      'jsmith@example.com',
      ['CONFERENCE'],
    ]);
  });

  it('a meeting in New York, with a group invited', () => {
    const { events, problems } = readAll(meeting);
    expect(problems).toEqual([]);
    expect(events[0]?.facts).toEqual(
      jasmine.objectContaining({
        title: 'XYZ Project Review',
        zone: 'America/New_York',
        venue: '1CP Conference Room 4350',
        span: { kind: 'timed', start: '1998-03-12T08:30', end: '1998-03-12T09:30' },
      }),
    );
    expect(events[0]?.attendees.map(({ email }) => email)).toEqual(['employee-a@example.com']);
  });

  it('a meeting as it comes in a mail of an unknown method', () => {
    const { events } = readAll(planning);
    expect(events[0]?.facts.description).toBe(
      'Discuss how we can test c&s interoperability\nusing iCalendar and other IETF standards.',
    );
    expect(events[0]?.facts.entry.categories).toEqual(['MEETING', 'PROJECT']);
    expect(readPersonMessages(planning, 'jsmith@example.com')).toBeNull();
  });

  it('a to-do, a journal and busy time: read, named, and not taken for events', () => {
    expect([toDo, journal, busyTime].map((text) => named(readAll(text)))).toEqual([
      ['line 4 calendar-not-taken VTODO'],
      ['line 4 calendar-not-taken VJOURNAL'],
      ['line 4 calendar-not-taken VFREEBUSY'],
    ]);
    expect(unfoldLines(journal).find(({ text }) => text.startsWith('DESCRIPTION'))?.text).toContain(
      // Folds lose their space, here and in other samples, since the text was folded without one to keep.
      '\\n2. Definitionof project processes.',
    );
  });
});

describe('the published samples of RFC 5545 §3.6.5', () => {
  const zoneOf = (text: string): Component => {
    const read = readComponents(text);
    const component = read.ok ? read.value[0] : undefined;
    if (!component) throw new Error('no VTIMEZONE');
    return component;
  };
  /** Both sides of every change of New York's clocks in the tz database that the sample says it holds for. */
  const wrongIn = (text: string, fromMs: number, toMs: number): string[] => {
    const component = zoneOf(text);
    return transitionsBetween('America/New_York', fromMs, toMs)
      .flatMap(({ atMs }) => [atMs - 60_000, atMs, atMs + 60_000])
      .filter((atMs) => atMs > fromMs && atMs < toMs)
      .filter((atMs) => vtimezoneOffsetAt(component, atMs) !== offsetMinutesAt('America/New_York', atMs))
      .map((atMs) => new Date(atMs).toISOString());
  };

  it('New York since 1967, of one year, and with rules: the offsets of the tz database', () => {
    // The sample's own first onset is 3:00 EDT on 30 April 1967.
    expect(wrongIn(newYorkSince1967, Date.UTC(1967, 3, 30, 7), Date.UTC(2037, 11, 31))).toEqual([]);
    expect(wrongIn(newYorkOfOneYear, Date.UTC(2007, 2, 11, 7), Date.UTC(2008, 2, 9, 6, 59))).toEqual([]);
    expect(wrongIn(newYorkWithRules, Date.UTC(2007, 2, 11, 7), Date.UTC(2037, 11, 31))).toEqual([]);
  });

  it('are known for New York under any name, and the fictitious ones for nothing', () => {
    const aroundMs = Date.UTC(2007, 6, 1);
    const other = (text: string): Component => zoneOf(text.replace('TZID:America/New_York', 'TZID:Ours'));
    for (const text of [newYorkSince1967, newYorkOfOneYear, newYorkWithRules])
      expect(matchZone('Ours', other(text), aroundMs)).toBe('America/New_York');
    expect(matchZone('Fictitious', zoneOf(fictitious), Date.UTC(1998, 6, 1))).not.toBe('America/New_York');
  });

  it('fictitious zones: summer time that ends in 1997, and comes again in 1999, as an independent library has it', () => {
    const summers = (text: string): number[] => {
      const component = zoneOf(text);
      const theirs = new ICAL.Timezone(new ICAL.Component(ICAL.parse(text)));
      return Array.from({ length: 8 }, (_, index) => 1994 + index).filter((year) => {
        const isSummer = vtimezoneOffsetAt(component, Date.UTC(year, 6, 1)) === -240;
        expect(theirs.utcOffset(ICAL.Time.fromString(`${year}-07-01T12:00:00`, undefined)) === -14_400)
          .withContext(String(year))
          .toBe(isSummer);
        return isSummer;
      });
    };
    expect(summers(fictitious)).toEqual([1994, 1995, 1996, 1997]);
    expect(summers(fictitiousAgain)).toEqual([1994, 1995, 1996, 1997, 1999, 2000, 2001]);
  });
});

describe('the published samples of RFC 5546 §4', () => {
  const readOne = (text: string, sender: string): PersonMessage => {
    const read = readPersonMessages(text, sender);
    if (!read?.ok || !read.value[0]) throw new Error('cannot be read');
    return read.value[0];
  };

  it('B accepts', () => {
    expect(readOne(accepts, 'b@example.com')).toEqual({
      method: 'REPLY',
      uid: 'calsrv.example.com-873970198738777@example.com',
      sequence: 0,
      stampMs: Date.UTC(1997, 5, 12, 19),
      attendee: 'b@example.com',
      state: 'accepted',
      delegatedTo: '',
      delegatedFrom: '',
      refusal: '',
      comment: '',
      recurrence: null,
      proposed: null,
    });
  });

  it('B counters, naming everybody invited: it is B’s proposal, with its place', () => {
    const message = readOne(counters, 'b@example.com');
    expect([message.method, message.attendee, message.sequence]).toEqual(['COUNTER', 'b@example.com', 0]);
    expect(message.comment).toBe('This time works much better and I think the big conferenceroom is too big');
    expect(message.proposed).toEqual({
      start: { kind: 'utc', atMs: Date.UTC(1997, 6, 1, 16) },
      end: { kind: 'utc', atMs: Date.UTC(1997, 6, 1, 17) },
      length: null,
      place: 'Blue Conference Room',
    });
    // Sent by nobody who is invited, it is taken for the first who is not the organizer: and then set aside.
    expect(readOne(counters, 'mallory@example.com').attendee).toBe('b@example.com');
    // The section lets a COUNTER name nobody, and say a length instead of an end.
    const bare = counters.replace(/ATTENDEE.*\r\n/g, '').replace('DTEND:19970701T170000Z', 'DURATION:PT30M');
    expect([readOne(bare, 'b@example.com').attendee, readOne(bare, 'b@example.com').proposed?.length?.minutes]).toEqual(
      ['b@example.com', 30],
    );
    expect(readOne(countersDate, 'c@example.com')).toEqual(
      jasmine.objectContaining({
        attendee: 'c@example.com',
        sequence: 4,
        recurrence: { kind: 'utc', atMs: Date.UTC(1997, 6, 15, 21) },
      }),
    );
  });

  it('C passes it on to E, who says yes, or no', () => {
    const passedOn = readOne(delegates, 'c@example.com');
    expect([passedOn.attendee, passedOn.state, passedOn.delegatedTo]).toEqual([
      'c@example.com',
      'declined',
      'e@example.com',
    ]);
    const answers = [delegateAccepts, delegateDeclines].map((text) => readOne(text, 'e@example.com'));
    expect(answers.map(({ attendee, state, delegatedFrom }) => [attendee, state, delegatedFrom])).toEqual([
      ['e@example.com', 'accepted', 'c@example.com'],
      ['e@example.com', 'declined', 'c@example.com'],
    ]);
  });

  it('a calendar that could not take the invitation does not answer it', () => {
    const message = readOne(refuses, 'b@example.com');
    expect([message.state, message.refusal]).toEqual(['needs-action', '3.0;Invalid Property Name;FOO']);
  });

  it('a weekly conference across zones, in a zone of no known name, with an added date and two left out', () => {
    const read = readAll(spanningZones);
    expect(read.problems).toEqual([]);
    expect(read.events[0]?.facts.zone).toBe('America/Los_Angeles');
    // "20 instances", without 9 September and 28 October, and with 10 September.
    const starts = startsOf(read, 'America/Los_Angeles');
    expect([starts.length, starts[0], starts.at(-1)]).toEqual([19, '1997-07-01T14:00', '1997-11-11T14:00']);
    expect(starts.filter((at) => at.startsWith('1997-09'))).toEqual(
      ['02', '10', '16', '23', '30'].map((day) => `1997-09-${day}T14:00`),
    );
    expect(starts).not.toContain('1997-10-28T14:00');
    expect(startsOf(read, 'Europe/Paris')[0]).toBe('1997-07-01T23:00');
    expect(startsOf(read, 'Asia/Tokyo')[0]).toBe('1997-07-02T06:00');
  });

  it('a monthly call with a date that was moved and one that was called off', () => {
    const read = readAll(together(monthly, movedDate, cancelledDate));
    expect(read.problems).toEqual([]);
    expect(startsOf(read, 'UTC').slice(0, 4)).toEqual([
      '1997-06-01T21:00',
      '1997-07-03T21:00',
      '1997-09-01T21:00',
      '1997-10-01T21:00',
    ]);
    expect(startsOf(read, 'UTC').at(-1)).toBe('1998-09-01T21:00');
  });

  it('the answer to a REFRESH, whose changed date ends a week before it begins: named, and nothing half taken', () => {
    const read = readAll(refreshed);
    expect(read.events).toEqual([]);
    expect(named(read)).toEqual(['line 5 event-left-out', 'line 5 end-before-start']);
    const mended = readAll(refreshed.replace('DTEND:19980304T180000Z', 'DTEND:19980311T180000Z'));
    expect(startsOf(mended, 'UTC')).toEqual(['1998-03-04T18:00', '1998-03-11T16:00', '1998-03-15T18:00']);
  });
});

it('RFC 6868 §3.1: a name with quotes, written and read as published', () => {
  const line = "ATTENDEE;CN=George Herman ^'Babe^' Ruth:mailto:babe@example.com";
  expect(writeContentLine('ATTENDEE', 'mailto:babe@example.com', { CN: 'George Herman "Babe" Ruth' })).toBe(
    `${line}\r\n`,
  );
  const read = readContentLine(line, 1);
  expect(read.ok && read.value.params['CN']).toBe('George Herman "Babe" Ruth');
  // §3: a caret before anything else stays.
  const other = readContentLine('X;A=a^b^^n^n:v', 1);
  expect(other.ok && other.value.params['A']).toBe('a^b^n\n');
});
