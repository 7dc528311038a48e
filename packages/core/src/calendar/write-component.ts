import {
  instantsOf,
  isAgain,
  type EventFacts,
  type EventVersion,
  type OccurrenceChange,
  type Span,
} from '../event/event';
import { findOccurrence, keyOf, type Occurrence } from '../event/occurrences';
import { ruleOf } from '../event/series';
import { writeRule } from '../recurrence/rule';
import { writeDay, writeUtc, writeWallTime } from '../time/formats';
import { addDays } from '../time/wall-time';
import type { EpochMs } from '../time/zone';
import { foldLine, writeContentLine, writeParam } from './content-line';
import { writeMailto, writeText } from './values';

/** RFC 5546 §1.4: REQUEST asks a person, CANCEL calls off, PUBLISH tells anybody. */
export type Method = 'REQUEST' | 'CANCEL' | 'PUBLISH';

export interface CalendarPerson {
  readonly name: string;
  readonly email: string;
  /** Said yes before the entry was written, by putting themselves down: their calendar need not ask. */
  readonly isComing?: boolean | undefined;
}

/** A guest that others see, with what they answered in the words of PARTSTAT. */
export interface ShownGuest extends CalendarPerson {
  readonly state: string;
}

/** The text of an entry: plain, and for those who show it, styled (HTML); empty when there is none. */
export interface EntryText {
  readonly plain: string;
  readonly styled: string;
}

/** How every calendar text of ours begins. */
export const productLines = 'PRODID:-//Convite//Convite 1//EN\r\nVERSION:2.0\r\nCALSCALE:GREGORIAN\r\n';

/** Who sends the entry, and where answers go. */
export interface Organizer<P> {
  readonly name: string;
  readonly email: string;
  /** An address for each person, so that an answer is known by where it went. */
  readonly emailOf?: (person: P) => string;
}

/** What a calendar entry is made from. */
export interface CalendarSource<P extends CalendarPerson = CalendarPerson> {
  readonly uid: string;
  readonly version: EventVersion;
  readonly organizer: Organizer<P>;
  /** The public page of the event; empty where it has none. */
  readonly url: string;
  /** DTSTAMP: when this text is made (RFC 5545 §3.8.7.2). */
  readonly stampMs: EpochMs;
  /** The text of the entry, or of one occurrence; with the person when it says something of their own. */
  readonly textOf: (facts: EventFacts, person: P | null) => EntryText;
  /** The text differs from person to person. */
  readonly isTextPersonal: boolean;
  /** Everybody who is to be seen by everybody; empty when guests do not see each other. */
  readonly guests: readonly ShownGuest[];
}

/** Text that is the same for everybody, or what stands there for one person. */
export type Piece<P> = string | ((person: P | null) => string);

/** The components of an event: the entry, and one more for each date of a series that differs (RFC 5545 §3.8.4.4). */
export function writeComponents<P extends CalendarPerson>(source: CalendarSource<P>, method: Method): Piece<P>[] {
  const { series } = source.version.facts;
  // Calling off a series names it as a whole; single dates need no word of their own then (RFC 5546 §3.2.5).
  const changes = series && method !== 'CANCEL' ? series.exceptions.filter(isWritten) : [];
  return [
    ...writeComponent(source, method, null),
    ...changes.flatMap((change) => {
      const occurrence = findOccurrence(source.version.facts, keyOf(change.at));
      return occurrence ? writeComponent(source, method, occurrence) : [];
    }),
  ];
}

/** What was called off is left out (EXDATE, §3.8.5.1): every reader knows that; not all know a date that is CANCELLED. */
const isWritten = (change: OccurrenceChange): boolean => !change.calledOff;

/** One VEVENT: of the whole when `occurrence` is null, else of that date. */
export function writeComponent<P extends CalendarPerson>(
  source: CalendarSource<P>,
  method: Method,
  occurrence: Occurrence | null,
): Piece<P>[] {
  const { uid, version, organizer, url, stampMs } = source;
  const facts = occurrence?.facts ?? version.facts;
  const isCancelled = method === 'CANCEL' || version.calledOff || (occurrence?.calledOff ?? false);
  const { entry } = facts;
  const categories = entry.categories.length ? entry.categories : facts.topics;
  return [
    'BEGIN:VEVENT\r\n' +
      writeContentLine('UID', uid) +
      `DTSTAMP:${writeUtc(stampMs)}\r\nSEQUENCE:${version.sequence}\r\n` +
      (occurrence ? writeMoment('RECURRENCE-ID', [occurrence.at], version.facts) : '') +
      writeSpan(facts) +
      (occurrence ? '' : writeRepeats(version.facts, method)) +
      writeContentLine('SUMMARY', writeText(facts.title)),
    organizer.emailOf ? (person) => writeOrganizer(organizer, person) : writeOrganizer(organizer, null),
    ...writeAttendees(source, method),
    ...writeTexts(source, facts),
    optional('LOCATION', facts.venue || facts.joinLink) +
      (url ? writeContentLine('URL', url) : '') +
      // RFC 7986 §5.11: the address to join, for calendars that show a button for it.
      (facts.joinLink ? writeContentLine('CONFERENCE', facts.joinLink, { VALUE: 'URI', LABEL: 'Join' }) : '') +
      (entry.position ? `GEO:${entry.position.latitude};${entry.position.longitude}\r\n` : '') +
      (entry.imageUrl ? writeContentLine('IMAGE', entry.imageUrl, { VALUE: 'URI', DISPLAY: 'FULLSIZE' }) : '') +
      (entry.colour ? `COLOR:${entry.colour}\r\n` : '') +
      (categories.length ? writeContentLine('CATEGORIES', categories.map(writeText).join(',')) : '') +
      `CLASS:${entry.isPrivate ? 'PRIVATE' : 'PUBLIC'}\r\n` +
      `STATUS:${isCancelled ? 'CANCELLED' : 'CONFIRMED'}\r\n` +
      `TRANSP:${isCancelled || !entry.isBusy ? 'TRANSPARENT' : 'OPAQUE'}\r\n` +
      (isCancelled ? '' : entry.alarmsMinutes.map((minutes, index) => writeAlarm(source, minutes, index)).join('')) +
      'END:VEVENT\r\n',
  ];
}

