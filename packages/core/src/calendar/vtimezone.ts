import { expandRule } from '../recurrence/expand';
import { calendarDateOf, localSecondsOf, daysInMonth, weekdayOfDay } from '../recurrence/local-time';
import { plainRule, writeRule, type Rule } from '../recurrence/rule';
import { writeWallTime } from '../time/formats';
import { wallTimeAt, type WallTime } from '../time/wall-time';
import { offsetMinutesAt, transitionBefore, transitionsBetween, type EpochMs, type Transition } from '../time/zone';
import { foldLine } from './content-line';
import { writeOffset } from './values';

/** Up to this many changes of offset are listed one by one; beyond, a rule says the same in less. */
const mostListed = 6;
/** As far as the tz database's own tables go; what changes irregularly is listed at least until then. */
const horizonMs = Date.UTC(2038, 0, 1);
/** Years looked at behind the start of what may have no end: enough for a rule to show. */
const leastRunMs = 12 * 366 * 86_400_000;
/** A pattern is believed when it holds for so many years at the end of the tables. */
const leastYears = 5;

/**
 * A VTIMEZONE (RFC 5545 §3.6.5) true for every instant from `fromMs` to `toMs`: the observance in force at the start,
 * and what changes inside. A one-off event carries one or two, never a rule that a later government may change. A
 * series without end (`toMs` null) carries the zone's yearly rules, or the changes one by one where there is no rule.
 */
export function writeTimeZone(zone: string, fromMs: EpochMs, toMs: EpochMs | null): string {
  const first = transitionBefore(zone, fromMs) ?? unchanging(zone, fromMs);
  const inSpan = toMs === null ? null : transitionsBetween(zone, fromMs, toMs);
  let body: string;
  if (inSpan && inSpan.length <= mostListed) {
    body = [first, ...inSpan].map((transition) => writeObservance(zone, [transition], null)).join('');
  } else {
    const lastMs = listedUntil(fromMs, toMs);
    body = writeLongRun(zone, [first, ...transitionsBetween(zone, fromMs, lastMs)], lastMs);
  }
  return `BEGIN:VTIMEZONE\r\n${foldLine(`TZID:${zone}`)}${body}END:VTIMEZONE\r\n`;
}

const listedUntil = (fromMs: EpochMs, toMs: EpochMs | null): EpochMs =>
  Math.max(horizonMs, fromMs + leastRunMs, toMs ?? 0);

function unchanging(zone: string, atMs: EpochMs): Transition {
  const minutes = offsetMinutesAt(zone, atMs);
  return { atMs: 0, fromMinutes: minutes, toMinutes: minutes };
}

/** Changes that follow no rule are listed, those of one kind together; what repeats every year until the end is a rule. */
function writeLongRun(zone: string, transitions: readonly Transition[], lastMs: EpochMs): string {
  const tail = findYearlyTail(transitions, lastMs);
  const listed = new Map<string, Transition[]>();
  for (const transition of transitions.slice(0, tail?.from ?? transitions.length)) {
    const kind = `${transition.fromMinutes} ${transition.toMinutes}`;
    listed.set(kind, [...(listed.get(kind) ?? []), transition]);
  }
  const rules = tail?.rules.map(({ first, rule }) => writeObservance(zone, [first], rule)) ?? [];
  return [...[...listed.values()].map((group) => writeObservance(zone, group, null)), ...rules].join('');
}

interface YearlyTail {
  /** Index of the first transition that the rules make. */
  readonly from: number;
  readonly rules: readonly { readonly first: Transition; readonly rule: Rule }[];
}

/** The longest end of the list that two yearly rules make, one for summer and one for winter. */
function findYearlyTail(transitions: readonly Transition[], untilMs: EpochMs): YearlyTail | null {
  const [last, beforeLast] = [transitions.at(-1), transitions.at(-2)];
  if (!last || !beforeLast || last.atMs < untilMs - 370 * 86_400_000) return null;
  const kinds = [last, beforeLast].map((model) => ({
    model,
    indexes: transitions.flatMap((it, index) => (isSameKind(it, model) ? [index] : [])),
  }));
  for (let from = 0; from < transitions.length - 2 * leastYears; from += 1) {
    const rules = kinds.map(({ indexes }) => {
      const run = indexes.filter((index) => index >= from).map((index) => transitions[index] as Transition);
      const rule = findYearlyRule(run);
      return rule && { first: run[0] as Transition, rule, count: run.length };
    });
    const [one, other] = rules;
    if (one && other && one.count + other.count === transitions.length - from) return { from, rules: [one, other] };
  }
  return null;
}

const isSameKind = (a: Transition, b: Transition): boolean =>
  a.fromMinutes === b.fromMinutes && a.toMinutes === b.toMinutes;

