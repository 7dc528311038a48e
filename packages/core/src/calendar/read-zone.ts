import { expandRule } from '../recurrence/expand';
import { localSecondsOf } from '../recurrence/local-time';
import { readRule } from '../recurrence/rule';
import { isZone, offsetMinutesAt, type EpochMs } from '../time/zone';
import { zonesByLikelihood } from '../time/zone-names';
import type { ZoneFinder } from './calendar-time';
import { propertyOf, type Component } from './read-components';

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
  let latest: { onsetS: number; toMinutes: number } | null = null;
  for (const observance of observancesOf(component)) {
    const onsetS = lastOnset(observance, atMs / 1000);
    if (onsetS !== null && (latest === null || onsetS > latest.onsetS))
      latest = { onsetS, toMinutes: observance.toMinutes };
  }
  return latest?.toMinutes ?? null;
}

function observancesOf(component: Component): Observance[] {
  return component.components.flatMap((one): Observance[] => {
    const value = (name: string): string => propertyOf(one, name)?.value.trim() ?? '';
    const [fromMinutes, toMinutes] = [readOffset(value('TZOFFSETFROM')), readOffset(value('TZOFFSETTO'))];
    const startS = readLocal(value('DTSTART'));
    if (fromMinutes === null || toMinutes === null || startS === null) return [];
    const dates = one.properties.filter(({ name }) => name === 'RDATE').flatMap((line) => line.value.split(','));
    return [
      { startS, fromMinutes, toMinutes, rule: value('RRULE'), datesS: dates.map(readLocal).filter((s) => s !== null) },
    ];
  });
}

/** The observance's last onset at or before the instant, in seconds of UTC; null when it had not begun. */
function lastOnset({ startS, fromMinutes, rule, datesS }: Observance, atS: number): number | null {
  const localS = atS + fromMinutes * 60;
  const onsets = [startS, ...datesS];
  const read = rule ? readRule(rule, 'UTC', '') : null;
  // Old files begin in 1601; a window of a few years around the instant is enough, and cheap.
  if (read?.ok)
    onsets.push(
      ...expandRule(read.value, { startS, zone: 'UTC', fromS: localS - 3 * 366 * 86_400, toS: localS + 1, most: 50 })
        .startsS,
    );
  const past = onsets.filter((onset) => onset <= localS);
  return past.length ? Math.max(...past) - fromMinutes * 60 : null;
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
  const named = [tzid, propertyOf(component ?? empty, 'X-LIC-LOCATION')?.value ?? ''].flatMap(endsOf).find(isZone);
  if (named) return named;
  if (!component) return null;
  const samples = Array.from({ length: 18 }, (_, month) => aroundMs + (month - 5) * 30.4 * 86_400_000).map((atMs) => ({
    atMs,
    minutes: vtimezoneOffsetAt(component, atMs),
  }));
  const untilMs = knownUntil(observancesOf(component));
  const known = samples.filter(({ atMs, minutes }) => minutes !== null && atMs <= untilMs);
  if (known.length === 0) return null;
  return (
    zonesByLikelihood().find((zone) => known.every(({ atMs, minutes }) => offsetMinutesAt(zone, atMs) === minutes)) ??
    null
  );
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
  return (tzid) => {
    let zone = found.get(tzid);
    if (zone === undefined) {
      const component = calendar.components.find(
        (one) => one.name === 'VTIMEZONE' && propertyOf(one, 'TZID')?.value.trim() === tzid,
      );
      found.set(tzid, (zone = matchZone(tzid, component, timeOfUse(calendar, tzid))));
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
  const parts = name.trim().replace(/^"|"$/g, '').split('/').filter(Boolean);
  return parts.map((_, index) => parts.slice(index).join('/')).filter((end) => end.includes('/') || end === 'UTC');
}

const empty: Component = { name: '', lineNumber: 0, properties: [], components: [] };