function writeSpan({ span, zone, endZone }: EventFacts): string {
  if (span.kind === 'all-day') {
    // §3.6.1: the end of an all-day event is the day after its last.
    const end = writeDay(addDays(span.lastDay, 1));
    return `DTSTART;VALUE=DATE:${writeDay(span.firstDay)}\r\nDTEND;VALUE=DATE:${end}\r\n`;
  }
  const { startMs, endMs } = instantsOf({ span, zone, endZone });
  // §3.3.5: a local reading that comes twice means the first, so the second is said in UTC.
  const write = (name: string, wall: string, tzid: string, atMs: EpochMs, inUtc: boolean): string =>
    inUtc ? `${name}:${writeUtc(atMs)}\r\n` : writeContentLine(name, writeWallTime(wall), { TZID: tzid });
  return (
    write('DTSTART', span.start, zone, startMs, isAgain(span, 'start')) +
    write('DTEND', span.end, endZone || zone, endMs, isAgain(span, 'end'))
  );
}

/** The rule, dates beside it, and dates left out (§3.8.5). */
function writeRepeats(facts: EventFacts, method: Method): string {
  const { series, span, zone } = facts;
  if (!series || method === 'CANCEL') return '';
  const rule = ruleOf(facts);
  const form = span.kind === 'timed' ? ({ kind: 'utc', zone } as const) : ({ kind: 'date' } as const);
  const left = series.exceptions.filter((change) => !isWritten(change)).map(({ at }) => at);
  return (
    (rule ? foldLine(`RRULE:${writeRule(rule, form)}`) : '') +
    writeMoment('RDATE', series.added, facts) +
    writeMoment('EXDATE', left, facts)
  );
}

/** Starts of a series in its own form: local time with the zone, or days. */
export function writeMoment(
  name: string,
  starts: readonly string[],
  { span, zone }: { span: Span; zone: string },
): string {
  if (starts.length === 0) return '';
  return writeContentLine(
    name,
    starts.map(keyOf).join(','),
    span.kind === 'timed' ? { TZID: zone } : { VALUE: 'DATE' },
  );
}

/** PUBLISH has no attendees (RFC 5546 §3.2.1). Otherwise the person it goes to, and others only where all may see all. */
function writeAttendees<P extends CalendarPerson>({ version, guests }: CalendarSource<P>, method: Method): Piece<P>[] {
  if (method === 'PUBLISH') return [];
  const { asksReply } = version.facts.entry;
  const start = 'ATTENDEE;CUTYPE=INDIVIDUAL;ROLE=REQ-PARTICIPANT';
  const coming = `${start};PARTSTAT=ACCEPTED`;
  const asked = method === 'REQUEST' ? `${start};PARTSTAT=NEEDS-ACTION;RSVP=${asksReply ? 'TRUE' : 'FALSE'}` : start;
  const own: Piece<P> = (person) => (person ? writeAttendee(person.isComing ? coming : asked, person) : '');
  if (guests.length === 0) return [own];
  const others = (person: P | null): string =>
    guests
      .filter(({ email }) => email !== person?.email)
      .map((guest) => writeAttendee(`${start};PARTSTAT=${guest.state.toUpperCase()}`, guest))
      .join('');
  return [own, others];
}

const writeAttendee = (start: string, { name, email }: CalendarPerson): string =>
  foldLine(`${start}${name && `;CN=${writeParam(name)}`}:${writeMailto(email)}`);

function writeTexts<P extends CalendarPerson>(
  { textOf, isTextPersonal }: CalendarSource<P>,
  facts: EventFacts,
): Piece<P>[] {
  const write = (person: P | null): string => {
    const { plain, styled } = textOf(facts, person);
    if (!styled) return optional('DESCRIPTION', plain);
    // RFC 9073 §6.5: the styled text is the one that was written, the plain one is made from it.
    return (
      writeContentLine('STYLED-DESCRIPTION', writeText(styled), { VALUE: 'TEXT', FMTTYPE: 'text/html' }) +
      (plain ? writeContentLine('DESCRIPTION', writeText(plain), { DERIVED: 'TRUE' }) : '')
    );
  };
  return [isTextPersonal ? write : write(null)];
}

function writeAlarm({ uid, version }: Pick<CalendarSource, 'uid' | 'version'>, minutes: number, index: number): string {
  return (
    'BEGIN:VALARM\r\n' +
    // RFC 9074 §4: a stable name, so that a person's own change to the alarm survives an update.
    writeContentLine('UID', `alarm-${index ? `${index + 1}-` : ''}${uid}`) +
    `ACTION:DISPLAY\r\nTRIGGER:${minutes ? `-PT${minutes}M` : 'PT0S'}\r\n` +
    writeContentLine('DESCRIPTION', writeText(version.facts.title)) +
    'END:VALARM\r\n'
  );
}

/** Where answers go: to this person's own address, where everybody has one. */
export function writeOrganizer<P>({ name, email, emailOf }: Organizer<P>, person: P | null): string {
  const address = person && emailOf ? emailOf(person) : email;
  return writeContentLine('ORGANIZER', writeMailto(address), name ? { CN: name } : {});
}

const optional = (name: string, text: string): string => (text ? writeContentLine(name, writeText(text)) : '');
