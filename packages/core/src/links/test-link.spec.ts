import { blankFacts, type EventFacts } from '../event/event';
import { readLinkTime } from './read-link';
import { testLink, type LinkFault } from './test-link';
import { readWebCalendarPattern, writeWebCalendarLink } from './web-calendar';

// Common practice (PRODUCT.md): Lisbon is UTC+01:00 in June, UTC in winter.
const facts: EventFacts = {
  ...blankFacts,
  title: 'Moon & stars',
  description: 'Bring a coat; we stay outside.',
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2031-06-18T20:30', end: '2031-06-18T22:00' },
  venue: 'Dome 2, Serra',
};
const allDay: EventFacts = { ...facts, span: { kind: 'all-day', firstDay: '2031-06-18', lastDay: '2031-06-19' } };
const good = {
  title: 'Moon%20%26%20stars',
  start: '20310618T193000Z',
  end: '20310618T210000Z',
  location: 'Dome%202%2C%20Serra',
  details: 'Bring%20a%20coat%3B%20we%20stay%20outside.',
};
const link = (over: Partial<Record<keyof typeof good | 'tz' | 'dates' | 'duration', string>> = {}): string =>
  `https://calendar.example/add?${Object.entries({ ...good, ...over })
    .filter(([, value]) => value !== '-')
    .map(([name, value]) => `${name}=${value}`)
    .join('&')}`;
const faultsOf = (text: string, event = facts): string[] =>
  testLink(text, event).lines.flatMap(({ part, faults }) => faults.map((fault) => `${part} ${fault}`));

