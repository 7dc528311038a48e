import ICAL from 'ical.js';
import { simpleParser, type ParsedMail } from 'mailparser';
import type { MailStore } from './mail-store';

/** An entry as this person's calendar program understands it: read by an independent library, never by Convite's own. */
export interface CalendarEntry {
  readonly uid: string;
  readonly sequence: number;
  readonly title: string;
  readonly place: string;
  readonly start: string;
  readonly end: string;
  readonly zone: string;
  readonly status: string;
  readonly description: string;
}

export function calendarTextOf(mail: ParsedMail): string {
  return mail.attachments.find(({ contentType }) => contentType === 'text/calendar')?.content.toString('utf8') ?? '';
}

/** The calendar of a mailbox: every calendar message applied in the order it came, one entry for each UID. */
export async function readCalendar(store: MailStore, address: string): Promise<CalendarEntry[]> {
  const entries = new Map<string, CalendarEntry>();
  for (const { id, method } of store.messages(address)) {
    if (!method) continue;
    const text = calendarTextOf(await simpleParser(await store.raw(id)));
    const event = text && eventOf(text);
    if (!event) continue;
    const entry = entryOf(event, method);
    const held = entries.get(entry.uid);
    // RFC 5546 §2.1.5: an older revision that arrives late changes nothing.
    if (!held || entry.sequence >= held.sequence) entries.set(entry.uid, entry);
  }
  return [...entries.values()].sort((a, b) => a.start.localeCompare(b.start));
}

export function eventOf(text: string): ICAL.Component | null {
  return new ICAL.Component(ICAL.parse(text)).getFirstSubcomponent('vevent');
}

function entryOf(component: ICAL.Component, method: string): CalendarEntry {
  const event = new ICAL.Event(component);
  return {
    uid: event.uid,
    sequence: event.sequence ?? 0,
    title: event.summary ?? '',
    place: event.location ?? '',
    start: event.startDate.toString(),
    end: event.endDate.toString(),
    zone: event.startDate.isDate ? 'all day' : (event.startDate.zone?.tzid ?? ''),
    status: method === 'CANCEL' ? 'CANCELLED' : String(component.getFirstPropertyValue('status') ?? 'CONFIRMED'),
    description: event.description ?? '',
  };
}

/** The REPLY that a calendar program writes (RFC 5546 §3.2.3), and where it goes. */
export function writeReply(
  request: string,
  address: string,
  state: string,
  comment: string,
  now: Date,
): { to: string; subject: string; calendar: string } | null {
  const event = eventOf(request);
  const organizer = event?.getFirstPropertyValue('organizer');
  if (!event || typeof organizer !== 'string') return null;
  const reply = new ICAL.Component('vevent');
  for (const name of ['uid', 'sequence', 'dtstart', 'dtend', 'summary', 'organizer', 'recurrence-id']) {
    const property = event.getFirstProperty(name);
    if (property) reply.addProperty(property);
  }
  reply.updatePropertyWithValue('dtstamp', ICAL.Time.fromJSDate(now, true));
  const attendee = new ICAL.Property('attendee');
  attendee.setParameter('partstat', state.toUpperCase());
  attendee.setValue(`mailto:${address}`);
  reply.addProperty(attendee);
  if (comment) reply.addPropertyWithValue('comment', comment);
  const calendar = new ICAL.Component('vcalendar');
  calendar.updatePropertyWithValue('prodid', '-//Stand-in//Calendar of a person//EN');
  calendar.updatePropertyWithValue('version', '2.0');
  calendar.updatePropertyWithValue('method', 'REPLY');
  calendar.addSubcomponent(reply);
  const title = event.getFirstPropertyValue('summary');
  return {
    to: organizer.replace(/^mailto:/i, ''),
    subject: `${state}: ${typeof title === 'string' ? title : ''}`,
    calendar: `${calendar.toString()}\r\n`,
  };
}