/** A rule that gives exactly these onsets, once every year: a weekday counted from either end of the month, or from a date on. */
function findYearlyRule(run: readonly Transition[]): Rule | null {
  if (run.length < leastYears) return null;
  const onsets = run.map(onsetOf);
  const [model] = onsets;
  if (!model) return null;
  const dates = onsets.map((onset) => calendarDateOf(Math.floor(localSecondsOf(onset) / 86_400)));
  const [{ month } = { month: 1 }] = dates;
  const weekday = weekdayOfDay(Math.floor(localSecondsOf(model) / 86_400));
  const least = Math.min(...dates.map(({ date }) => date));
  const yearly: Rule = { ...plainRule('YEARLY'), months: [month] };
  const isFromEnd = dates.every(({ year, date }) => date > daysInMonth(year, month) - 7);
  const candidates: Rule[] = [
    ...(isFromEnd ? [{ ...yearly, days: [{ weekday, nth: -1 }] }] : []),
    { ...yearly, days: [{ weekday, nth: Math.ceil(least / 7) }] },
    { ...yearly, days: [{ weekday, nth: 0 }], monthDays: Array.from({ length: 7 }, (_, index) => least + index) },
    { ...yearly, monthDays: [least] },
  ];
  const [startS, lastS] = [localSecondsOf(model), localSecondsOf(onsets.at(-1) ?? model)];
  const wanted = onsets.map(localSecondsOf).join();
  return (
    candidates.find(
      (rule) => expandRule(rule, { startS, zone: 'UTC', fromS: startS, toS: lastS + 1 }).startsS.join() === wanted,
    ) ?? null
  );
}

/** §3.6.5: the onset is local time as it was before the change, so that TZOFFSETFROM turns it into UTC. */
const onsetOf = ({ atMs, fromMinutes }: Transition): WallTime => wallTimeAt(atMs + fromMinutes * 60_000, 'UTC');

function writeObservance(zone: string, [first, ...more]: readonly Transition[], rule: Rule | null): string {
  if (!first) return '';
  const { fromMinutes, toMinutes } = first;
  const kind = isSummer(zone, first) ? 'DAYLIGHT' : 'STANDARD';
  // One property for each, the first among them: readers in the field take one value of a list, and where there are
  // further dates they pass over the start itself.
  const dates = more.length ? [first, ...more] : [];
  const others = dates.map((transition) => `RDATE:${writeWallTime(onsetOf(transition))}\r\n`).join('');
  return (
    `BEGIN:${kind}\r\nDTSTART:${writeWallTime(onsetOf(first))}\r\n` +
    (rule ? foldLine(`RRULE:${writeRule(rule)}`) : '') +
    others +
    `TZOFFSETFROM:${writeOffset(fromMinutes)}\r\nTZOFFSETTO:${writeOffset(toMinutes)}\r\n` +
    `TZNAME:${lettersOf(zone, first)}\r\nEND:${kind}\r\n`
  );
}

/** Only a label: readers take the offset from TZOFFSETTO. Summer is a clock put forward that goes back within the year. */
function isSummer(zone: string, { atMs, fromMinutes, toMinutes }: Transition): boolean {
  const yearMs = 366 * 86_400_000;
  return (
    toMinutes > fromMinutes && transitionsBetween(zone, atMs, atMs + yearMs).some((next) => next.toMinutes < toMinutes)
  );
}

/** Runtimes know a zone's letters only in the English of where it lies. */
const locales = ['en-GB', 'en-US', 'en-AU', 'en-NZ', 'en-IN', 'en-ZA'] as const;

/** The zone's customary letters, WET or CEST; else the tz database's own style for zones without: `+01`, `-0930`. */
function lettersOf(zone: string, transition: Transition): string {
  const key = `${zone} ${transition.atMs}`;
  let letters = knownLetters.get(key);
  if (letters === undefined) {
    letters = askLetters(zone, transition);
    if (knownLetters.size < mostLettersKept) knownLetters.set(key, letters);
  }
  return letters;
}

/** Asking the runtime takes longer than all the rest of an entry. */
const knownLetters = new Map<string, string>();
const mostLettersKept = 5000;

function askLetters(zone: string, { atMs, toMinutes }: Transition): string {
  for (const locale of locales) {
    const parts = new Intl.DateTimeFormat(locale, { timeZone: zone, timeZoneName: 'short' }).formatToParts(atMs);
    const letters = parts.find(({ type }) => type === 'timeZoneName')?.value ?? '';
    if (/^[A-Z]{3,5}$/.test(letters) && (letters !== 'GMT' || toMinutes === 0)) return letters;
  }
  return writeOffset(toMinutes).replace(/00$/, '');
}
