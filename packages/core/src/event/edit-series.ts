import { isSame } from '../same';
import { expandRule } from '../recurrence/expand';
import { localSecondsOf, wallTimeOf } from '../recurrence/local-time';
import { writeRule } from '../recurrence/rule';
import { addDays, type Day, type WallTime } from '../time/wall-time';
import { startOf, type EventFacts, type OccurrenceChange, type Series } from './event';
import {
  extentOf,
  findOccurrence,
  keyOf,
  occurrencesBetween,
  spanFrom,
  startOfKey,
  type Occurrence,
} from './occurrences';
import { ruleOf } from './series';

/** Which dates of a series an edit is about. */
export type Scope =
  | { readonly kind: 'all' }
  | { readonly kind: 'one'; readonly key: string }
  | { readonly kind: 'following'; readonly key: string };

/**
 * The series with one date changed: to the facts given, or called off, or (null) put back as the series says.
 * @throws RangeError for an occurrence that was not looked up before (bad use)
 */
export function changeOccurrence(
  facts: EventFacts,
  key: string,
  to: { readonly facts: EventFacts; readonly calledOff: boolean } | null,
): EventFacts {
  const at = startOfKey(key);
  if (!facts.series || at === null) throw new RangeError(`no occurrence ${key}`);
  const others = facts.series.exceptions.filter((change) => change.at !== at);
  const change = to && differenceFrom(facts, at, to);
  const exceptions = change ? [...others, change].sort((a, b) => a.at.localeCompare(b.at)) : others;
  return { ...facts, series: { ...facts.series, exceptions } };
}

function differenceFrom(
  facts: EventFacts,
  at: WallTime | Day,
  { facts: own, calledOff }: { readonly facts: EventFacts; readonly calledOff: boolean },
): OccurrenceChange | null {
  const ifOther = (is: string, was: string): string | null => (is === was ? null : is);
  const change: OccurrenceChange = {
    at,
    calledOff,
    span: isSame(own.span, spanFrom(facts, at)) ? null : own.span,
    title: ifOther(own.title, facts.title),
    description: ifOther(own.description, facts.description),
    venue: ifOther(own.venue, facts.venue),
    joinLink: ifOther(own.joinLink, facts.joinLink),
  };
  const { at: _, calledOff: __, ...parts } = change;
  return calledOff || Object.values(parts).some((part) => part !== null) ? change : null;
}

/** Adds a date beside those of the rule; one that stands already is not doubled. */
export function addOccurrence(facts: EventFacts, at: WallTime | Day): EventFacts {
  const series: Series = facts.series ?? { rule: '', added: [], exceptions: [] };
  if (findOccurrence({ ...facts, series }, keyOf(at))) return { ...facts, series };
  return { ...facts, series: { ...series, added: [...series.added, at].sort() } };
}

/**
 * Parts a series in two before an occurrence: what was, with an end, and what follows, as a series that begins there.
 * Null when the occurrence is the first: then all dates follow.
 */
export function splitSeries(
  facts: EventFacts,
  occurrence: Occurrence,
): { before: EventFacts; after: EventFacts } | null {
  const { series, span, zone } = facts;
  const { at } = occurrence;
  if (!series || at <= startOf(span)) return null;
  const rule = ruleOf(facts);
  const isTimed = span.kind === 'timed';
  const startS = localSecondsOf(startOf(span));
  const atS = localSecondsOf(at);
  const earlier = rule
    ? expandRule(rule, { startS, zone: isTimed ? zone : 'UTC', fromS: startS, toS: atS }).startsS.length
    : 0;
  const until = isTimed ? wallTimeOf(atS - 60) : addDays(at, -1);
  const split = (keep: (at: string) => boolean, text: string): Series => ({
    rule: text,
    added: series.added.filter(keep),
    exceptions: series.exceptions.filter((change) => keep(change.at)),
  });
  return {
    before: {
      ...facts,
      series: split((one) => one < at, rule ? writeRule({ ...rule, count: null, until }) : ''),
    },
    after: {
      ...facts,
      span: spanFrom(facts, at),
      series: split(
        (one) => one >= at,
        rule ? writeRule(rule.count === null ? rule : { ...rule, count: Math.max(1, rule.count - earlier) }) : '',
      ),
    },
  };
}

/** How names of occurrences change when all of a series moves; null for one that the new series does not have. */
export type KeyMove = (key: string) => string | null;

/**
 * Carries the added and changed dates of a series along when its first date moves: on a series that begins two hours
 * later, the evening that was called off stays called off. A date moved by hand keeps the time it was given.
 */
export function carryDates(before: EventFacts, after: EventFacts): { facts: EventFacts; moveKey: KeyMove } {
  const isSame = startOf(before.span) === startOf(after.span);
  const shiftS = localSecondsOf(startOf(after.span)) - localSecondsOf(startOf(before.span));
  const toDay = after.span.kind === 'all-day';
  const shift = (at: WallTime | Day): WallTime | Day => {
    if (isSame) return at;
    const moved = wallTimeOf(localSecondsOf(at) + shiftS);
    return toDay ? moved.slice(0, 10) : moved;
  };
  const series = after.series && {
    ...after.series,
    added: after.series.added.map(shift),
    exceptions: after.series.exceptions.map((change) => ({ ...change, at: shift(change.at) })),
  };
  const bare = { ...after, series: series && { ...series, exceptions: [] } };
  const facts: EventFacts = {
    ...after,
    series: series && {
      ...series,
      exceptions: series.exceptions.filter(({ at }) => findOccurrence(bare, keyOf(at)) !== null),
    },
  };
  return {
    facts,
    moveKey: (key) => {
      const at = startOfKey(key);
      if (at === null || !facts.series) return null;
      const moved = keyOf(shift(at));
      return findOccurrence(facts, moved) ? moved : null;
    },
  };
}

/** So many dates are looked at to see whether two series share any. */
const compared = 50;
const longMs = 20 * 366 * 86_400_000;

/**
 * How names of occurrences change with a series that was written elsewhere and read again, its added and changed dates being
 * where they belong already. Where the two share a date the names stand, however its beginning moved on; else all moved
 * together, as from half past seven to eight. What has no place in the new one keeps its name: nothing that was answered is lost.
 */
export function matchDates(before: EventFacts, after: EventFacts): KeyMove {
  const { startMs } = extentOf(before);
  const known = occurrencesBetween(before, startMs, startMs + longMs, compared);
  const isShared = known.some(({ key }) => findOccurrence(after, key) !== null);
  const { moveKey } = carryDates(before, { ...after, series: after.series && { ...after.series, exceptions: [] } });
  return (key) => (isShared ? key : (moveKey(key) ?? key));
}
