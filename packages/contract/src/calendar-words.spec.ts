import { blankFacts, prepareCalendar, unfoldLines, type CalendarSource, type EventFacts } from '@convite/core';
import { explainLine } from './calendar-words';

const off = { span: null, title: null, description: null, venue: null, joinLink: null };
/** A series with everything in it that an entry can say. */
const facts: EventFacts = {
  ...blankFacts,
  title: 'Dome night',
  description: 'Bring a coat.',
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2031-06-18T19:30', end: '2031-06-18T22:00' },
  venue: 'Dome',
  joinLink: 'https://join.example/r',
  topics: ['moon'],
  series: {
    rule: 'FREQ=WEEKLY;BYDAY=WE',
    added: ['2031-06-20T19:30'],
    exceptions: [
      { ...off, at: '2031-06-25T19:30', calledOff: true },
      { ...off, at: '2031-07-02T19:30', calledOff: false, venue: 'Dome 2' },
    ],
  },
  entry: {
    ...blankFacts.entry,
    colour: 'teal',
    imageUrl: 'https://house.example/dome.png',
    position: { latitude: 40.4, longitude: -7.5 },
  },
};
const source: CalendarSource = {
  uid: 'e1@convite.example',
  version: { number: 3, sequence: 2, facts, calledOff: false },
  organizer: { name: 'House', email: 'replies@house.example' },
  url: 'https://convite.example/e/1',
  stampMs: Date.UTC(2031, 4, 1, 12),
  textOf: () => ({ plain: 'Bring a coat.', styled: '<p>Bring a coat.</p>' }),
  isTextPersonal: false,
  guests: [],
};
const ana = { name: 'Ana', email: 'ana@people.example' };

describe('explainLine', () => {
  for (const method of ['REQUEST', 'CANCEL', 'PUBLISH'] as const)
    it(`says every line of a ${method} that we write in words, none by its name alone`, () => {
      const text = prepareCalendar(source, method)(method === 'PUBLISH' ? undefined : ana);
      const unexplained = unfoldLines(text).filter((line) => {
        const said = explainLine(line.text);
        return said.startsWith(`${line.text.split(/[:;]/)[0]}:`) || /undefined|NaN|^This line/.test(said);
      });
      expect(unexplained.map((line) => line.text)).toEqual([]);
    });

  for (const [line, said] of [
    ['DTSTART;TZID=Europe/Lisbon:20310618T193000', 'Begins: Wed 18 Jun 2031 19:30 Lisbon'],
    ['DTSTAMP:20310501T120000Z', 'Written: Thu 1 May 2031 12:00 UTC'],
    ['DTEND;VALUE=DATE:20310620', 'Ends: Fri 20 Jun 2031'],
    ['EXDATE;TZID=Europe/Lisbon:20310625T193000,20310702T193000', 'Wed 2 Jul 2031 19:30 Lisbon'],
    ['RRULE:FREQ=MONTHLY;BYDAY=1SU', 'How it repeats: the first Sunday of every month'],
    ['ATTENDEE;CN=Ana;RSVP=TRUE;PARTSTAT=NEEDS-ACTION:mailto:ana@x.example', 'Ana, asked for a reply'],
    ['TRIGGER:-PT1440M', '1 day before'],
    ['STATUS:CANCELLED', 'Does not take place'],
    ['METHOD:CANCEL', 'calls off'],
    ['X-OTHER-THING:7', 'X-OTHER-THING: 7'],
    ['no colon here', 'This line cannot be read.'],
  ] as const)
    it(`says ${line} as “${said}”`, () => expect(explainLine(line)).toContain(said));
});