describe('the link tester', () => {
  const right: [string, string, EventFacts?][] = [
    ['times in UTC', link()],
    ['times with their offset', link({ start: '2031-06-18T20:30:00%2B01:00', end: '2031-06-18T22:00:00%2B01:00' })],
    ['times of another zone', link({ start: '20310618T153000', end: '20310618T170000', tz: 'America/New_York' })],
    ['the clock of the event’s zone', link({ start: '20310618T203000', end: '20310618T220000', tz: 'Europe/Lisbon' })],
    ['both times in one value', link({ start: '-', end: '-', dates: '20310618T193000Z/20310618T210000Z' })],
    ['&amp; from the source of a page', link().replaceAll('&', '&amp;')],
    ['the page’s address after the description', link({ details: `${good.details}%0A%0Ahttps%3A%2F%2Fc.example` })],
    ['a length instead of an end', link({ end: '-', duration: 'PT1H30M' })],
    ['a length in hours and minutes', link({ end: '-', duration: '0130' })],
    ['days and how many', link({ start: '20310618', end: '-', duration: 'P2D' }), allDay],
    ['what looks like a field and is the title', link({ title: 'About%20%7Bx%7D' }), { ...facts, title: 'About {x}' }],
    ['what looks encoded and is the title', link({ title: 'Rate%2050%2525' }), { ...facts, title: 'Rate 50%25' }],
    ['tags in a description', link({ details: `%3Cp%3E${good.details}%3C%2Fp%3E` })],
    ['days, the end the day after', link({ start: '20310618', end: '20310620' }), allDay],
  ];
  for (const [title, text, event] of right)
    it(`finds nothing wrong with ${title}`, () => expect(faultsOf(text, event)).toEqual([]));

  const wrong: [string, `${string} ${LinkFault}`, EventFacts?][] = [
    [link({ title: 'Moon %26 stars' }), 'link raw-space'],
    [link({ title: 'Moon+%26+stars' }), 'title plus-ambiguous'],
    [link({ title: 'Moon%2520%2526%2520stars' }), 'title double-encoded'],
    [link({ title: 'Moon%20%26%20st%E4rs' }), 'title not-decodable'],
    [link({ title: 'Moon%20' }), 'title cut'],
    [link({ title: 'Moon & stars' }), 'title cut'],
    [link({ title: 'Moon%20#1' }), 'start missing'],
    [link({ title: 'Sun%20%26%20stars' }), 'title differs'],
    [link({ title: '%7B%7Bevent.title%7D%7D' }), 'title field-unfilled'],
    [link({ title: 'Moon%20%26%20%3Cb%3Estars%3C%2Fb%3E' }), 'title differs'],
    [link({ start: '20310618T193007Z' }), 'start differs'],
    [link({ end: '2031-06-18T22:00:59%2B01:00' }), 'end differs'],
    [link({ end: '-', duration: 'PT2H' }), 'end differs'],
    [link({ location: '{place}' }), 'place field-unfilled'],
    [link({ location: '-' }), 'place missing'],
    [link({ details: 'Bring%20a%20coat%E2%80%A6' }), 'description cut'],
    [link({ start: '20310618T203000Z' }), 'start local-as-utc'],
    [link({ start: '2031-06-18T20:30:00Z' }), 'start local-as-utc'],
    [link({ start: '2031-06-18T20:30:00%2B00:00' }), 'start wrong-offset'],
    [link({ start: '2031-06-18T20:30:00+01:00' }), 'start plus-ambiguous'],
    [link({ start: '18%2F06%2F2031' }), 'start time-unreadable'],
    [link({ start: '-' }), 'start missing'],
    [link({ start: '20310619T193000Z' }), 'start differs'],
    [link({ end: '20310618T190000Z' }), 'end end-before-start'],
    [link({ start: '20310618T203000' }), 'zone no-zone'],
    [link({ start: '20310618T203000', tz: 'Lissabon' }), 'zone unknown-zone'],
    [link({ start: '20310618', end: '20310619' }), 'end all-day-end-off', allDay],
    [link({ start: '20310618T000000Z', end: '20310620' }), 'start not-all-day', allDay],
    ['calendar.example/add', 'link not-a-link'],
    ['javascript:alert(1)', 'link not-a-link'],
  ];
  for (const [text, fault, event] of wrong)
    it(`finds ${fault} in ${text.slice(0, 90)}`, () => expect(faultsOf(text, event)).toContain(fault));

  it('says what a link really says, in words with its zone', () => {
    const { lines } = testLink(link({ start: '20310618T203000Z' }), facts);
    const start = lines.find(({ part }) => part === 'start');
    expect(start?.says).toContain('20:30');
    expect(start?.says).toContain('21:30');
    expect(start?.should).toContain('Wed 18 Jun 2031 20:30');
  });

  it('finds nothing wrong with any link that our own patterns make', () => {
    const events: EventFacts[] = [
      facts,
      allDay,
      { ...facts, title: '100 % + “quoted” = {ok} — já! 🌒', venue: 'A#B; C, D/E?F', description: 'One\ntwo & three' },
      { ...facts, zone: 'Asia/Kathmandu', endZone: 'America/St_Johns', venue: 'Überall' },
    ];
    const patterns = [
      '{?title,start,end,place,description}',
      '?text={title}&dates={start}/{end}&loc={place}&details={description}',
    ];
    for (const event of events)
      for (const pattern of patterns) {
        const read = readWebCalendarPattern(`https://c.example/x${pattern}`);
        if (!read.ok) throw new Error(JSON.stringify(read.problems));
        const text = writeWebCalendarLink(read.value, event, 'u@x', 'https://convite.example/e/1');
        expect(faultsOf(text, event).filter((fault) => !fault.includes('field-unfilled')))
          .withContext(text)
          .toEqual([]);
      }
  });

  it('reads times in the forms that links use, and no others', () => {
    const kinds = (texts: string[]): string[] => texts.map((text) => readLinkTime(text)?.kind ?? 'none');
    expect(kinds(['20310618', '2031-06-18', '20310618T203000', '2031-06-18T20:30'])).toEqual([
      'day',
      'day',
      'local',
      'local',
    ]);
    expect(kinds(['20310618T203000Z', '2031-06-18T20:30:00.000Z', '2031-06-18T20:30:00+01:00'])).toEqual([
      'utc',
      'utc',
      'offset',
    ]);
    expect(kinds(['20310230', '20310618T253000', 'soon', '', '2031-06-18T20:30:00+25:00'])).toEqual(
      Array<string>(5).fill('none'),
    );
  });
});
