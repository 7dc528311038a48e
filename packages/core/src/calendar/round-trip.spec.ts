import ICAL from 'ical.js';
import { instantsOf, startOf, type EventFacts } from '../event/event';
import { nextOccurrence, occurrencesBetween, type Occurrence } from '../event/occurrences';
import { localSecondsOf } from '../recurrence/local-time';
import { isSkipped } from '../time/gaps';
import { addDays } from '../time/wall-time';
import { fileOf, inventEvents, normal, seeded, sourceOf } from '../testing/invent-events';
import { checkConformance } from './conformance';
import { readCalendarEvents } from './read-events';
import { prepareCalendar, writeDeclineCounter } from './write-event';

/** Dates of a series that somebody comes to, with one that differs where there is one. */
const someDates = (facts: EventFacts): Occurrence[] =>
  occurrencesBetween(facts, 0, Date.UTC(2032, 0, 1), 9).filter(
    ({ isChanged, calledOff }, index) => !calledOff && (isChanged || index % 3 === 0),
  );

/** What an independent reader finds in an entry, against what was written. */
function compareIndependently(master: ICAL.Component, wrote: EventFacts): void {
  const said = (name: string): string => normal(String(master.getFirstPropertyValue(name) ?? ''));
  const { span } = wrote;
  expect([said('summary'), said('description'), said('location')]).toEqual(
    [wrote.title, wrote.description, wrote.venue].map(normal),
  );
  expect([said('dtstart'), said('dtend')].map((time) => time.slice(0, 16))).toEqual([
    startOf(span),
    span.kind === 'timed' ? span.end : addDays(span.lastDay, 1),
  ]);
  // The library's own recurrence is wrong in rarer rules; plain weeks it counts as we do.
  if (!wrote.series?.rule.startsWith('FREQ=WEEKLY')) return;
  const iterator = new ICAL.Event(master).iterator();
  // It also gives times that the zone's clocks skip, which §3.3.10 asks to leave out.
  const theirs = Array.from({ length: 8 }, () => String(iterator.next()).slice(0, 16)).filter(
    (at) => at.length === 10 || !isSkipped(localSecondsOf(at), wrote.zone),
  );
  const { startMs } = instantsOf(wrote);
  const left = wrote.series.exceptions.filter(({ calledOff }) => calledOff).map(({ at }) => at);
  const plain = { ...wrote, series: { ...wrote.series, exceptions: [] } };
  const all = occurrencesBetween(plain, startMs, startMs + 90 * 86_400_000, 9).map(({ at }) => at);
  // What was called off is left out (EXDATE), so the library does not see it.
  const ours = all.filter((at) => !left.includes(at));
  expect(theirs.slice(0, 5)).toEqual(ours.slice(0, 5));
}

