import ICAL from 'ical.js';
import { blankFacts, type EventFacts, type EventVersion } from '../event/event';
import { foldLine } from './content-line';
import { readComponents } from './read-components';
import type { CalendarSource, Method } from './write-component';
import { plainEntryText, prepareCalendar } from './write-event';

const awkward = 'Łódź; “night”, 50 % off \\ \n2nd line — 🌒👩‍🚀 ' + 'ção '.repeat(40);
const facts: EventFacts = {
  ...blankFacts,
  title: `Observação: ${awkward}`.slice(0, 190),
  description: awkward,
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2026-10-24T22:00', end: '2026-10-25T03:00' },
  venue: 'Serra da Bruma; Dome 2, Estrada da Serra 1',
  joinLink: 'https://join.example/r?a=1,2;b=3',
  topics: ['moon, and eclipses', 'outdoors'],
};
const version: EventVersion = { number: 3, sequence: 2, facts, calledOff: false };
const source: CalendarSource = {
  uid: 'e1@convite.example',
  version,
  organizer: { name: 'Bruma, "the" Observatory^', email: 'hello@bruma.example' },
  url: 'https://convite.example/e/1',
  stampMs: Date.UTC(2026, 9, 1, 12, 0, 0),
  textOf: plainEntryText,
  isTextPersonal: false,
  guests: [],
};
const anna = { name: 'Ana: “Á”; Lopes', email: 'ana@people.example' };

const readWithIndependentLibrary = (text: string): { calendar: ICAL.Component; event: ICAL.Component } => {
  const calendar = new ICAL.Component(ICAL.parse(text));
  const event = calendar.getFirstSubcomponent('vevent');
  if (!event) throw new Error('no VEVENT');
  return { calendar, event };
};
const write = (method: Method, over: Partial<CalendarSource> = {}): string =>
  prepareCalendar({ ...source, ...over }, method)(anna);

describe('calendar writing', () => {
  it('is read by an independent library with every value unharmed', () => {
    const { calendar, event } = readWithIndependentLibrary(write('REQUEST'));
    expect(calendar.getFirstPropertyValue('method')).toBe('REQUEST');
    expect(event.getFirstPropertyValue('summary')).toBe(facts.title);
    expect(event.getFirstPropertyValue('description')).toBe(`${facts.description}\n\nJoin: ${facts.joinLink}`);
    expect(event.getFirstPropertyValue('location')).toBe(facts.venue);
    expect(event.getFirstProperty('categories')?.getValues()).toEqual(['moon, and eclipses', 'outdoors']);
    expect(event.getFirstProperty('organizer')?.getParameter('cn')).toBe(source.organizer.name);
    expect(event.getFirstProperty('attendee')?.getFirstValue()).toBe('mailto:ana@people.example');
    expect(event.getFirstProperty('attendee')?.getParameter('cn')).toBe(anna.name);
    expect(String(event.getFirstPropertyValue('sequence'))).toBe('2');
    expect(calendar.getFirstSubcomponent('vtimezone')?.getFirstPropertyValue('tzid')).toBe('Europe/Lisbon');
    // The night has 25 hours in it: 22:00+01:00 to 03:00+00:00 is six hours.
    const item = new ICAL.Event(event);
    const zone = new ICAL.Timezone(calendar.getFirstSubcomponent('vtimezone') as ICAL.Component);
    const unix = (time: ICAL.Time): number => Date.parse(`${time.toString()}Z`) / 1000 - zone.utcOffset(time);
    expect(unix(item.endDate) - unix(item.startDate)).toBe(6 * 3600);
  });

  it('keeps lines within 75 octets, CRLF, and whole UTF-8 sequences (RFC 5545 §3.1)', () => {
    const text = write('REQUEST');
    for (const line of text.split('\r\n')) {
      expect(new TextEncoder().encode(line).length).toBeLessThanOrEqual(75);
      expect(line).not.toMatch(/[\n\r]|\p{Surrogate}/u);
    }
    expect(text.endsWith('END:VCALENDAR\r\n')).toBeTrue();
    // §3.1's own example of folding reads back as one line.
    expect(
      foldLine('DESCRIPTION:This is a long description that exists on a long line.').replace(/\r\n /g, '').trim(),
    ).toBe('DESCRIPTION:This is a long description that exists on a long line.');
  });

  it('holds what RFC 5546 §3.2 requires and forbids per method', () => {
    const names = (method: Method): string[] => {
      const read = readComponents(write(method));
      if (!read.ok) throw new Error(JSON.stringify(read.problems));
      return (
        read.value[0]?.components
          .find((component) => component.name === 'VEVENT')
          ?.properties.map((property) => property.name) ?? []
      );
    };
    const always = ['UID', 'DTSTAMP', 'SEQUENCE', 'ORGANIZER', 'SUMMARY', 'DTSTART'];
    expect(names('REQUEST')).toEqual(jasmine.arrayContaining([...always, 'ATTENDEE']));
    expect(names('CANCEL')).toEqual(jasmine.arrayContaining([...always, 'ATTENDEE', 'STATUS']));
    expect(names('PUBLISH')).toEqual(jasmine.arrayContaining(always));
    expect(names('PUBLISH')).not.toContain('ATTENDEE');
    expect(write('CANCEL')).toContain('\r\nSTATUS:CANCELLED\r\n');
    expect(write('CANCEL')).not.toContain('VALARM');
  });

  it('writes all-day events with the exclusive end and no zone (RFC 5545 §3.6.1)', () => {
    const span = { kind: 'all-day', firstDay: '2026-12-31', lastDay: '2027-01-01' } as const;
    const text = write('REQUEST', { version: { ...version, facts: { ...facts, span } } });
    expect(text).toContain('DTSTART;VALUE=DATE:20261231\r\nDTEND;VALUE=DATE:20270102\r\n');
    expect(text).not.toContain('VTIMEZONE');
  });

  it('lets no data break out of its line', () => {
    const evil = { ...facts, title: 'x\r\nATTENDEE:mailto:evil@example.org', venue: 'a\nEND:VEVENT' };
    const { event } = readWithIndependentLibrary(write('REQUEST', { version: { ...version, facts: evil } }));
    expect(event.getAllProperties('attendee').length).toBe(1);
  });
});
