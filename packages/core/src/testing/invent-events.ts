import { checkEvent } from '../event/check-event';
import { entryColours, plainEntry } from '../event/entry';
import { blankFacts, instantsOf, type EventFacts, type Series } from '../event/event';
import { occurrencesBetween } from '../event/occurrences';
import { addDays, weekdayOf } from '../time/wall-time';
import { plainEntryText } from '../calendar/write-event';
import type { CalendarSource } from '../calendar/write-component';
import { writeFeed } from '../calendar/write-feed';

/** Numbers from a fixed seed, so that a failure can be seen again. */
export function seeded(seed: number) {
  let state = seed;
  const below = (most: number): number => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((state / 2 ** 32) * most);
  };
  return { below, pick: <T>(from: readonly T[]): T => from[below(from.length)] as T };
}
export type Random = ReturnType<typeof seeded>;

const zones = [
  'Europe/Lisbon',
  'America/New_York',
  'Asia/Kolkata',
  'Australia/Lord_Howe',
  'America/Santiago',
  'Africa/Casablanca',
  'Asia/Tokyo',
  'Pacific/Chatham',
  'UTC',
];
const scripts = [
  'Noite de São João; ',
  'Łódź, “ночь” ',
  'ליל כוכבים ',
  'ليلة النجوم ',
  '星空の夜 ',
  '별밤 ',
  'คืนดาว ',
  'τ\\n: ',
  '🌒👩‍🚀🏳️‍🌈 ',
  'e\u0301^n^^"x" ',
  '  - , ; : \\ ',
];
const names = ['MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU'];

function inventText(random: Random, most: number): string {
  return (
    Array.from({ length: 1 + random.below(most) }, () => random.pick(scripts))
      .join(random.pick(['', '', '\n']))
      .trim() || 'x'
  );
}

export function inventEvent(random: Random): EventFacts {
  const zone = random.pick(zones);
  const day = addDays('2025-01-01', random.below(1500));
  const time = `${String(random.below(24)).padStart(2, '0')}:${String(random.below(60)).padStart(2, '0')}`;
  const later = addDays(day, 1 + random.below(3));
  const span: EventFacts['span'] =
    random.below(4) === 0
      ? { kind: 'all-day', firstDay: day, lastDay: addDays(day, random.below(3)) }
      : { kind: 'timed', start: `${day}T${time}`, end: `${later}T${time}` };
  const facts: EventFacts = {
    ...blankFacts,
    title: inventText(random, 6).replaceAll('\n', ' ').slice(0, 150).trim(),
    description: random.below(3) ? inventText(random, 30) : '',
    zone,
    endZone: span.kind === 'timed' && random.below(6) === 0 ? random.pick(zones) : '',
    span,
    venue: random.below(2) ? inventText(random, 3) : '',
    entry: {
      ...plainEntry,
      alarmsMinutes: [random.pick([0, 15, 30, 1440])],
      isPrivate: random.below(3) === 0,
      isBusy: random.below(3) > 0,
      categories: [`c${random.below(9)}, d`],
      colour: random.below(2) ? random.pick(entryColours) : '',
      position: random.below(3) ? null : { latitude: random.below(90), longitude: 1 - random.below(180) },
    },
  };
  const whole = { ...facts, endZone: facts.endZone === zone ? '' : facts.endZone };
  return random.below(2) ? withSeries(random, whole, day) : whole;
}

function withSeries(random: Random, facts: EventFacts, day: string): EventFacts {
  const nth = Math.min(4, Math.ceil(Number(day.slice(8)) / 7));
  const rule = random.pick([
    `FREQ=WEEKLY;BYDAY=${names[weekdayOf(day) - 1]}`,
    `FREQ=DAILY;INTERVAL=${1 + random.below(5)};COUNT=${2 + random.below(30)}`,
    `FREQ=MONTHLY;BYDAY=${nth}${names[weekdayOf(day) - 1]}`,
    `FREQ=MONTHLY;BYMONTHDAY=${Number(day.slice(8))}`,
    `FREQ=YEARLY;UNTIL=${addDays(day, 2000).replaceAll('-', '')}`,
  ]);
  const plain = { ...facts, series: { rule, added: [], exceptions: [] } };
  const { startMs } = instantsOf(facts);
  const [, second, third] = occurrencesBetween(plain, startMs, startMs + 4000 * 86_400_000, 3);
  const asIs = { calledOff: false, span: null, title: null, description: null, venue: null, joinLink: null };
  const exceptions: Series['exceptions'] = [
    ...(second && random.below(2)
      ? [{ ...asIs, at: second.at, title: inventText(random, 2).replaceAll('\n', ' ') }]
      : []),
    ...(third && random.below(3) === 0 ? [{ ...asIs, at: third.at, calledOff: true }] : []),
  ].filter((change) => change.calledOff || change.title !== facts.title);
  return { ...plain, series: { rule, added: [], exceptions } };
}

export const sourceOf = (facts: EventFacts, index: number): CalendarSource => ({
  uid: `e${index}@convite.example`,
  version: { number: 1, sequence: index % 4, facts, calledOff: false },
  organizer: { name: 'House', email: 'replies@convite.example' },
  url: `https://convite.example/e/${index}`,
  stampMs: 0,
  textOf: plainEntryText,
  isTextPersonal: false,
  guests: [],
});
export const fileOf = (events: readonly EventFacts[]): string =>
  writeFeed({
    name: 'All',
    url: 'https://convite.example/feed',
    colour: '',
    refreshMinutes: 60,
    entries: events.map((facts, index) => ({ source: sourceOf(facts, index), reader: null })),
  });
export const normal = (text: string): string => text.replace(/\r\n?/g, '\n').trim();

/** So many invented events, less those that nobody could save. */
export const inventEvents = (random: Random, count: number): EventFacts[] =>
  Array.from({ length: count }, () => inventEvent(random)).filter((facts) => checkEvent(facts).length === 0);
