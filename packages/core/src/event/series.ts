import type { Problem } from '../problem';
import { expandRule } from '../recurrence/expand';
import { localSecondsOf } from '../recurrence/local-time';
import { readRule, type Rule } from '../recurrence/rule';
import { sayRule } from '../recurrence/say-rule';
import { isSkipped } from '../time/gaps';
import { isDay, isWallTime } from '../time/wall-time';
import { checkSpan } from './check-span';
import { startOf, type EventFacts } from './event';

/** Bounds of what one event may ask for; more is several events, or a mistake. */
const mostOnOneDay = 48;
const mostExceptions = 500;
const daySeconds = 86_400;

/** The rule of a series, or null when it has none or one that cannot be read. */
export function ruleOf({ series, zone }: Pick<EventFacts, 'series' | 'zone'>): Rule | null {
  if (!series?.rule) return null;
  const read = readRule(series.rule, zone, 'series.rule');
  return read.ok ? read.value : null;
}

/** How an event repeats, in words; empty for a one-off. */
export function sayRepeats(facts: Pick<EventFacts, 'series' | 'zone'>): string {
  const rule = ruleOf(facts);
  return rule ? sayRule(rule) : facts.series ? 'on single dates' : '';
}

/**
 * What is wrong with how an event repeats. RFC 5545 §3.8.5.3 leaves undefined what a rule means whose first date is not
 * one of its own, so that is refused.
 */
export function checkSeries(facts: EventFacts): Problem[] {
  const { series, span, zone } = facts;
  if (!series) return [];
  const problems: Problem[] = [];
  const isStart = span.kind === 'timed' ? isWallTime : isDay;
  if (series.rule) {
    const read = readRule(series.rule, zone, 'series.rule');
    if (read.ok) problems.push(...checkRule(read.value, facts));
    else problems.push(...read.problems);
  }
  if (series.added.length > mostExceptions || series.exceptions.length > mostExceptions)
    problems.push({ code: 'too-long', path: 'series', facts: { most: mostExceptions } });
  series.added.forEach((at, index) => {
    if (!isStart(at)) problems.push({ code: 'bad-date', path: `series.added.${index}` });
  });
  series.exceptions.forEach((change, index) => {
    const path = `series.exceptions.${index}`;
    if (!isStart(change.at)) problems.push({ code: 'not-an-occurrence', path });
    if (change.span)
      problems.push(
        ...checkSpan({ ...facts, span: change.span }).map((problem) => ({
          ...problem,
          path: `${path}.${problem.path}`,
        })),
      );
  });
  return problems;
}

function checkRule(rule: Rule, { span, zone }: EventFacts): Problem[] {
  const startS = localSecondsOf(startOf(span));
  const byClock = clockPartOf(rule);
  // RFC 5545 §3.3.10: days have no hours to repeat by.
  if (span.kind === 'all-day' && byClock) return [{ code: 'bad-rule', path: 'series.rule', facts: { text: byClock } }];
  if (rule.frequency === 'SECONDLY' || rule.seconds.some((second) => second !== 0))
    return [{ code: 'rule-too-often', path: 'series.rule', facts: { most: mostOnOneDay } }];
  // RFC 5545 §3.3.10 passes over such a date, and §3.8.5.3 counts the start as the first: both cannot hold.
  if (span.kind === 'timed' && isSkipped(startS, zone)) return [{ code: 'start-skipped', path: 'span.start' }];
  const window = { startS, zone: span.kind === 'timed' ? zone : 'UTC', fromS: startS };
  const firstDay = expandRule(rule, { ...window, toS: startS + daySeconds, most: mostOnOneDay + 1 });
  if (firstDay.startsS[0] !== startS) return [{ code: 'start-not-in-rule', path: 'series.rule' }];
  if (firstDay.startsS.length > mostOnOneDay)
    return [{ code: 'rule-too-often', path: 'series.rule', facts: { most: mostOnOneDay } }];
  return [];
}

/** The part of a rule that goes by the clock; empty when it goes by days alone. */
function clockPartOf({ frequency, hours, minutes, seconds }: Rule): string {
  if (['HOURLY', 'MINUTELY', 'SECONDLY'].includes(frequency)) return `FREQ=${frequency}`;
  if (hours.length) return 'BYHOUR';
  if (minutes.length) return 'BYMINUTE';
  return seconds.length ? 'BYSECOND' : '';
}
