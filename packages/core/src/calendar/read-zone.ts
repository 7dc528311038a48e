import { expandRule } from '../recurrence/expand';
import { localSecondsOf } from '../recurrence/local-time';
import { readRule } from '../recurrence/rule';
import { offsetMinutesAt, type EpochMs } from '../time/zone';
import { canonicalZone, zonesByLikelihood } from '../time/zone-names';
import type { ZoneFinder } from './calendar-time';
import { propertyOf, type Component } from './read-components';
import { readText } from './values';

/** One observance of a VTIMEZONE: since when which offset holds. */
interface Observance {
  readonly startS: number;
  readonly fromMinutes: number;
  readonly toMinutes: number;
  readonly rule: string;
  readonly datesS: readonly number[];
}

/**
 * What a VTIMEZONE says of the offset at an instant, in minutes east of UTC (RFC 5545 §3.6.5); null when it cannot be
 * read or says nothing of that time.
 */
export function vtimezoneOffsetAt(component: Component, atMs: EpochMs): number | null {
  return offsetAt(onsetsAround(observancesOf(component), atMs, atMs), atMs);
}

/** An instant from which an offset holds. */
interface Onset {
  readonly atS: number;
  readonly toMinutes: number;
}

const offsetAt = (onsets: readonly Onset[], atMs: EpochMs): number | null =>
  onsets.findLast(({ atS }) => atS <= atMs / 1000)?.toMinutes ?? null;

/** Bounds that keep hostile zones cheap: no zone of the tz database has had half as many rules at a time. */
const mostObservances = 40;
const mostDates = 400;
const mostOnsets = 50;
/** Zones of one calendar that are looked for by what they say, because their name says nothing. */
const mostMatched = 12;

/** The observances of a zone; none of one that lists more than any zone has. */
function observancesOf(component: Component): Observance[] {
  if (component.components.length > mostObservances) return [];
  return component.components.flatMap((one): Observance[] => {
    const value = (name: string): string => propertyOf(one, name)?.value.trim() ?? '';
    const [fromMinutes, toMinutes] = [readOffset(value('TZOFFSETFROM')), readOffset(value('TZOFFSETTO'))];
    const startS = readLocal(value('DTSTART'));
    if (fromMinutes === null || toMinutes === null || startS === null) return [];
    const dates = one.properties
      .filter(({ name }) => name === 'RDATE')
      .flatMap((line) => line.value.split(',', mostDates))
      .slice(0, mostDates);
    return [
      { startS, fromMinutes, toMinutes, rule: value('RRULE'), datesS: dates.map(readLocal).filter((s) => s !== null) },
    ];
  });
}

/**
 * When which offset begins, in order, as far as it matters between two instants. Each rule is expanded once: old files
 * begin in 1601, and a window of a few years before is enough, and cheap.
 */
function onsetsAround(observances: readonly Observance[], fromMs: EpochMs, toMs: EpochMs): Onset[] {
  return observances
    .flatMap(({ startS, fromMinutes, toMinutes, rule, datesS }) => {
      const [fromS, toS] = [fromMs / 1000 + fromMinutes * 60, toMs / 1000 + fromMinutes * 60];
      const read = rule ? readRule(rule, 'UTC', '') : null;
      const window = { startS, zone: 'UTC', fromS: fromS - 3 * 366 * 86_400, toS: toS + 1, most: mostOnsets };
      const ruled = read?.ok ? expandRule(read.value, window).startsS : [];
      return [startS, ...datesS, ...ruled].map((localS) => ({ atS: localS - fromMinutes * 60, toMinutes }));
    })
    .sort((a, b) => a.atS - b.atS);
}

const readLocal = (value: string): number | null => {
  const [, year, month, date, hour = '00', minute = '00'] =
    /^(\d{4})(\d{2})(\d{2})(?:T(\d{2})(\d{2})\d{2})?$/.exec(value.trim()) ?? [];
  const seconds = localSecondsOf(`${year}-${month}-${date}T${hour}:${minute}`);
  return Number.isNaN(seconds) ? null : seconds;
};

/** UTC-OFFSET (§3.3.14) in minutes. */
function readOffset(value: string): number | null {
  const [, sign, hours, minutes, seconds = '0'] = /^([+-])(\d{2})(\d{2})(\d{2})?$/.exec(value) ?? [];
  if (!sign) return null;
  return (sign === '-' ? -1 : 1) * (Number(hours) * 60 + Number(minutes) + Number(seconds) / 60);
}

