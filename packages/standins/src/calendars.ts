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
  /** The rule of a series, and its next dates; empty for a one-off. */
  readonly rule: string;
  readonly dates: readonly { readonly at: string; readonly recurrence: string; readonly status: string }[];
}

export function calendarTextOf(mail: ParsedMail): string {
  return mail.attachments.find(({ contentType }) => contentType === 'text/calendar')?.content.toString('utf8') ?? '';
}

/** What is held of one UID: the entry, dates that differ, and dates that were called off. */
interface Held {
  sequence: number;
  master: ICAL.Component;
  changed: ICAL.Component[];
  readonly offDates: Set<string>;
  isCancelled: boolean;
  /** When the last message about it came; dates are shown from then on. */
  at: string;
}

/** The calendar of a mailbox: every calendar message applied in the order it came, one entry for each UID. */
export async function readCalendar(store: MailStore, address: string): Promise<CalendarEntry[]> {
  const held = new Map<string, Held>();
  for (const { id, method, at } of store.messages(address)) {
    if (method !== 'REQUEST' && method !== 'CANCEL') continue;
    const text = calendarTextOf(await simpleParser(await store.raw(id)));
    if (text) apply(held, text, method, at);
  }
  return [...held.values()].map(entryOf).sort((a, b) => a.start.localeCompare(b.start));
}

function apply(held: Map<string, Held>, text: string, method: string, at: string): void {
  const events = new ICAL.Component(ICAL.parse(text)).getAllSubcomponents('vevent');
  const [first] = events;
  if (!first) return;
  const { uid, sequence } = new ICAL.Event(first);
  const known = held.get(uid);
  // RFC 5546 §2.1.5: an older revision that arrives late changes nothing.
  if (known && (sequence ?? 0) < known.sequence) return;
  const oneDate = first.getFirstPropertyValue('recurrence-id');
  if (method === 'CANCEL' && oneDate !== null && known) {
    known.offDates.add(String(oneDate));
    known.sequence = sequence ?? 0;
    return;
  }
  const master = events.find((event) => !event.hasProperty('recurrence-id')) ?? first;
  held.set(uid, {
    sequence: sequence ?? 0,
    master,
    changed: events.filter((event) => event !== master),
    offDates: new Set(),
    isCancelled: method === 'CANCEL' || master.getFirstPropertyValue('status') === 'CANCELLED',
    at,
  });
}

export function eventOf(text: string): ICAL.Component | null {
  const events = new ICAL.Component(ICAL.parse(text)).getAllSubcomponents('vevent');
  return events.find((event) => !event.hasProperty('recurrence-id')) ?? events[0] ?? null;
}

function entryOf({ master, changed, sequence, isCancelled, offDates, at }: Held): CalendarEntry {
  const event = new ICAL.Event(master, { exceptions: changed, strictExceptions: false });
  return {
    uid: event.uid,
    sequence,
    title: event.summary ?? '',
    place: event.location ?? '',
    start: event.startDate.toString(),
    end: event.endDate.toString(),
    zone: event.startDate.isDate ? 'all day' : (event.startDate.zone?.tzid ?? ''),
    status: isCancelled ? 'CANCELLED' : String(master.getFirstPropertyValue('status') ?? 'CONFIRMED'),
    description: event.description ?? '',
    rule: String(master.getFirstPropertyValue('rrule') ?? ''),
    dates: event.isRecurring() ? datesOf(event, offDates, at.slice(0, 10)) : [],
  };
}

const mostDates = 8;
const mostLooked = 1000;

/** The dates of a series from a day on, moved ones where they are now. */
function datesOf(event: ICAL.Event, offDates: ReadonlySet<string>, from: string): CalendarEntry['dates'] {
  const dates: { at: string; recurrence: string; status: string }[] = [];
  const iterator = event.iterator();
  for (let looked = 0; looked < mostLooked && dates.length < mostDates; looked += 1) {
    const next = iterator.next() as ICAL.Time | undefined;
    if (!next) break;
    const { startDate, recurrenceId } = event.getOccurrenceDetails(next);
    if (String(startDate) < from) continue;
    const recurrence = String(recurrenceId);
    dates.push({ at: String(startDate), recurrence, status: offDates.has(recurrence) ? 'CANCELLED' : 'CONFIRMED' });
  }
  return dates;
}
