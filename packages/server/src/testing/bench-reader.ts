// One reading of a calendar file in a process of its own, so that its memory is its own: prints `{ ms, mb }`.
import ICAL from 'ical.js';
import {
  blankFacts,
  plainEntryText,
  prepareCalendar,
  readCalendarEvents,
  readComponents,
  type EventFacts,
} from '@convite/core';

const zones = ['Europe/Lisbon', 'America/New_York', 'Asia/Tokyo', 'Australia/Sydney', 'America/Los_Angeles'];
const twoDigits = (value: number): string => String(value).padStart(2, '0');

/** One file of so many events, every third a weekly series, as a web calendar would give it out. */
function fileOf(count: number): string {
  const pieces: string[] = [];
  const zoneTexts = new Map<string, string>();
  for (let n = 0; n < count; n += 1) {
    const day = `2031-${twoDigits(1 + (n % 12))}-${twoDigits(1 + (n % 28))}`;
    const facts: EventFacts = {
      ...blankFacts,
      title: `Observação ${n}: night of stars, part ${n % 7}`,
      description: `Bring a coat; we stay outside.\nMeet at the gate, dome ${n % 3}.`.repeat(1 + (n % 3)),
      zone: zones[n % zones.length] ?? 'Europe/Lisbon',
      span: { kind: 'timed', start: `${day}T19:30`, end: `${day}T22:00` },
      venue: 'Serra da Bruma; Dome 2',
      series: n % 3 === 0 ? { rule: 'FREQ=WEEKLY;COUNT=10', added: [], exceptions: [] } : null,
    };
    const text = prepareCalendar(
      {
        uid: `n${n}@bench.example`,
        version: { number: 1, sequence: 0, facts, calledOff: false },
        organizer: { name: 'House', email: 'house@bench.example' },
        url: 'https://bench.example/e',
        stampMs: 0,
        textOf: plainEntryText,
        isTextPersonal: false,
        guests: [],
      },
      'PUBLISH',
    )();
    const at = text.indexOf('BEGIN:VEVENT');
    zoneTexts.set(facts.zone, zoneTexts.get(facts.zone) ?? text.slice(text.indexOf('BEGIN:VTIMEZONE'), at));
    pieces.push(text.slice(at, text.indexOf('END:VCALENDAR')));
  }
  return `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Bench//EN\r\n${[...zoneTexts.values()].join('')}${pieces.join('')}END:VCALENDAR\r\n`;
}

const texts: Readonly<Record<string, () => string>> = {
  hostile: () => `BEGIN:VCALENDAR\r\nX:${'y'.repeat(100_000_000)}\r\nEND:VCALENDAR`,
  nested: () => 'BEGIN:VEVENT\r\n'.repeat(900_000),
};

/** Reads the words and times of every event; less than ours does, which also checks rules and finds each instant. */
function readTheirs(text: string): number {
  const calendar = new ICAL.Component(ICAL.parse(text));
  // Not ICAL.Event: it looks through all other events for each series, and takes a minute.
  const names = ['summary', 'description', 'location', 'uid', 'dtstart', 'dtend'];
  return calendar
    .getAllSubcomponents('vevent')
    .filter((event) => names.every((name) => String(event.getFirstPropertyValue(name)) !== '')).length;
}

function readOurs(text: string): number {
  const read = readCalendarEvents(text, 'Europe/Lisbon');
  return read.ok ? read.value.events.length : 0;
}

/** Taking the text apart alone: lines, names, parameters, values. */
const partsOfOurs = (text: string): number => {
  const read = readComponents(text);
  return read.ok ? (read.value[0]?.components.filter(({ name }) => name === 'VEVENT').length ?? 0) : 0;
};
const partsOfTheirs = (text: string): number =>
  new ICAL.Component(ICAL.parse(text)).getAllSubcomponents('vevent').length;

const readers = (kind: string): ((text: string) => number) =>
  ({ theirs: readTheirs, 'their-parts': partsOfTheirs, parts: partsOfOurs })[kind] ?? readOurs;

const [, , kind = 'ours', count = '10000'] = process.argv;
const text = (texts[kind] ?? (() => fileOf(Number(count))))();
Buffer.byteLength(text);
const beforeKb = process.memoryUsage.rss() / 1024;
const startedAt = performance.now();
const events = readers(kind)(text);
const ms = performance.now() - startedAt;
console.log(JSON.stringify({ ms, mb: process.resourceUsage().maxRSS / 1024 - beforeKb / 1024, events }));
