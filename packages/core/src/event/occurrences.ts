import { expandRule } from '../recurrence/expand';
import { localSecondsOf, wallTimeOf } from '../recurrence/local-time';
import { writeDay, writeWallTime } from '../time/formats';
import { addDays, isDay, isWallTime, resolveWallTime, type Day, type WallTime } from '../time/wall-time';
import type { EpochMs } from '../time/zone';
import { instantsOf, startOf, timedSpan, type EventFacts, type OccurrenceChange, type Span } from './event';
import { ruleOf } from './series';

/** One date of an event: of a series as many as its rule names, of a one-off the one. */
export interface Occurrence {
  /** Names it for good, also after it was moved: the start that the rule gives, `20261127T203000`; empty for a one-off. */
  readonly key: string;
  readonly at: WallTime | Day;
  /** What holds on this date; `series` is null. */
  readonly facts: EventFacts;
  readonly startMs: EpochMs;
  readonly endMs: EpochMs;
  readonly calledOff: boolean;
  /** Differs from what the series says. */
  readonly isChanged: boolean;
}

/** The key of an occurrence: its RECURRENCE-ID in local form (RFC 5545 §3.8.4.4). */
export const keyOf = (at: WallTime | Day): string => (at.length === 10 ? writeDay(at) : writeWallTime(at));

/** The start that a key names; null when it is no key. */
export function startOfKey(key: string): WallTime | Day | null {
  const [, year, month, date, hour, minute] = /^(\d{4})(\d{2})(\d{2})(?:T(\d{2})(\d{2})\d{2})?$/.exec(key) ?? [];
  const day = `${year}-${month}-${date}`;
  const at = hour === undefined ? day : `${day}T${hour}:${minute}`;
  // Only what keyOf makes is a key: `…T193007` would be another name for the same date.
  return (isDay(at) || isWallTime(at)) && keyOf(at) === key ? at : null;
}

/**
 * The occurrences that begin in a window, in order, those called off among them. Nothing is stored ahead: a series
 * without end is asked for the window only.
 * @param toMs up to this instant, not with it
 */
export function occurrencesBetween(facts: EventFacts, fromMs: EpochMs, toMs: EpochMs, most = 1000): Occurrence[] {
  const { series } = facts;
  if (!series) {
    const { startMs, endMs } = instantsOf(facts);
    return startMs >= fromMs && startMs < toMs ? [oneOff(facts, startMs, endMs)] : [];
  }
  const changes = new Map(series.exceptions.map((change) => [change.at, change]));
  const plain = startsBetween(facts, fromMs, toMs, most).filter((at) => !changes.has(at));
  return [
    ...plain.map((at) => occurrenceOf(facts, at, undefined)),
    ...series.exceptions.map((it) => occurrenceOf(facts, it.at, it)),
  ]
    .filter(({ startMs }) => startMs >= fromMs && startMs < toMs)
    .sort((a, b) => a.startMs - b.startMs)
    .slice(0, most);
}

/** The occurrence of that key; null when the event has none such. */
export function findOccurrence(facts: EventFacts, key: string): Occurrence | null {
  const { series } = facts;
  if (!series) {
    const { startMs, endMs } = instantsOf(facts);
    return key === '' ? oneOff(facts, startMs, endMs) : null;
  }
  const at = startOfKey(key);
  if (at === null || (at.length === 10) !== (facts.span.kind === 'all-day')) return null;
  const change = series.exceptions.find((one) => one.at === at);
  return change || isStart(facts, at) ? occurrenceOf(facts, at, change) : null;
}

/** A date that the series had once, as it would be: to tell those who hold it that it is off. Null for what is no key. */
export function formerOccurrence(facts: EventFacts, key: string): Occurrence | null {
  const at = startOfKey(key);
  if (at === null || (at.length === 10) !== (facts.span.kind === 'all-day')) return null;
  return { ...occurrenceOf(facts, at, undefined), calledOff: true };
}

/** The first occurrence that takes place and ends after the instant; null when there is none any more. */
export function nextOccurrence(facts: EventFacts, afterMs: EpochMs): Occurrence | null {
  const { startMs, endMs } = instantsOf(facts);
  if (!facts.series) return endMs > afterMs ? oneOff(facts, startMs, endMs) : null;
  const longMs = endMs - startMs;
  let fromMs = Math.max(startMs - 400 * dayMs, afterMs - longMs);
  for (const days of [40, 400, 4000, 40_000]) {
    const toMs = Math.max(fromMs, afterMs, startMs) + days * dayMs;
    const found = occurrencesBetween(facts, fromMs, toMs, 200).find((one) => !one.calledOff && one.endMs > afterMs);
    if (found) return found;
    fromMs = toMs;
  }
  return null;
}