/**
 * The IANA zone that a TZID of a calendar means: by its name, by the name's end (`/vendor/Europe/Lisbon`), or by what
 * its VTIMEZONE says of the months around the event. Null when nothing fits.
 */
export function matchZone(tzid: string, component: Component | undefined, aroundMs: EpochMs): string | null {
  return zoneByName(tzid, component) ?? (component ? zoneByRules(component, aroundMs) : null);
}

/** Letters such as EST say less than the rules beside them, and are believed only where there are none. */
function zoneByName(tzid: string, component: Component | undefined): string | null {
  const names = [tzid, propertyOf(component ?? empty, 'X-LIC-LOCATION')?.value ?? ''].flatMap(endsOf);
  for (const name of names) {
    const zone = canonicalZone(name);
    if (zone !== null && (name.includes('/') || zone === 'UTC' || !component)) return zone;
  }
  return null;
}

function zoneByRules(component: Component, aroundMs: EpochMs): string | null {
  const observances = observancesOf(component);
  const months = Array.from({ length: 18 }, (_, month) => aroundMs + (month - 5) * 30.4 * 86_400_000);
  const onsets = onsetsAround(observances, months[0] ?? aroundMs, months.at(-1) ?? aroundMs);
  const untilMs = knownUntil(observances);
  const fitting = (zones: readonly string[], instants: readonly EpochMs[]): string[] => {
    const known = instants
      .map((atMs) => ({ atMs, minutes: offsetAt(onsets, atMs) }))
      .filter(({ atMs, minutes }) => minutes !== null && atMs <= untilMs);
    if (known.length === 0) return [];
    return zones.filter((zone) => known.every(({ atMs, minutes }) => offsetMinutesAt(zone, atMs) === minutes));
  };
  const alike = fitting(zonesByLikelihood(), [...months, aroundMs]);
  // Of zones that agree month by month, the one that changes in the very minute; in old files none may.
  const changes = onsets
    .map(({ atS }) => atS * 1000)
    .filter((atMs) => atMs > (months[0] ?? 0) && atMs < (months.at(-1) ?? 0))
    .flatMap((atMs) => [atMs - 60_000, atMs]);
  return fitting(alike, changes)[0] ?? alike[0] ?? null;
}

/**
 * How long a VTIMEZONE can be taken at its word. One that lists its changes without a rule, as RFC 5545 §3.6.5 allows
 * for what ends before the next change, says nothing of the summer after.
 */
function knownUntil(observances: readonly Observance[]): EpochMs {
  if (observances.length < 2 || observances.some(({ rule }) => rule)) return Infinity;
  return (Math.max(...observances.flatMap(({ startS, datesS }) => [startS, ...datesS])) + 120 * 86_400) * 1000;
}

/** Finds the zones of one calendar, each looked for once. */
export function zoneFinderOf(calendar: Component): ZoneFinder {
  const found = new Map<string, string | null>();
  let matched = 0;
  return (tzid) => {
    let zone = found.get(tzid);
    if (zone === undefined) {
      const component = calendar.components.find(
        (one) => one.name === 'VTIMEZONE' && readText(propertyOf(one, 'TZID')?.value.trim() ?? '') === tzid,
      );
      zone = zoneByName(tzid, component);
      if (zone === null && component && (matched += 1) <= mostMatched)
        zone = zoneByRules(component, timeOfUse(calendar, tzid));
      found.set(tzid, zone);
    }
    return zone;
  };
}

/** Roughly when the calendar uses the zone: of the first start that names it. */
function timeOfUse(calendar: Component, tzid: string): EpochMs {
  for (const { properties } of calendar.components)
    for (const { name, params, value } of properties) {
      const startS = name === 'DTSTART' && params['TZID'] === tzid ? readLocal(value) : null;
      if (startS !== null) return startS * 1000;
    }
  return 0;
}

/** `/x/y/Europe/Lisbon` as `x/y/Europe/Lisbon`, `y/Europe/Lisbon`, `Europe/Lisbon`, … */
function endsOf(name: string): string[] {
  const parts = name.slice(0, 200).trim().replace(/^"|"$/g, '').split('/').filter(Boolean);
  return parts.map((_, index) => parts.slice(index).join('/'));
}

const empty: Component = { name: '', lineNumber: 0, properties: [], components: [] };
