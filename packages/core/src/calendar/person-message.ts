import { bad, good, type Problem, type Read } from '../problem';
import { replyStates, type ReplyState } from '../reply-state';
import type { Duration } from '../time/shift';
import type { EpochMs } from '../time/zone';
import { readCalendarTime, type CalendarTime, type ZoneFinder } from './calendar-time';
import { readContentLine, unfoldLines, type ContentLine } from './content-line';
import { propertyOf, readComponents, type Component } from './read-components';
import { zoneFinderOf } from './read-zone';
import { readCount, readDuration, readMailto, readText, readUtc } from './values';

/** What a person's calendar asks or answers (RFC 5546 §3.2.3, §3.2.6, §3.2.7). */
export interface PersonMessage {
  readonly method: 'REPLY' | 'COUNTER' | 'REFRESH';
  readonly uid: string;
  /** The SEQUENCE of the invitation that it is about. */
  readonly sequence: number;
  readonly stampMs: EpochMs;
  /** Lower-case address of the attendee who speaks. */
  readonly attendee: string;
  /** A person who delegates does not come: `declined`, with `delegatedTo`. */
  readonly state: ReplyState;
  /** Lower-case address that the invitation was passed on to; empty when it was not. */
  readonly delegatedTo: string;
  /** Lower-case address of the invitee who passed it on to this person; empty when nobody did. */
  readonly delegatedFrom: string;
  /** Why their calendar could not take the invitation (REQUEST-STATUS 3 or 5, RFC 5546 §3.6); empty when it could. */
  readonly refusal: string;
  readonly comment: string;
  /** The date of a series that it is about; null for all of it. */
  readonly recurrence: CalendarTime | null;
  /** The time that a COUNTER proposes, its length when it says one, and its place. */
  readonly proposed: {
    readonly start: CalendarTime;
    readonly end: CalendarTime | null;
    readonly length: Duration | null;
    readonly place: string;
  } | null;
}

const methods = ['REPLY', 'COUNTER', 'REFRESH'] as const;
/** More components than this in one message is no person's answer. */
const mostComponents = 50;

/**
 * Reads what a person's calendar sent: null when it is no message of the kind. One message may answer for several dates.
 * Problem codes: those of readComponents, calendar-missing (a property that RFC 5546 §3.2 requires), calendar-bad-value,
 * unknown-zone.
 * @param sender lower-case address that the mail came from: a COUNTER names everybody invited (RFC 5546 §4.2.4), and a
 *   delegate's REPLY the one who delegated (§4.2.6)
 * @param methodOfPart as the part's Content-Type names it (RFC 6047 §2.4), for a text that names none
 */
export function readPersonMessages(text: string, sender: string, methodOfPart = ''): Read<PersonMessage[]> | null {
  const read = readComponents(text);
  if (!read.ok) return read;
  const [calendar] = read.value;
  const named = (calendar && propertyOf(calendar, 'METHOD')?.value.trim()) || methodOfPart;
  const method = methods.find((one) => one === named.toUpperCase());
  if (!calendar || !method) return null;
  const events = calendar.components.filter((component) => component.name === 'VEVENT').slice(0, mostComponents);
  if (events.length === 0) return bad({ code: 'calendar-missing', path: '', facts: { name: 'VEVENT' } });
  const zoneOf = zoneFinderOf(calendar);
  const messages: PersonMessage[] = [];
  for (const event of events) {
    const message = readMessage(method, event, sender, zoneOf);
    if (!message.ok) return message;
    messages.push(message.value);
  }
  return good(messages);
}

/** The first UID in a text, also in one that cannot be read; empty when it names none. */
export function uidIn(text: string): string {
  const line = unfoldLines(text.slice(0, mostLookedAt)).find((one) => /^UID[;:]/i.test(one.text));
  const read = line && readContentLine(line.text, line.number);
  return read?.ok ? read.value.value.trim() : '';
}
const mostLookedAt = 100_000;

