import { spawnSync } from 'node:child_process';
import ICAL from 'ical.js';
import { RRuleTemporal } from 'rrule-temporal';
import { expandRule, localSecondsOf, prepareCalendar, readRule } from '@convite/core';
import { calendarSource } from '../services/sending/compose-calendar';
import { exampleReader } from '../services/sending/invite';
import { sized } from './bench-size';
import { publishedEvent, specSettings, type Stage } from './stage';

/** The bench's rows; each compares two things in the same run, on the same machine, in the same minute. */
export interface Row {
  readonly what: string;
  readonly figure: string;
  readonly target: string;
}

const eventsInFile = sized(10_000, 200);

export async function calendarRows(stage: Stage): Promise<Row[]> {
  const texts = await textSpeed(stage);
  const dates = dateSpeed();
  const [ours, theirs, parts, theirParts] = [
    reading('ours'),
    reading('theirs'),
    reading('parts'),
    reading('their-parts'),
  ];
  for (const { events } of [ours, theirs, parts, theirParts])
    if (events !== eventsInFile) throw new Error(`${events} events were read`);
  const hostile = [reading('hostile'), reading('nested')];
  return [
    {
      what: 'personal REQUEST texts a second, to ical.js serialising the same',
      figure: ratio(texts, 0),
      target: 'at least 20 ×',
    },
    {
      what: 'occurrences a second in a window of a year, to rrule-temporal',
      figure: ratio(dates, 0),
      target: 'at least 1 ×',
    },
    {
      what: 'a file of 10,000 events taken apart, to ical.js',
      figure: `${ratio(perSecond(parts, theirParts), 2)}, memory ${parts.mb.toFixed(0)} to ${theirParts.mb.toFixed(0)} MB`,
      target: 'at least 1 ×',
    },
    {
      what: 'the same read as events, zones and rules checked, to ical.js without that',
      figure: `${ratio(perSecond(ours, theirs), 2)}, memory ${ours.mb.toFixed(0)} to ${theirs.mb.toFixed(0)} MB`,
      target: 'at least 0.25 ×, under 200 MB',
    },
    {
      what: 'a line of 100 MB, and 900,000 openings, refused',
      figure: hostile.map(({ ms, mb }) => `${ms.toFixed(0)} ms and ${mb.toFixed(0)} MB`).join(', '),
      target: 'under 2 s and 200 MB',
    },
  ];
}

interface Speeds {
  readonly ours: number;
  readonly theirs: number;
}
const ratio = ({ ours, theirs }: Speeds, digits: number): string =>
  `${(ours / theirs).toFixed(digits)} × (${ours.toFixed(0)} to ${theirs.toFixed(0)})`;

const perSecond = (ours: { ms: number }, theirs: { ms: number }): Speeds => ({
  ours: 1e7 / ours.ms,
  theirs: 1e7 / theirs.ms,
});

interface Work {
  readonly count: number;
  run(): void;
}

function rate({ count, run }: Work): number {
  const startedAt = performance.now();
  run();
  return count / ((performance.now() - startedAt) / 1000);
}

/** Both in turn, after a round to warm up; the middle of seven rounds. */
function compare(ours: Work, theirs: Work): Speeds {
  const rounds = Array.from({ length: sized(8, 2) }, () => ({ ours: rate(ours), theirs: rate(theirs) })).slice(1);
  rounds.sort((a, b) => a.ours / a.theirs - b.ours / b.theirs);
  return rounds[Math.floor(rounds.length / 2)] ?? { ours: 0, theirs: 0 };
}

/** Personal REQUEST texts a second, ours against ical.js serialising the same objects. */
async function textSpeed(stage: Stage): Promise<Speeds> {
  const event = await stage.context.store.events.find(await publishedEvent(stage));
  if (!event) throw new Error('no event');
  const write = prepareCalendar(calendarSource(stage.context, specSettings, event, 0), 'REQUEST');
  const people = Array.from({ length: sized(20_000, 2000) }, (_, index) => ({
    ...exampleReader,
    name: `Person ${index}`,
    email: `p${index}@people.example`,
  }));
  const calendar = new ICAL.Component(ICAL.parse(write(people[0])));
  const attendee = calendar.getFirstSubcomponent('vevent')?.getFirstProperty('attendee');
  if (!attendee) throw new Error('no attendee');
  let length = 0;
  const serialise = (): void => {
    for (const person of people.slice(0, 2000)) {
      attendee.setParameter('cn', person.name);
      attendee.setValue(`mailto:${person.email}`);
      length += Buffer.byteLength(calendar.toString());
    }
  };
  const compose = (): void => people.forEach((person) => (length += Buffer.byteLength(write(person))));
  const speeds = compare({ count: people.length, run: compose }, { count: 2000, run: serialise });
  if (length === 0) throw new Error('nothing was written');
  return speeds;
}

const rules = [
  'FREQ=WEEKLY;BYDAY=FR',
  'FREQ=MONTHLY;BYDAY=1SU',
  'FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=1',
  'FREQ=DAILY;INTERVAL=3',
  'FREQ=YEARLY;BYMONTH=6;BYMONTHDAY=18',
];

/** Dates a second within the fifth year of each of five rules, ours against a general recurrence library. */
function dateSpeed(): Speeds {
  const zone = 'Europe/Lisbon';
  const start = '2026-01-02T20:30';
  const [from, to] = ['2030-01-01T00:00', '2031-01-01T00:00'];
  const read = rules.map((text) => readRule(text, zone, 'rule')).flatMap((one) => (one.ok ? [one.value] : []));
  const window = { startS: localSecondsOf(start), zone, fromS: localSecondsOf(from), toS: localSecondsOf(to) };
  const ours = (): number => read.reduce((count, rule) => count + expandRule(rule, window).startsS.length, 0);
  const theirs = (): number =>
    rules.reduce((count, text) => {
      const rule = new RRuleTemporal({
        rruleString: `DTSTART;TZID=${zone}:${start.replace(/[-:]/g, '')}00\nRRULE:${text}`,
      });
      return count + rule.between(new Date(`${from}Z`), new Date(`${to}Z`), true).length;
    }, 0);
  const [count, theirCount] = [ours(), theirs()];
  if (count !== theirCount) throw new Error(`${count} dates are not ${theirCount}`);
  const repeat = (times: number, work: () => number): Work => ({
    count: count * times,
    run: () => {
      for (let n = 0; n < times; n += 1) work();
    },
  });
  return compare(repeat(100, ours), repeat(10, theirs));
}

/** Reads one calendar in a process of its own. @returns milliseconds, growth of memory in MB, and events read */
function reading(kind: string): { ms: number; mb: number; events: number } {
  const { stdout, stderr } = spawnSync(
    process.execPath,
    ['--import', 'tsx', 'packages/server/src/testing/bench-reader.ts', kind, String(eventsInFile)],
    { encoding: 'utf8' },
  );
  const found: unknown = JSON.parse(stdout || '{}');
  const value = (name: string): number =>
    typeof found === 'object' && found !== null ? Number(Reflect.get(found, name)) : NaN;
  if (Number.isNaN(value('ms'))) throw new Error(`reading ${kind}: ${stderr}`);
  return { ms: value('ms'), mb: value('mb'), events: value('events') };
}
