import { expandRule } from '../recurrence/expand';
import { localSecondsOf, wallTimeOf } from '../recurrence/local-time';
import { readRule } from '../recurrence/rule';
import { resolveWallTime } from '../time/wall-time';
import { offsetMinutesAt, transitionsBetween, type EpochMs } from '../time/zone';
import { canonicalZone, isZone } from '../time/zone-names';
import { instantOf, readCalendarTime, wallIn, type CalendarTime } from './calendar-time';
import { unfoldLines } from './content-line';
import { methodFaults } from './method-table';
import { propertyOf, readComponents, type Component } from './read-components';
import { vtimezoneOffsetAt } from './read-zone';

/** What a calendar text is checked for; the words are made elsewhere. */
export type ConformanceRule =
  | 'readable'
  | 'line-length'
  | 'line-ends'
  | 'calendar-properties'
  | 'event-properties'
  | 'one-uid'
  | 'end-after-start'
  | 'zones-defined'
  | 'zones-true'
  | 'rule-valid'
  | 'dates-of-series'
  | 'method-properties'
  | 'people'
  | 'text-escaped'
  | 'alarms';

export interface ConformanceCheck {
  readonly rule: ConformanceRule;
  /** Where it is written. */
  readonly source: string;
  readonly isKept: boolean;
  /** What was found: a count, a length, or the line at fault. */
  readonly found: string;
}

const sources: Readonly<Record<ConformanceRule, string>> = {
  readable: 'RFC 5545 §3.1',
  'line-length': 'RFC 5545 §3.1',
  'line-ends': 'RFC 5545 §3.1',
  'calendar-properties': 'RFC 5545 §3.6',
  'event-properties': 'RFC 5545 §3.6.1',
  'one-uid': 'RFC 5546 §2.1.5',
  'end-after-start': 'RFC 5545 §3.8.2.2',
  'zones-defined': 'RFC 5545 §3.6.5',
  'zones-true': 'IANA tz database',
  'rule-valid': 'RFC 5545 §3.3.10',
  'dates-of-series': 'RFC 5545 §3.8.4.4',
  'method-properties': 'RFC 5546 §3.2',
  people: 'RFC 5545 §3.3.3',
  'text-escaped': 'RFC 5545 §3.3.11',
  alarms: 'RFC 5545 §3.6.6',
};

/**
 * Checks the text of an entry as a stranger would, from the text alone: nothing it finds comes from how it was written.
 * An empty fault list of a rule means that it is kept.
 */
export function checkConformance(text: string): ConformanceCheck[] {
  const read = readComponents(text);
  const [calendar] = read.ok ? read.value : [];
  if (!read.ok || !calendar)
    return [
      {
        rule: 'readable',
        source: sources.readable,
        isKept: false,
        found: read.ok ? '' : (read.problems[0]?.path ?? ''),
      },
    ];
  const events = calendar.components.filter(({ name }) => name === 'VEVENT');
  const method = propertyOf(calendar, 'METHOD')?.value.trim().toUpperCase() ?? '';
  const results: [ConformanceRule, readonly string[], string][] = [
    ['readable', [], `${unfoldLines(text).length} lines`],
    ['line-length', longLines(text), `longest ${longestOctets(text)} octets`],
    ['line-ends', bareBreaks(text), 'CRLF'],
    ['calendar-properties', missing(calendar, ['PRODID', 'VERSION', 'METHOD']), method],
    [
      'event-properties',
      events.flatMap((event) => missing(event, ['UID', 'DTSTAMP', 'SEQUENCE'])),
      `${events.length} VEVENT`,
    ],
    ['one-uid', differing(events), propertyOf(events[0] ?? calendar, 'UID')?.value ?? ''],
    ['end-after-start', events.flatMap(endFaults), ''],
    ['zones-defined', zoneFaults(calendar), [...usedZones(calendar)].join(', ') || 'none needed'],
    ['zones-true', untrueZones(calendar), sayZones(calendar) || 'none needed'],
    ['rule-valid', events.flatMap(ruleFaults), propertyOf(events[0] ?? calendar, 'RRULE')?.value ?? 'no rule'],
    [
      'dates-of-series',
      strayDates(events),
      `dates changed: ${events.filter((event) => propertyOf(event, 'RECURRENCE-ID')).length}`,
    ],
    ['method-properties', events.flatMap((event) => methodFaults(event, method)), method],
    ['people', events.flatMap(peopleFaults), sayPeople(events)],
    ['text-escaped', events.flatMap(textFaults), ''],
    ['alarms', events.flatMap(alarmFaults), `${events.flatMap(({ components }) => components).length} alarms`],
  ];
  return results.map(([rule, faults, found]) => ({
    rule,
    source: sources[rule],
    isKept: faults.length === 0,
    found: faults[0]?.slice(0, 160) ?? found,
  }));
}