function readMessage(
  method: PersonMessage['method'],
  event: Component,
  sender: string,
  zoneOf: ZoneFinder,
): Read<PersonMessage> {
  const problems: Problem[] = [];
  const take = <T>(result: Read<T>): T | undefined => {
    if (result.ok) return result.value;
    problems.push(...result.problems);
    return undefined;
  };
  const time = (name: string): Read<CalendarTime> | null => {
    const property = propertyOf(event, name);
    return property ? readCalendarTime(property.value, property.params, name, zoneOf) : null;
  };
  const uid = take(required(event, 'UID'));
  const stampMs = take(then(required(event, 'DTSTAMP'), readUtc, 'DTSTAMP'));
  const who = take(readAttendee(event, method, sender));
  // RFC 5546 §3.2.3: SEQUENCE may be left out of a reply while it is 0.
  const sequence = take(readCount(propertyOf(event, 'SEQUENCE')?.value.trim() ?? '0', 'SEQUENCE'));
  const recurrence = take(time('RECURRENCE-ID') ?? good(null));
  const missingStart = bad({ code: 'calendar-missing', path: '', facts: { name: 'DTSTART' } });
  const start = method === 'COUNTER' ? take(time('DTSTART') ?? missingStart) : undefined;
  const end = method === 'COUNTER' ? take(time('DTEND') ?? good(null)) : undefined;
  const duration = propertyOf(event, 'DURATION');
  const length = start && duration ? take(readDuration(duration.value, `line ${duration.lineNumber}`)) : null;
  if (uid === undefined || stampMs === undefined || who === undefined || sequence === undefined || problems.length)
    return bad(...problems);
  return good({
    method,
    uid,
    sequence,
    stampMs,
    ...who,
    refusal: readRefusal(event),
    comment: textOf(event, 'COMMENT'),
    recurrence: recurrence ?? null,
    proposed: start ? { start, end: end ?? null, length: length ?? null, place: textOf(event, 'LOCATION') } : null,
  });
}

function readAttendee(
  event: Component,
  method: PersonMessage['method'],
  sender: string,
): Read<Pick<PersonMessage, 'attendee' | 'state' | 'delegatedTo' | 'delegatedFrom'>> {
  const property = speakerOf(event, sender);
  // RFC 5546 §3.2.7: a COUNTER need name nobody; it speaks for whoever sent it.
  if (!property && method === 'COUNTER')
    return good({ attendee: sender, state: 'needs-action', delegatedTo: '', delegatedFrom: '' });
  if (!property) return bad({ code: 'calendar-missing', path: '', facts: { name: 'ATTENDEE' } });
  const attendee = readMailto(property.value);
  // RFC 5545 §3.2.12: a PARTSTAT that is absent is NEEDS-ACTION.
  const said = (property.params['PARTSTAT'] ?? 'NEEDS-ACTION').toLowerCase();
  const address = (param: string): string => readMailto(property.params[param] ?? '') ?? '';
  const state: ReplyState | undefined =
    said === 'delegated'
      ? 'declined'
      : method === 'REPLY'
        ? replyStates.find((known) => known === said)
        : 'needs-action';
  if (attendee && state)
    return good({ attendee, state, delegatedTo: address('DELEGATED-TO'), delegatedFrom: address('DELEGATED-FROM') });
  const value = attendee ? said : property.value;
  return bad({ code: 'calendar-bad-value', path: `line ${property.lineNumber}`, facts: { value: value.slice(0, 80) } });
}

/** The attendee who sent it, of all who are named; otherwise the first who is not the organizer. */
function speakerOf(event: Component, sender: string): ContentLine | undefined {
  const organizer = readMailto(propertyOf(event, 'ORGANIZER')?.value ?? '');
  const attendees = event.properties.filter(({ name }) => name === 'ATTENDEE');
  return (
    attendees.find(({ value }) => readMailto(value) === sender) ??
    attendees.find(({ value }) => readMailto(value) !== organizer) ??
    attendees[0]
  );
}

/** `3.1;Invalid property value;DTSTART:…` is a refusal, `2.0;Success` is none; 4 says that the time is taken. */
const readRefusal = (event: Component): string =>
  event.properties
    .filter(({ name, value }) => name === 'REQUEST-STATUS' && /^[35]\./.test(value.trim()))
    .map(({ value }) => readText(value))
    .join(', ');

const textOf = (event: Component, name: string): string => readText(propertyOf(event, name)?.value ?? '');

function required(event: Component, name: string): Read<string> {
  const value = propertyOf(event, name)?.value.trim();
  return value ? good(value) : bad({ code: 'calendar-missing', path: '', facts: { name } });
}

const then = <T>(first: Read<string>, next: (value: string, path: string) => Read<T>, path: string): Read<T> =>
  first.ok ? next(first.value, path) : first;
