import { bad, good, type Problem, type Read } from '../problem';
import { replyStates, type ReplyState } from '../reply-state';
import type { EpochMs } from '../time/zone';
import { propertyOf, readComponents, type Component } from './read-components';
import { readCount, readMailto, readText, readUtc } from './values';

/** What a person's calendar answered (RFC 5546 §3.2.3). */
export interface CalendarReply {
  readonly uid: string;
  /** The SEQUENCE of the invitation that is answered. */
  readonly sequence: number;
  readonly stampMs: EpochMs;
  /** Lower-case address of the attendee who answers. */
  readonly attendee: string;
  readonly state: ReplyState;
  readonly comment: string;
}

/** Reads the METHOD of a calendar text, upper case, or null when it is no readable calendar with a method. */
export function readMethod(text: string): string | null {
  const read = readComponents(text);
  const calendar = read.ok ? read.value[0] : undefined;
  return (calendar && propertyOf(calendar, 'METHOD')?.value.trim().toUpperCase()) ?? null;
}

/**
 * Reads a REPLY. Problem codes: those of readComponents, calendar-missing (a property that RFC 5546 §3.2.3 requires)
 * and calendar-bad-value.
 */
export function readReply(text: string): Read<CalendarReply> {
  const read = readComponents(text);
  if (!read.ok) return read;
  const event = read.value[0]?.components.find((component) => component.name === 'VEVENT');
  if (!event) return bad({ code: 'calendar-missing', path: '', facts: { name: 'VEVENT' } });
  const problems: Problem[] = [];
  const take = <T>(result: Read<T>): T | undefined => {
    if (result.ok) return result.value;
    problems.push(...result.problems);
    return undefined;
  };
  const uid = take(required(event, 'UID'));
  const stampMs = take(then(required(event, 'DTSTAMP'), readUtc, 'DTSTAMP'));
  const who = take(readAttendee(event));
  // RFC 5546 §3.2.3: SEQUENCE may be left out of a reply while it is 0.
  const sequence = take(readCount(propertyOf(event, 'SEQUENCE')?.value.trim() ?? '0', 'SEQUENCE'));
  if (uid === undefined || stampMs === undefined || who === undefined || sequence === undefined)
    return bad(...problems);
  return good({ uid, sequence, stampMs, ...who, comment: readText(propertyOf(event, 'COMMENT')?.value ?? '') });
}

function readAttendee(event: Component): Read<Pick<CalendarReply, 'attendee' | 'state'>> {
  const property = propertyOf(event, 'ATTENDEE');
  if (!property) return bad({ code: 'calendar-missing', path: '', facts: { name: 'ATTENDEE' } });
  const attendee = readMailto(property.value);
  // RFC 5545 §3.2.12: a PARTSTAT that is absent is NEEDS-ACTION.
  const said = (property.params['PARTSTAT'] ?? 'NEEDS-ACTION').toLowerCase();
  const state = replyStates.find((known) => known === said);
  if (attendee && state) return good({ attendee, state });
  const value = attendee ? said : property.value;
  return bad({ code: 'calendar-bad-value', path: `line ${property.lineNumber}`, facts: { value: value.slice(0, 80) } });
}

function required(event: Component, name: string): Read<string> {
  const value = propertyOf(event, name)?.value.trim();
  return value ? good(value) : bad({ code: 'calendar-missing', path: '', facts: { name } });
}

const then = <T>(first: Read<string>, next: (value: string, path: string) => Read<T>, path: string): Read<T> =>
  first.ok ? next(first.value, path) : first;
