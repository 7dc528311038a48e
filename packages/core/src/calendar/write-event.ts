import { instantsOf, type EventVersion } from '../event/event';
import { writeDay, writeUtc, writeWallTime } from '../time/formats';
import { addDays } from '../time/wall-time';
import type { EpochMs } from '../time/zone';
import { foldLine, writeContentLine, writeParam } from './content-line';
import { writeText } from './values';
import { writeTimeZone } from './vtimezone';

/** RFC 5546 §1.4: REQUEST asks a person, CANCEL calls off, PUBLISH tells anybody. */
export type Method = 'REQUEST' | 'CANCEL' | 'PUBLISH';

export interface CalendarPerson {
  readonly name: string;
  readonly email: string;
}

/** What a calendar entry is made from. */
export interface CalendarSource {
  readonly uid: string;
  readonly version: EventVersion;
  readonly organizer: CalendarPerson;
  /** The public page of the event. */
  readonly url: string;
  /** DTSTAMP: when this text is made (RFC 5545 §3.8.7.2, for a method other than PUBLISH of a store). */
  readonly stampMs: EpochMs;
  /** Minutes before the start for a DISPLAY alarm; null for none. */
  readonly alarmMinutes: number | null;
}

/**
 * Prepares the iCalendar text of one version of an event (RFC 5545, RFC 5546 §3.2). What all people share is written
 * once; the function returned adds the one attendee, because thousands of personal texts differ in that line alone.
 * PUBLISH has no attendee (RFC 5546 §3.2.1): call it without one.
 */
export function prepareCalendar(source: CalendarSource, method: Method): (attendee?: CalendarPerson) => string {
  const { uid, version, organizer, url, stampMs } = source;
  const { facts, sequence, calledOff } = version;
  const head =
    'BEGIN:VCALENDAR\r\nPRODID:-//Convite//Convite 1//EN\r\nVERSION:2.0\r\nCALSCALE:GREGORIAN\r\n' +
    `METHOD:${method}\r\n${writeZoneOf(version)}BEGIN:VEVENT\r\n` +
    writeContentLine('UID', uid) +
    `DTSTAMP:${writeUtc(stampMs)}\r\nSEQUENCE:${sequence}\r\n` +
    writeSpan(version) +
    writeContentLine('SUMMARY', writeText(facts.title)) +
    writeContentLine('ORGANIZER', `mailto:${organizer.email}`, organizer.name ? { CN: organizer.name } : {});
  const cancelled = method === 'CANCEL' || calledOff;
  const tail =
    optional('DESCRIPTION', describe(version)) +
    optional('LOCATION', facts.venue || facts.joinLink) +
    writeContentLine('URL', url) +
    // RFC 7986 §5.11: the address to join, for calendars that show a button for it.
    (facts.joinLink ? writeContentLine('CONFERENCE', facts.joinLink, { VALUE: 'URI' }) : '') +
    (facts.topics.length ? writeContentLine('CATEGORIES', facts.topics.map(writeText).join(',')) : '') +
    `STATUS:${cancelled ? 'CANCELLED' : 'CONFIRMED'}\r\nTRANSP:${cancelled ? 'TRANSPARENT' : 'OPAQUE'}\r\n` +
    (cancelled ? '' : writeAlarm(source)) +
    'END:VEVENT\r\nEND:VCALENDAR\r\n';
  return (attendee) => head + (attendee && method !== 'PUBLISH' ? writeAttendee(attendee, method) : '') + tail;
}

/** The one line that differs from person to person, so what comes before the name is a constant. */
const attendeeStart: Readonly<Record<Exclude<Method, 'PUBLISH'>, string>> = {
  REQUEST: 'ATTENDEE;CUTYPE=INDIVIDUAL;ROLE=REQ-PARTICIPANT;PARTSTAT=NEEDS-ACTION;RSVP=TRUE',
  CANCEL: 'ATTENDEE;CUTYPE=INDIVIDUAL;ROLE=REQ-PARTICIPANT',
};

function writeAttendee({ name, email }: CalendarPerson, method: Exclude<Method, 'PUBLISH'>): string {
  return foldLine(`${attendeeStart[method]}${name && `;CN=${writeParam(name)}`}:mailto:${email}`);
}

function writeSpan({ facts: { span, zone } }: EventVersion): string {
  if (span.kind === 'all-day') {
    // §3.6.1: the end of an all-day event is the day after its last.
    const end = writeDay(addDays(span.lastDay, 1));
    return `DTSTART;VALUE=DATE:${writeDay(span.firstDay)}\r\nDTEND;VALUE=DATE:${end}\r\n`;
  }
  return (
    writeContentLine('DTSTART', writeWallTime(span.start), { TZID: zone }) +
    writeContentLine('DTEND', writeWallTime(span.end), { TZID: zone })
  );
}

function writeZoneOf({ facts }: EventVersion): string {
  if (facts.span.kind === 'all-day') return '';
  const { startMs, endMs } = instantsOf(facts);
  return writeTimeZone(facts.zone, startMs, endMs);
}

/** The join link stands in the description too: most calendar programs show nothing else. */
function describe({ facts }: EventVersion): string {
  return [facts.description, facts.joinLink && `Join: ${facts.joinLink}`].filter(Boolean).join('\n\n');
}

function writeAlarm({ alarmMinutes, uid, version }: CalendarSource): string {
  if (alarmMinutes === null) return '';
  return (
    'BEGIN:VALARM\r\n' +
    // RFC 9074 §4: a stable name, so that a person's own change to the alarm survives an update.
    writeContentLine('UID', `alarm-${uid}`) +
    `ACTION:DISPLAY\r\nTRIGGER:-PT${alarmMinutes}M\r\n` +
    writeContentLine('DESCRIPTION', writeText(version.facts.title)) +
    'END:VALARM\r\n'
  );
}

const optional = (name: string, text: string): string => (text ? writeContentLine(name, writeText(text)) : '');