/** First start and last end of all occurrences; the end is null when the series has none. */
export function extentOf(facts: EventFacts): { startMs: EpochMs; endMs: EpochMs | null } {
  const own = instantsOf(facts);
  if (!facts.series) return own;
  const rule = ruleOf(facts);
  const isEndless = rule !== null && rule.count === null && rule.until === null;
  const moved = facts.series.exceptions.map((change) => occurrenceOf(facts, change.at, change));
  const startMs = Math.min(
    own.startMs,
    ...moved.map((one) => one.startMs),
    ...addedOf(facts).map((one) => one.startMs),
  );
  if (isEndless) return { startMs, endMs: null };
  const all = occurrencesBetween(facts, startMs, farMs, 10_000);
  return { startMs, endMs: all.reduce((last, { endMs }) => Math.max(last, endMs), own.endMs) };
}

const dayMs = 86_400_000;
const farMs = Date.UTC(2200, 0, 1);

const oneOff = (facts: EventFacts, startMs: EpochMs, endMs: EpochMs): Occurrence => ({
  key: '',
  at: startOf(facts.span),
  facts,
  startMs,
  endMs,
  calledOff: false,
  isChanged: false,
});

const addedOf = (facts: EventFacts): Occurrence[] =>
  (facts.series?.added ?? []).map((at) => occurrenceOf(facts, at, undefined));

/** Starts that rule, first date and added dates name, some a little outside the window. */
function startsBetween(facts: EventFacts, fromMs: EpochMs, toMs: EpochMs, most: number): (WallTime | Day)[] {
  const { span, zone } = facts;
  const isTimed = span.kind === 'timed';
  const rule = ruleOf(facts);
  // Zones lie within 14 hours of UTC; the caller sorts out what is outside.
  const [fromS, toS] = [fromMs / 1000 - 54_000, toMs / 1000 + 54_000];
  const [startS, ruleZone] = [localSecondsOf(startOf(span)), isTimed ? zone : 'UTC'];
  const byRule = rule ? expandRule(rule, { startS, zone: ruleZone, fromS, toS, most: most + 10 }).startsS : [];
  const named = byRule.map((atS) => (isTimed ? wallTimeOf(atS) : wallTimeOf(atS).slice(0, 10)));
  return [...new Set([startOf(span), ...named, ...(facts.series?.added ?? [])])];
}

function isStart(facts: EventFacts, at: WallTime | Day): boolean {
  if (at === startOf(facts.span) || facts.series?.added.includes(at)) return true;
  const rule = ruleOf(facts);
  if (!rule) return false;
  const [startS, atS] = [localSecondsOf(startOf(facts.span)), localSecondsOf(at)];
  const zone = facts.span.kind === 'timed' ? facts.zone : 'UTC';
  return expandRule(rule, { startS, zone, fromS: atS, toS: atS + 1, most: 1 }).startsS.length > 0;
}

function occurrenceOf(facts: EventFacts, at: WallTime | Day, change: OccurrenceChange | undefined): Occurrence {
  const span = change?.span ?? spanFrom(facts, at);
  const own: EventFacts = {
    ...facts,
    series: null,
    span,
    title: change?.title ?? facts.title,
    description: change?.description ?? facts.description,
    venue: change?.venue ?? facts.venue,
    joinLink: change?.joinLink ?? facts.joinLink,
  };
  return {
    key: keyOf(at),
    at,
    facts: own,
    ...instantsOf(own),
    calledOff: change?.calledOff ?? false,
    isChanged: change !== undefined,
  };
}

/** The span that the series gives this date: of the same exact duration as the first (RFC 5545 §3.8.5.3). */
export function spanFrom({ span, zone, endZone, ...rest }: EventFacts, at: WallTime | Day): Span {
  if (span.kind === 'all-day') {
    const days = Math.round((Date.parse(span.lastDay) - Date.parse(span.firstDay)) / dayMs);
    return { kind: 'all-day', firstDay: at, lastDay: addDays(at, days) };
  }
  if (at === span.start) return span;
  const { startMs, endMs } = instantsOf({ ...rest, span, zone, endZone });
  const atMs = resolveWallTime(at, zone);
  // A first date in the gap of a clock change keeps the name that was given to it.
  return { ...timedSpan(atMs, atMs + endMs - startMs, { zone, endZone }), start: at };
}
