import { bad, good, type Problem, type Read } from '../problem';
import { replyStates, type ReplyState } from '../reply-state';
import type { EpochMs } from '../time/zone';
import { readCalendarTime, type CalendarTime } from './calendar-time';
import { propertyOf, readComponents, type Component } from './read-components';
import { zoneFinderOf } from './read-zone';
import { readCount, readMailto, readText, readUtc } from './values';

/** What a person's calendar asks or answers (RFC 5546 §3.2.3, §3.2.6, §3.2.7). */
export interface PersonMessage {
  readonly method: 'REPLY' | 'COUNTER' | 'REFRESH';
  readonly uid: string;
  /** The SEQUENCE of the invitation that it is about. */
  readonly sequence: number;
  readonly stampMs: EpochMs;
  /** Lower-case address of the attendee. */
  readonly attendee: string;
  /** A person who delegates does not come: `declined`, with `delegatedTo`. */
  readonly state: ReplyState;
  /** Lower-case address that the invitation was passed on to; empty when it was not. */
  readonly delegatedTo: string;
  readonly comment: string;
  /** The date of a series that it is about; null for all of it. */
  readonly recurrence: CalendarTime | null;
  /** The time that a COUNTER proposes. */
  readonly proposed: { readonly start: CalendarTime; readonly end: CalendarTime | null } | null;
}

const methods = ['REPLY', 'COUNTER', 'REFRESH'] as const;
/** More components than this in one message is no person's answer. */
const mostComponents = 50;

/**
 * Reads what a person's calendar sent: null when it is no message of the kind. One message may answer for several dates.
 * Problem codes: those of readComponents, calendar-missing (a property that RFC 5546 §3.2 requires), calendar-bad-value,
 * unknown-zone.
 */
export function readPersonMessages(text: string): Read<PersonMessage[]> | null {
  const read = readComponents(text);
  if (!read.ok) return read;
  const [calendar] = read.value;
  const named = calendar && propertyOf(calendar, 'METHOD')?.value.trim().toUpperCase();
  const method = methods.find((one) => one === named);
  if (!calendar || !method) return null;
  const events = calendar.components.filter((component) => component.name === 'VEVENT').slice(0, mostComponents);
  if (events.length === 0) return bad({ code: 'calendar-missing', path: '', facts: { name: 'VEVENT' } });
  const messages: PersonMessage[] = [];
  for (const event of events) {
    const message = readMessage(method, event, calendar);
    if (!message.ok) return message;
    messages.push(message.value);
  }
  return good(messages);
}

function readMessage(method: PersonMessage['method'], event: Component, calendar: Component): Read<PersonMessage> {
  const problems: Problem[] = [];
  const take = <T>(result: Read<T>): T | undefined => {
    if (result.ok) return result.value;
    problems.push(...result.problems);
    return undefined;
  };
  const zoneOf = zoneFinderOf(calendar);
  const time = (name: string): Read<CalendarTime> | null => {
    const property = propertyOf(event, name);
    return property ? readCalendarTime(property.value, property.params, name, zoneOf) : null;
  };
  const uid = take(required(event, 'UID'));
  const stampMs = take(then(required(event, 'DTSTAMP'), readUtc, 'DTSTAMP'));
  const who = take(readAttendee(event, method));
  // RFC 5546 §3.2.3: SEQUENCE may be left out of a reply while it is 0.
  const sequence = take(readCount(propertyOf(event, 'SEQUENCE')?.value.trim() ?? '0', 'SEQUENCE'));
  const recurrence = take(time('RECURRENCE-ID') ?? good(null));
  const missingStart = bad({ code: 'calendar-missing', path: '', facts: { name: 'DTSTART' } });
  const start = method === 'COUNTER' ? take(time('DTSTART') ?? missingStart) : undefined;
  const end = method === 'COUNTER' ? take(time('DTEND') ?? good(null)) : undefined;
  if (uid === undefined || stampMs === undefined || who === undefined || sequence === undefined || problems.length)
    return bad(...problems);
  return good({
    method,
    uid,
    sequence,
    stampMs,
    ...who,
    comment: readText(propertyOf(event, 'COMMENT')?.value ?? ''),
    recurrence: recurrence ?? null,
    proposed: start ? { start, end: end ?? null } : null,
  });
}

function readAttendee(
  event: Component,
  method: PersonMessage['method'],
): Read<Pick<PersonMessage, 'attendee' | 'state' | 'delegatedTo'>> {
  const property = propertyOf(event, 'ATTENDEE');
  if (!property) return bad({ code: 'calendar-missing', path: '', facts: { name: 'ATTENDEE' } });
  const attendee = readMailto(property.value);
  // RFC 5545 §3.2.12: a PARTSTAT that is absent is NEEDS-ACTION.
  const said = (property.params['PARTSTAT'] ?? 'NEEDS-ACTION').toLowerCase();
  const delegatedTo = readMailto(property.params['DELEGATED-TO'] ?? '') ?? '';
  const state: ReplyState | undefined =
    said === 'delegated'
      ? 'declined'
      : method === 'REPLY'
        ? replyStates.find((known) => known === said)
        : 'needs-action';
  if (attendee && state) return good({ attendee, state, delegatedTo });
  const value = attendee ? said : property.value;
  return bad({ code: 'calendar-bad-value', path: `line ${property.lineNumber}`, facts: { value: value.slice(0, 80) } });
}

function required(event: Component, name: string): Read<string> {
  const value = propertyOf(event, name)?.value.trim();
  return value ? good(value) : bad({ code: 'calendar-missing', path: '', facts: { name } });
}

const then = <T>(first: Read<string>, next: (value: string, path: string) => Read<T>, path: string): Read<T> =>
  first.ok ? next(first.value, path) : first;
