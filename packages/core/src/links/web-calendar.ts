import { instantsOf, type EventFacts } from '../event/event';
import { bad, good, type Read } from '../problem';
import { writeDay, writeIso, writeUtc, writeWallTime } from '../time/formats';
import { addDays } from '../time/wall-time';
import { expandUriTemplate, readUriTemplate, type TemplateValue, type UriTemplate } from './uri-template';

/** What a web-calendar pattern may use, with what each holds. Shown beside the pattern in Settings. */
export const webCalendarVariables = {
  title: 'the title',
  description: 'the description as plain text, with the join link and the page address',
  place: 'the venue, or the join link when there is none',
  start: 'the start in basic UTC, 20261127T203000Z; a day, 20261127, when all day',
  end: 'the end in basic UTC; the day after the last, when all day',
  startLocal: 'the start in basic local time, 20261127T203000',
  endLocal: 'the end in basic local time',
  startIso: 'the start with its offset, 2026-11-27T20:30:00+00:00',
  endIso: 'the end with its offset',
  lastDay: 'the last day of an all-day event, 20261128',
  zone: 'the time zone, Europe/Lisbon',
  url: 'the address of the event page',
  uid: 'the identifier that every calendar entry of this event carries',
} as const;

const startVariables = ['start', 'startIso'];

/**
 * Reads and checks a web-calendar pattern as it is saved. Problem codes: bad-pattern, bad-link (not http or https),
 * unknown-variable, no-start-in-pattern (a start in local time needs the zone beside it).
 */
export function readWebCalendarPattern(pattern: string): Read<UriTemplate> {
  const read = readUriTemplate(pattern);
  if (!read.ok) return read;
  if (!/^https?:\/\/[^\s/{}]+/i.test(pattern)) return bad({ code: 'bad-link', path: '' });
  const names = read.value.variableNames;
  const unknown = names.find((name) => !Object.hasOwn(webCalendarVariables, name));
  if (unknown) return bad({ code: 'unknown-variable', path: '', facts: { name: unknown } });
  const hasStart =
    names.some((name) => startVariables.includes(name)) || (names.includes('startLocal') && names.includes('zone'));
  return hasStart ? good(read.value) : bad({ code: 'no-start-in-pattern', path: '' });
}

/** Writes the add-to-calendar link of an event for one web calendar. */
export function writeWebCalendarLink(template: UriTemplate, facts: EventFacts, uid: string, url: string): string {
  return expandUriTemplate(template, valuesOf(facts, uid, url));
}

function valuesOf(
  facts: EventFacts,
  uid: string,
  url: string,
): Record<keyof typeof webCalendarVariables, TemplateValue> {
  const { span, zone } = facts;
  const { startMs, endMs } = instantsOf(facts);
  const allDay = span.kind === 'all-day';
  const exclusiveEnd = allDay ? writeDay(addDays(span.lastDay, 1)) : '';
  return {
    title: facts.title,
    description: [facts.description, facts.joinLink && `Join: ${facts.joinLink}`, url].filter(Boolean).join('\n\n'),
    place: facts.venue || facts.joinLink || null,
    start: allDay ? writeDay(span.firstDay) : writeUtc(startMs),
    end: allDay ? exclusiveEnd : writeUtc(endMs),
    startLocal: allDay ? writeDay(span.firstDay) : writeWallTime(span.start),
    endLocal: allDay ? exclusiveEnd : writeWallTime(span.end),
    startIso: writeIso(startMs, zone),
    endIso: writeIso(endMs, zone),
    lastDay: allDay ? writeDay(span.lastDay) : null,
    zone,
    url,
    uid,
  };
}
