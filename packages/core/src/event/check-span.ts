import type { Problem } from '../problem';
import { isDay, isWallTime } from '../time/wall-time';
import { isZone } from '../time/zone-names';
import { instantsOf, type EventFacts } from './event';

/** What is wrong with a span, at its fields. */
export function checkSpan({ span, zone, endZone }: Pick<EventFacts, 'span' | 'zone' | 'endZone'>): Problem[] {
  if (span.kind === 'all-day') {
    const problems: Problem[] = [];
    if (!isDay(span.firstDay)) problems.push(noDate(span.firstDay, 'span.firstDay'));
    if (!isDay(span.lastDay)) problems.push(noDate(span.lastDay, 'span.lastDay'));
    if (problems.length === 0 && span.lastDay < span.firstDay)
      problems.push({ code: 'end-before-start', path: 'span.lastDay' });
    return problems;
  }
  const problems: Problem[] = [];
  if (!isWallTime(span.start)) problems.push(noDate(span.start, 'span.start'));
  if (!isWallTime(span.end)) problems.push(noDate(span.end, 'span.end'));
  if (problems.length > 0 || !isZone(zone) || (endZone && !isZone(endZone))) return problems;
  const { startMs, endMs } = instantsOf({ span, zone, endZone });
  if (endMs <= startMs) problems.push({ code: 'end-before-start', path: 'span.end' });
  return problems;
}

/** Nothing was typed, or something that does not exist. */
const noDate = (text: string, path: string): Problem => ({ code: text.trim() === '' ? 'required' : 'bad-date', path });