describe('calendars written and read back', () => {
  it('10,000 invented events are the same to our reader, in every script, zone and rule', () => {
    const random = seeded(7);
    for (let file = 0; file < 100; file += 1) {
      const events = inventEvents(random, 100);
      const read = readCalendarEvents(fileOf(events), 'Europe/Paris');
      if (!read.ok) throw new Error(JSON.stringify(read.problems));
      expect(read.value.problems).toEqual([]);
      expect(read.value.events.length).toBe(events.length);
      read.value.events.forEach(({ facts }, index) => {
        const wrote = events[index] as EventFacts;
        // Whole days have no zone in a calendar; they are days of the house's.
        const zone = wrote.span.kind === 'timed' ? wrote.zone : 'Europe/Paris';
        expect({ ...facts, entry: null, series: null }).toEqual({
          ...wrote,
          zone,
          description: normal(wrote.description),
          venue: normal(wrote.venue),
          entry: null as never,
          series: null,
        });
        expect({ ...facts.entry, categories: [] }).toEqual({ ...wrote.entry, categories: [] });
        const dates = (of: EventFacts): string[] =>
          occurrencesBetween({ ...of, zone }, 0, Date.UTC(2040, 0, 1), 40)
            // What was called off is left out of a published file (EXDATE).
            .filter(({ calledOff }) => !calledOff)
            .map((one) => `${one.key} ${one.facts.title}`)
            .slice(0, 12);
        expect(dates(facts)).toEqual(dates(wrote));
      });
    }
  }, 120_000);

  it('and the same 10,000 to an independent reader, dates of series included', () => {
    const random = seeded(7);
    // In files of a hundred: for each series the library looks through all that is in its file.
    for (let file = 0; file < 100; file += 1) {
      const events = inventEvents(random, 100);
      const calendar = new ICAL.Component(ICAL.parse(fileOf(events)));
      const masters = calendar.getAllSubcomponents('vevent').filter((one) => !one.hasProperty('recurrence-id'));
      expect(masters.length).toBe(events.length);
      masters.forEach((master, index) => compareIndependently(master, events[index] as EventFacts));
    }
  }, 120_000);

  it('keep every rule of the conformance list, which finds each fault that is put in', () => {
    const random = seeded(5);
    const events = inventEvents(random, 200);
    const reader = { name: 'Ana, "A"', email: 'ana@people.example' };
    events.forEach((facts, index) => {
      const source = sourceOf(facts, index);
      const date = nextOccurrence(facts, 0);
      for (const text of [
        fileOf([facts]),
        prepareCalendar(source, 'PUBLISH')(),
        prepareCalendar(source, 'REQUEST')(reader),
        prepareCalendar(source, 'CANCEL')(reader),
        ...(facts.series && date ? [prepareCalendar(source, 'CANCEL', [date])(reader)] : []),
        ...(facts.series ? [prepareCalendar(source, 'REQUEST', someDates(facts))(reader)] : []),
      ])
        expect(checkConformance(text).filter(({ isKept }) => !isKept))
          .withContext(text)
          .toEqual([]);
      const declined = { ...source, sequence: 3, comment: facts.description };
      const faults = checkConformance(writeDeclineCounter(declined, date, reader)).filter(({ isKept }) => !isKept);
      expect(faults).withContext('DECLINECOUNTER').toEqual([]);
    });
    const [lisbon] = events.filter(
      ({ zone, span, series, endZone }) =>
        zone === 'Europe/Lisbon' && span.kind === 'timed' && series?.rule.startsWith('FREQ=WEEKLY') && !endZone,
    );
    if (!lisbon) throw new Error('no event to break');
    const good = fileOf([{ ...lisbon, description: 'Plain, text' }]);
    const faults: [string, RegExp | string, string][] = [
      ['line-length', 'SUMMARY:', `X-LONG:${'x'.repeat(80)}\r\nSUMMARY:`],
      ['line-ends', '\r\nSUMMARY', '\nSUMMARY'],
      ['calendar-properties', /PRODID:.*\r\n/, ''],
      ['event-properties', /DTSTAMP:.*\r\n/, ''],
      ['end-after-start', /DTEND;.*\r\n/, 'DTEND:19990101T000000Z\r\n'],
      ['zones-defined', /BEGIN:VTIMEZONE[\s\S]*END:VTIMEZONE\r\n/, ''],
      ['zones-true', 'TZOFFSETTO:+0100', 'TZOFFSETTO:+0200'],
      ['rule-valid', /RRULE:FREQ=WEEKLY.*\r\n/, 'RRULE:FREQ=MONTHLY;BYDAY=5MO;BYMONTH=2\r\n'],
      // RFC 5546 §3.2.1: PUBLISH names nobody, and each of these stands once.
      ['method-properties', 'SUMMARY:', 'ATTENDEE:mailto:a@b.example\r\nSUMMARY:'],
      ['method-properties', /SUMMARY:.*\r\n/, '$&$&'],
      ['method-properties', /ORGANIZER.*\r\n/, ''],
      ['method-properties', 'METHOD:PUBLISH', 'METHOD:REQUEST'],
      ['method-properties', 'METHOD:PUBLISH', 'METHOD:CANCEL'],
      ['people', /ORGANIZER.*\r\n/, 'ORGANIZER:House\r\n'],
      ['text-escaped', 'Plain\\, text', 'Plain, text'],
      ['alarms', 'ACTION:DISPLAY\r\n', ''],
      ['readable', 'BEGIN:VEVENT', 'BEGIN:VEVENT\r\n;;;'],
    ];
    for (const [rule, from, to] of faults)
      expect(
        checkConformance(good.replace(from, to))
          .filter(({ isKept }) => !isKept)
          .map((check) => check.rule as string),
      )
        .withContext(rule)
        .toContain(rule);
  });
});