const octetsOf = (line: string): number => new TextEncoder().encode(line).length;
const longestOctets = (text: string): number => Math.max(...text.split('\r\n').map(octetsOf));
const longLines = (text: string): string[] => text.split('\r\n').filter((line) => octetsOf(line) > 75);
const bareBreaks = (text: string): string[] =>
  /\r(?!\n)|(?<!\r)\n/.test(text)
    ? ['a line break that is not CRLF']
    : text.endsWith('\r\n')
      ? []
      : ['no CRLF at the end'];

const missing = (component: Component, names: readonly string[]): string[] =>
  names.filter((name) => !propertyOf(component, name)?.value.trim()).map((name) => `${name} is missing`);

function differing(events: readonly Component[]): string[] {
  const values = (name: string): Set<string> => new Set(events.map((event) => propertyOf(event, name)?.value ?? ''));
  return ['UID', 'SEQUENCE'].filter((name) => values(name).size > 1).map((name) => `several values of ${name}`);
}

const timeOf = (event: Component, name: string): CalendarTime | null => {
  const property = propertyOf(event, name);
  const read = property && readCalendarTime(property.value, property.params, name, canonicalZone);
  return read?.ok ? read.value : null;
};

function endFaults(event: Component): string[] {
  const [start, end] = [timeOf(event, 'DTSTART'), timeOf(event, 'DTEND')];
  if (!propertyOf(event, 'DTEND')) return [];
  if (!start || !end) return ['DTSTART or DTEND cannot be read'];
  if ((start.kind === 'day') !== (end.kind === 'day')) return ['DTEND is of another type than DTSTART'];
  return instantOf(end, 'UTC') > instantOf(start, 'UTC') ? [] : ['DTEND is not after DTSTART'];
}

const usedZones = (calendar: Component): Set<string> =>
  new Set(calendar.components.flatMap(({ properties }) => properties.flatMap(({ params }) => params['TZID'] ?? [])));

function zoneFaults(calendar: Component): string[] {
  const defined = calendar.components
    .filter(({ name }) => name === 'VTIMEZONE')
    .map((zone) => propertyOf(zone, 'TZID')?.value ?? '');
  const used = usedZones(calendar);
  return [
    ...[...used].filter((zone) => !defined.includes(zone)).map((zone) => `no VTIMEZONE for ${zone}`),
    ...defined
      .filter((zone, index) => !used.has(zone) || defined.indexOf(zone) !== index)
      .map((zone) => `a VTIMEZONE too many: ${zone}`),
  ];
}

/** Looks at every start and end, and at both sides of every clock change in the ten years after the first start. */
function untrueZones(calendar: Component): string[] {
  const events = calendar.components.filter(({ name }) => name === 'VEVENT');
  return calendar.components
    .filter(({ name }) => name === 'VTIMEZONE')
    .flatMap((component) => {
      const zone = propertyOf(component, 'TZID')?.value ?? '';
      if (!isZone(zone)) return [`${zone} is not a zone of the database`];
      const wrong = instantsToCheck(events, zone).find(
        (atMs) => vtimezoneOffsetAt(component, atMs) !== offsetMinutesAt(zone, atMs),
      );
      return wrong === undefined ? [] : [`${zone} has another offset at ${new Date(wrong).toISOString()}`];
    });
}

/** The zones used; of one whose changes follow no yearly rule and are listed, until when the list is true. */
function sayZones(calendar: Component): string {
  const events = calendar.components.filter(({ name }) => name === 'VEVENT');
  const isEndless = lastStart(events) === Infinity;
  return [...usedZones(calendar)]
    .map((zone) => {
      const until = isEndless ? listedUntil(calendar, zone) : null;
      return until === null ? zone : `${zone}, whose changes follow no rule: true until ${until}`;
    })
    .join(', ');
}

/** The year of the last change that a VTIMEZONE lists; null where a rule goes on, or nothing changes any more. */
function listedUntil(calendar: Component, zone: string): string | null {
  const found = calendar.components.find(
    (one) => one.name === 'VTIMEZONE' && propertyOf(one, 'TZID')?.value.trim() === zone,
  );
  const lines = (found?.components ?? []).flatMap(({ properties }) => properties);
  if (lines.some(({ name }) => name === 'RRULE')) return null;
  const onsets = lines.filter(({ name }) => name === 'DTSTART' || name === 'RDATE').map(({ value }) => value);
  return onsets.length > 2 ? (onsets.sort().at(-1)?.slice(0, 4) ?? null) : null;
}

