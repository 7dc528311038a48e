import { instantsOf, type EventFacts } from '../event/event';
import { bad, good, type Read } from '../problem';
import { writeDay, writeIso, writeUtc, writeWallTime } from '../time/formats';
import { addDays } from '../time/wall-time';
import { expandUriTemplate, readUriTemplate, type TemplateValue, type UriTemplate } from './uri-template';

/** What a web-calendar pattern may use, with what each holds. Shown beside the pattern in Settings. */
export const webCalendarVariables = {
  title: 'the title',
  description: 'the description as plain text, with the join link and the page address',
  descriptionHtml: 'the same as HTML, with line breaks and links',
  place: 'the venue, or the join link when there is none',
  start: 'the start in basic UTC, 20261127T203000Z; a day, 20261127, when all day',
  end: 'the end in basic UTC; the day after the last, when all day',
  startLocal: 'the start in basic local time, 20261127T203000',
  endLocal: 'the end in basic local time',
  startIso: 'the start with its offset, 2026-11-27T20:30:00+00:00; a day, 2026-11-27, when all day',
  endIso: 'the end with its offset; the day after the last, when all day',
  lastDay: 'the last day of an all-day event, 20261128, the day itself counted',
  lastDayIso: 'the same as 2026-11-28',
  duration: 'how long it takes, PT2H30M or P2D (ISO 8601)',
  durationClock: 'how long it takes as hours and minutes, 0230',
  zone: 'the time zone, Europe/Lisbon',
  allDay: 'true when all day, else false',
  url: 'the address of the event page',
  uid: 'the identifier that every calendar entry of this event carries',
  name: 'the person’s name',
  email: 'the person’s address',
  replyUrl: 'the address of the person’s own reply page',
} as const;
export type WebCalendarVariable = keyof typeof webCalendarVariables;

/** Variables that differ from person to person: a pattern with one of them makes a link for each, at sending. */
const personVariables: readonly string[] = ['name', 'email', 'replyUrl'] satisfies WebCalendarVariable[];
const startVariables: readonly string[] = ['start', 'startIso'] satisfies WebCalendarVariable[];

/** The person a link is made for; empty texts for a link that is fixed for the event. */
export interface LinkPerson {
  readonly name: string;
  readonly email: string;
  readonly replyUrl: string;
}
export const nobodyYet: LinkPerson = { name: '', email: '', replyUrl: '' };

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

/**
 * Reads and checks the pattern of a map, which finds a place by its words: `https://map.example/search{?place}`. Problem codes:
 * bad-pattern, bad-link (not http or https), unknown-variable, no-place-in-pattern.
 */
export function readMapPattern(pattern: string): Read<UriTemplate> {
  const read = readUriTemplate(pattern);
  if (!read.ok) return read;
  if (!/^https?:\/\/[^\s/{}]+/i.test(pattern)) return bad({ code: 'bad-link', path: '' });
  const unknown = read.value.variableNames.find((name) => name !== 'place');
  if (unknown) return bad({ code: 'unknown-variable', path: '', facts: { name: unknown } });
  return read.value.variableNames.length ? good(read.value) : bad({ code: 'no-place-in-pattern', path: '' });
}

/** The address of a place on a map; empty where there is no pattern that can be used, or no place. */
export function mapLink(pattern: string, venue: string): string {
  const read = pattern && venue.trim() ? readMapPattern(pattern) : null;
  return read?.ok ? expandUriTemplate(read.value, { place: venue.replace(/\s+/g, ' ').trim() }) : '';
}

/** Does the pattern say something of the person, so that each needs a link of their own? */
export const isPersonalPattern = ({ variableNames }: UriTemplate): boolean =>
  variableNames.some((name) => personVariables.includes(name));

/** Writes the add-to-calendar link of an event for one web calendar. Of a series it says the first date it is given. */
export function writeWebCalendarLink(
  template: UriTemplate,
  facts: EventFacts,
  uid: string,
  url: string,
  person: LinkPerson = nobodyYet,
): string {
  return expandUriTemplate(template, webCalendarValues(facts, uid, url, person));
}

/** What each variable holds for an event. */
export function webCalendarValues(
  facts: EventFacts,
  uid: string,
  url: string,
  person: LinkPerson = nobodyYet,
): Record<WebCalendarVariable, TemplateValue> {
  const { span, zone, endZone } = facts;
  const { startMs, endMs } = instantsOf(facts);
  const description = [facts.description, facts.joinLink && `Join: ${facts.joinLink}`, url]
    .filter(Boolean)
    .join('\n\n');
  const shared = {
    title: facts.title,
    description,
    descriptionHtml: toHtml(description),
    place: facts.venue || facts.joinLink || null,
    duration: sayDuration(startMs, endMs, span.kind === 'all-day'),
    durationClock: clockOf(Math.round((endMs - startMs) / 60_000)),
    zone,
    url,
    uid,
    name: person.name || null,
    email: person.email || null,
    replyUrl: person.replyUrl || null,
  };
  if (span.kind === 'all-day') {
    const after = addDays(span.lastDay, 1);
    return {
      ...shared,
      start: writeDay(span.firstDay),
      end: writeDay(after),
      startLocal: writeDay(span.firstDay),
      endLocal: writeDay(after),
      startIso: span.firstDay,
      endIso: after,
      lastDay: writeDay(span.lastDay),
      lastDayIso: span.lastDay,
      allDay: 'true',
    };
  }
  return {
    ...shared,
    start: writeUtc(startMs),
    end: writeUtc(endMs),
    startLocal: writeWallTime(span.start),
    endLocal: writeWallTime(span.end),
    startIso: writeIso(startMs, zone),
    endIso: writeIso(endMs, endZone || zone),
    lastDay: null,
    lastDayIso: null,
    allDay: 'false',
  };
}

function sayDuration(startMs: number, endMs: number, isAllDay: boolean): string {
  const minutes = Math.round((endMs - startMs) / 60_000);
  if (isAllDay) return `P${Math.round(minutes / 1440)}D`;
  const [hours, rest] = [Math.floor(minutes / 60), minutes % 60];
  return `PT${hours ? `${hours}H` : ''}${rest || !hours ? `${rest}M` : ''}`;
}

const clockOf = (minutes: number): string =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}${String(minutes % 60).padStart(2, '0')}`;

const entities: Readonly<Record<string, string>> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

function toHtml(text: string): string {
  const escaped = text.replace(/[&<>"]/g, (mark) => entities[mark] ?? mark);
  return escaped.replace(/https?:\/\/[^\s<]+[^\s<.,;:!?)]/g, '<a href="$&">$&</a>').replaceAll('\n', '<br>');
}
