import { differencesBetween, matters, nextVersion } from './change';
import { checkEvent } from './check-event';
import { blankFacts, type EventFacts, type EventVersion } from './event';

const facts: EventFacts = {
  ...blankFacts,
  title: 'Dome night',
  description: '',
  zone: 'Europe/Lisbon',
  span: { kind: 'timed', start: '2026-06-18T19:30', end: '2026-06-18T22:00' },
  venue: 'Dome 1',
  joinLink: '',
  topics: ['stars'],
};
const first: EventVersion = { number: 1, sequence: 0, facts, calledOff: false };

describe('versions', () => {
  it('raise SEQUENCE when time or place changes or the event is called off, and only then (RFC 5546 §2.1.4)', () => {
    const moved = nextVersion(first, {
      ...facts,
      span: { kind: 'timed', start: '2026-06-18T21:30', end: '2026-06-19T00:00' },
    });
    expect([moved?.number, moved?.sequence]).toEqual([2, 1]);
    expect([
      nextVersion(first, { ...facts, venue: 'Dome 2' })?.sequence,
      nextVersion(first, { ...facts, title: 'Night' })?.sequence,
    ]).toEqual([1, 0]);
    expect(nextVersion(first, facts, true)?.sequence).toBe(1);
    expect(nextVersion(first, { ...facts })).toBeNull();
    // A title that no calendar would write (RFC 5545 §3.3.11) is none.
    expect(checkEvent({ ...facts, title: '\u0007 \u200b' }).map(({ path }) => path)).toEqual(['title']);
    // §3.3.10: whole days have no hours to repeat by.
    const day = { kind: 'all-day', firstDay: '2026-06-18', lastDay: '2026-06-18' } as const;
    for (const rule of ['FREQ=HOURLY', 'FREQ=DAILY;BYHOUR=9', 'FREQ=DAILY;BYMINUTE=0', 'FREQ=DAILY;BYSECOND=0'])
      expect(checkEvent({ ...facts, span: day, series: { rule, added: [], exceptions: [] } }).map(({ code }) => code))
        .withContext(rule)
        .toEqual(['bad-rule']);
  });

  it('say what differs in words, the zone with the time', () => {
    const moved = nextVersion(first, { ...facts, zone: 'Europe/Madrid', title: 'Late dome night' }) as EventVersion;
    const differences = differencesBetween(first, moved);
    expect(differences.map(({ field }) => field)).toEqual(['title', 'start', 'end', 'zone']);
    expect(differences[1]).toEqual({
      field: 'start',
      before: 'Thu 18 Jun 2026 19:30 Lisbon',
      after: 'Thu 18 Jun 2026 19:30 Madrid',
    });
    expect(matters(differences)).toBeTrue();
    expect(matters(differences.slice(0, 1))).toBeFalse();
  });
});

describe('checking an event', () => {
  const cases: [Partial<EventFacts>, string, string][] = [
    [{ title: ' ' }, 'required', 'title'],
    [{ zone: 'Lisbon' }, 'unknown-zone', 'zone'],
    [{ span: { kind: 'timed', start: '2026-06-18T19:30', end: '2026-06-18T19:30' } }, 'end-before-start', 'span.end'],
    [{ span: { kind: 'timed', start: '', end: '2026-07-01T19:30' } }, 'required', 'span.start'],
    [{ span: { kind: 'all-day', firstDay: ' ', lastDay: '2026-07-01' } }, 'required', 'span.firstDay'],
    [{ span: { kind: 'timed', start: '2026-06-31T19:30', end: '2026-07-01T19:30' } }, 'bad-date', 'span.start'],
    [{ span: { kind: 'all-day', firstDay: '2026-06-18', lastDay: '2026-06-17' } }, 'end-before-start', 'span.lastDay'],
    // Twice in the night the clocks go back: 01:30 to 01:10 looks backwards but the readings both mean the first pass.
    [{ span: { kind: 'timed', start: '2026-10-25T01:30', end: '2026-10-25T01:10' } }, 'end-before-start', 'span.end'],
    [{ joinLink: 'javascript:alert(1)' }, 'bad-link', 'joinLink'],
    [{ joinLink: 'https://a b.example' }, 'bad-link', 'joinLink'],
  ];
  for (const [over, code, path] of cases) {
    it(`${path}: ${code} for ${JSON.stringify(over)}`, () =>
      expect(checkEvent({ ...facts, ...over })).toEqual([jasmine.objectContaining({ code, path })]));
  }
  it('finds nothing wrong with a good one', () => expect(checkEvent(facts)).toEqual([]));
});