function instantsToCheck(events: readonly Component[], zone: string): EpochMs[] {
  const own = events.flatMap((event) =>
    ['DTSTART', 'DTEND'].flatMap((name) => {
      const time = timeOf(event, name);
      return time ? [instantOf(time, zone)] : [];
    }),
  );
  const first = Math.min(...own);
  const repeats = events.some((event) => propertyOf(event, 'RRULE'));
  if (!repeats || !Number.isFinite(first)) return own;
  const changes = transitionsBetween(zone, first, first + 10 * 366 * 86_400_000);
  const until = lastStart(events);
  return [...own, ...changes.flatMap(({ atMs }) => [atMs - 60_000, atMs + 60_000]).filter((atMs) => atMs <= until)];
}

/** The last start that a rule with an end gives; without an end, never. */
function lastStart(events: readonly Component[]): EpochMs {
  const starts = events.map((event) => {
    const line = propertyOf(event, 'RRULE');
    const start = timeOf(event, 'DTSTART');
    if (!line || !start) return -Infinity;
    const zone = start.kind === 'local' ? start.zone : 'UTC';
    const rule = readRule(line.value, zone, '');
    if (!rule.ok || (rule.value.count === null && rule.value.until === null)) return Infinity;
    const startS = localSecondsOf(wallIn(start, zone));
    const last = expandRule(rule.value, { startS, zone, fromS: startS, toS: startS + 60 * 366 * 86_400 }).startsS.at(
      -1,
    );
    return resolveWallTime(wallTimeOf(last ?? startS), zone);
  });
  return Math.max(...starts);
}

function ruleFaults(event: Component): string[] {
  const line = propertyOf(event, 'RRULE');
  const start = timeOf(event, 'DTSTART');
  if (!line || !start) return [];
  const zone = start.kind === 'local' ? start.zone : 'UTC';
  const read = readRule(line.value, zone, 'RRULE');
  if (!read.ok) return [line.value];
  if (/UNTIL=/.test(line.value) && /UNTIL=\d{8}T\d{6}Z/.test(line.value) !== (start.kind !== 'day'))
    return ['UNTIL is of another type than DTSTART'];
  const startS = localSecondsOf(start.kind === 'day' ? start.day : wallIn(start, zone));
  const first = expandRule(read.value, { startS, zone, fromS: startS, toS: startS + 1, most: 1 }).startsS;
  return first.length ? [] : ['DTSTART is not a date of the rule'];
}

/** A changed date must be one that the rule, the added dates or the start name. */
function strayDates(events: readonly Component[]): string[] {
  const master = events.find((event) => !propertyOf(event, 'RECURRENCE-ID'));
  const start = master && timeOf(master, 'DTSTART');
  if (!master || !start) return [];
  const zone = start.kind === 'local' ? start.zone : 'UTC';
  const textIn = (time: CalendarTime): string =>
    start.kind === 'day' ? wallIn(time, zone).slice(0, 10) : wallIn(time, zone);
  const line = propertyOf(master, 'RRULE');
  const rule = line ? readRule(line.value, zone, '') : null;
  const added = (propertyOf(master, 'RDATE')?.value ?? '').split(',');
  return events
    .filter((event) => event !== master)
    .flatMap((event) => {
      const time = timeOf(event, 'RECURRENCE-ID');
      if (!time) return ['RECURRENCE-ID cannot be read'];
      const atS = localSecondsOf(textIn(time));
      const startS = localSecondsOf(textIn(start));
      const isNamed =
        atS === startS ||
        added.includes(propertyOf(event, 'RECURRENCE-ID')?.value ?? '-') ||
        (rule?.ok && expandRule(rule.value, { startS, zone, fromS: atS, toS: atS + 1, most: 1 }).startsS.length > 0);
      return isNamed ? [] : [`${textIn(time)} is no date of the series`];
    });
}

const peopleFaults = (event: Component): string[] =>
  event.properties
    .filter(({ name, value }) => /^(ATTENDEE|ORGANIZER)$/.test(name) && !/^mailto:[^\s@]+@[^\s@]+$/i.test(value))
    .map(({ name }) => `an ${name} is no mailto address`);

function sayPeople(events: readonly Component[]): string {
  const count = events[0]?.properties.filter(({ name }) => name === 'ATTENDEE').length ?? 0;
  return count === 1 ? 'one attendee: nobody else’s address' : `${count} attendees`;
}

const textNames = ['SUMMARY', 'DESCRIPTION', 'LOCATION', 'COMMENT', 'STYLED-DESCRIPTION'];

function textFaults(event: Component): string[] {
  return (
    event.properties
      .filter(({ name }) => textNames.includes(name))
      // Every backslash begins one of the four escapes; `;` and `,` stand behind one.
      .filter(({ value }) => !/^(?:[^\\;,]|\\[\\;,nN])*$/.test(value))
      .map(({ name, lineNumber }) => `${name} in line ${lineNumber}`)
  );
}

const alarmFaults = (event: Component): string[] =>
  event.components.flatMap((alarm) =>
    missing(alarm, ['ACTION', 'TRIGGER', 'DESCRIPTION']).map((fault) => `${alarm.name}: ${fault}`),
  );
