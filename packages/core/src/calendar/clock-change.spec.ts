import ICAL from 'ical.js';
import { blankFacts, instantsOf, type EventFacts } from '../event/event';
import { findOccurrence, keyOf, occurrencesBetween } from '../event/occurrences';
import { personalFacts } from '../event/personal';
import { zoneNames } from '../time/zone-names';
import { readCalendarEvents } from './read-events';
import { writeTimeZone } from './vtimezone';
import { prepareCalendar } from './write-event';
import type { CalendarSource } from './write-component';

// Every night on which clocks change, in every zone, 2024 to 2036: an hour of readings is left out, or comes twice, and what
// is meant is held against the runtime's own clock (Intl), which shares nothing with how core finds it. Runs in Node only.
const minuteMs = 60_000;
const [firstMs, lastMs] = [Date.UTC(2024, 0, 1), Date.UTC(2037, 0, 1)];

/** What the clocks of a zone show, by the runtime. */
function clockOf(zone: string): (atMs: number) => string {
  const format = new Intl.DateTimeFormat('sv-SE', {
    timeZone: zone,
    dateStyle: 'short',
    timeStyle: 'short',
  });
  return (atMs) => format.format(atMs).replace(' ', 'T');
}

/** The instants at which a zone's clocks change, found by looking every ten days and then closer; back by so many minutes. */
function changesIn(clock: (atMs: number) => string): { atMs: number; byMinutes: number }[] {
  const offset = (atMs: number): number => (Date.parse(`${clock(atMs)}Z`) - atMs) / minuteMs;
  const found: { atMs: number; byMinutes: number }[] = [];
  for (let fromMs = firstMs; fromMs < lastMs; fromMs += 10 * 86_400_000) {
    const [before, after] = [offset(fromMs), offset(fromMs + 10 * 86_400_000)];
    if (after === before) continue;
    let [low, high] = [fromMs, fromMs + 10 * 86_400_000];
    while (high - low > minuteMs) {
      const middle = Math.floor((low + high) / 2 / minuteMs) * minuteMs;
      if (offset(middle) === before) low = middle;
      else high = middle;
    }
    found.push({ atMs: high, byMinutes: before - after });
  }
  return found;
}

const nights = zoneNames().flatMap((zone) => {
  const clock = clockOf(zone);
  return changesIn(clock).map((night) => ({ zone, clock, ...night }));
});

const sourceOf = (facts: EventFacts): CalendarSource => ({
  uid: 'night@convite.example',
  version: { number: 1, sequence: 0, facts, calledOff: false },
  organizer: { name: '', email: 'house@convite.example' },
  url: '',
  stampMs: 0,
  textOf: () => ({ plain: '', styled: '' }),
  isTextPersonal: false,
  guests: [],
});

/** Start and end of each entry in a text, by an independent library. */
function readIndependently(text: string): [number, number][] {
  const calendar = new ICAL.Component(ICAL.parse(text));
  for (const zone of calendar.getAllSubcomponents('vtimezone')) ICAL.TimezoneService.register(new ICAL.Timezone(zone));
  const read = calendar.getAllSubcomponents('vevent').map((component): [number, number] => {
    const event = new ICAL.Event(component);
    return [event.startDate.toUnixTime() * 1000, event.endDate.toUnixTime() * 1000];
  });
  ICAL.TimezoneService.reset();
  return read;
}

const timed = (zone: string, start: string, end: string): EventFacts => ({
  ...blankFacts,
  title: 'Night',
  zone,
  span: { kind: 'timed', start, end },
});

describe('a night on which clocks change (RFC 5545 §3.3.5, §3.8.5.3)', () => {
  it('is known in many zones', () => expect(nights.length).toBeGreaterThan(1000));

  it('a series, a date moved into it, and a person’s own time last exactly as long as they should', () => {
    const wrong: string[] = [];
    for (const night of nights) {
      const { zone, clock, atMs, byMinutes } = night;
      const say = (what: string, is: unknown, should: unknown): void => {
        if (JSON.stringify(is) !== JSON.stringify(should))
          wrong.push(`${zone} ${clock(atMs)} ${what}: ${is} not ${should}`);
      };
      // It begins before the readings that are left out or come twice, and ends halfway through their second coming.
      const backMinutes = Math.max(0, byMinutes);
      const lengthMs = (backMinutes + Math.floor(backMinutes / 2) + 15) * minuteMs;
      const startMs = atMs - (backMinutes + 10) * minuteMs;
      const endMs = startMs + lengthMs;
      const wall = clock(startMs);
      const weekBefore = new Date(Date.parse(`${wall}Z`) - 7 * 86_400_000).toISOString().slice(0, 16);
      const weekBeforeEnd = new Date(Date.parse(`${weekBefore}Z`) + lengthMs).toISOString().slice(0, 16);
      const plain = timed(zone, weekBefore, weekBeforeEnd);
      const weekly: EventFacts = { ...plain, series: { rule: 'FREQ=WEEKLY', added: [], exceptions: [] } };
      const plainMs = instantsOf(plain);
      // A clock that moved in the week between too (it happens) makes another length of it.
      if (plainMs.endMs - plainMs.startMs !== lengthMs) continue;

      const date = occurrencesBetween(weekly, startMs - 1, startMs + 1)[0];
      say('date', date && [date.startMs, date.endMs], [startMs, endMs]);
      if (!date) continue;
      say('single date', readIndependently(prepareCalendar(sourceOf(weekly), 'REQUEST', [date])()), [[startMs, endMs]]);
      const own = { start: wall, end: '', place: '', notes: '', revision: 0 };
      const personal = personalFacts(plain, own);
      say('own time', readIndependently(prepareCalendar(sourceOf(personal), 'REQUEST')()), [[startMs, endMs]]);

      // Imported by its instants it is the same, also where it begins in the second coming.
      const utc = (ms: number): string => new Date(ms).toISOString().replace(/[-:]|\.\d+/g, '');
      const later = [atMs + 5 * minuteMs, atMs + 20 * minuteMs] as const;
      const text = ['BEGIN:VCALENDAR', 'BEGIN:VEVENT', 'UID:u', `DTSTART:${utc(later[0])}`, `DTEND:${utc(later[1])}`];
      const read = readCalendarEvents([...text, 'END:VEVENT', 'END:VCALENDAR', ''].join('\r\n'), zone);
      const facts = read.ok ? read.value.events[0]?.facts : undefined;
      const imported = facts && instantsOf(facts);
      say('import', imported && [imported.startMs, imported.endMs], later);
      if (!facts) continue;
      const local = (tzid: string, more: string[] = []): string =>
        [
          'BEGIN:VCALENDAR',
          ...more,
          'BEGIN:VEVENT',
          'UID:u',
          `DTSTART;TZID=${tzid}:${wall.replace(/[-:]/g, '')}00`,
          `DURATION:PT${lengthMs / minuteMs}M`,
          'END:VEVENT',
          'END:VCALENDAR',
          '',
        ].join('\r\n');
      const named = writeTimeZone(zone, startMs - 400 * 86_400_000, null)
        .trim()
        .replace(/TZID:.*/, 'TZID:Ours\\, here')
        .split('\r\n');
      for (const [what, form] of [
        ['by wall time', local(zone)],
        // Looking for a zone by its rules takes long: one in forty will do.
        ...(nights.indexOf(night) % 40 === 0
          ? [['by rules under a name with escapes', local('"Ours, here"', named)]]
          : []),
      ] as const) {
        const taken = readCalendarEvents(form ?? '', 'UTC');
        const its = taken.ok && taken.value.events[0] ? instantsOf(taken.value.events[0].facts) : null;
        say(`import ${what}`, its && [its.startMs, its.endMs], [startMs, endMs]);
      }
      say('import written', readIndependently(prepareCalendar(sourceOf(facts), 'REQUEST')()), [later]);

      const exception = { at: date.at, calledOff: false, title: null, description: null, venue: null, joinLink: null };
      const moved = {
        ...weekly,
        series: { rule: 'FREQ=WEEKLY', added: [], exceptions: [{ ...exception, span: facts.span }] },
      };
      const found = findOccurrence(moved, keyOf(date.at));
      say('moved', found && [found.startMs, found.endMs], later);
      say('moved written', readIndependently(prepareCalendar(sourceOf(moved), 'REQUEST')())[1], later);
    }
    expect(wrong.slice(0, 10)).toEqual([]);
  }, 240_000);
});
