import ICAL from 'ical.js';
import { eventOf } from './calendars';

/** What a person does with an invitation in their calendar. */
export interface PersonAnswer {
  readonly state: string;
  readonly comment: string;
  /** Only this date of a series; empty for all. */
  readonly recurrence: string;
  /** For a proposal: minutes later than planned. */
  readonly shiftMinutes: number;
  /** For passing on: the other person's address. */
  readonly to: string;
  readonly now: Date;
}

export interface OutgoingAnswer {
  readonly to: string;
  readonly subject: string;
  readonly method: 'REPLY' | 'COUNTER' | 'REFRESH';
  readonly calendar: string;
}

const methods: Readonly<Record<string, OutgoingAnswer['method']>> = { counter: 'COUNTER', refresh: 'REFRESH' };

/** The message that a calendar program writes (RFC 5546 §3.2.3, §3.2.6, §3.2.7), and where it goes. */
export function writeAnswer(request: string, address: string, answer: PersonAnswer): OutgoingAnswer | null {
  const event = eventOf(request);
  const organizer = event?.getFirstPropertyValue('organizer');
  if (!event || typeof organizer !== 'string') return null;
  const method = methods[answer.state] ?? 'REPLY';
  const reply = new ICAL.Component('vevent');
  const kept = method === 'REFRESH' ? ['uid', 'organizer'] : ['uid', 'sequence', 'summary', 'organizer'];
  for (const name of [...kept, ...(method === 'REPLY' ? ['dtstart', 'dtend'] : [])]) {
    const property = event.getFirstProperty(name);
    if (property) reply.addProperty(property);
  }
  reply.updatePropertyWithValue('dtstamp', ICAL.Time.fromJSDate(answer.now, true));
  if (answer.recurrence) addTime(reply, 'recurrence-id', event, ICAL.Time.fromString(answer.recurrence, undefined));
  if (method === 'COUNTER') addProposal(reply, event, answer);
  reply.addProperty(attendeeOf(address, method, answer));
  if (answer.comment) reply.addPropertyWithValue('comment', answer.comment);
  const calendar = new ICAL.Component('vcalendar');
  calendar.updatePropertyWithValue('prodid', '-//Stand-in//Calendar of a person//EN');
  calendar.updatePropertyWithValue('version', '2.0');
  calendar.updatePropertyWithValue('method', method);
  calendar.addSubcomponent(reply);
  const title = event.getFirstPropertyValue('summary');
  return {
    to: organizer.replace(/^mailto:/i, ''),
    subject: `${answer.state}: ${typeof title === 'string' ? title : ''}`,
    method,
    calendar: `${calendar.toString()}\r\n`,
  };
}

function attendeeOf(address: string, method: string, { state, to }: PersonAnswer): ICAL.Property {
  const attendee = new ICAL.Property('attendee');
  if (method === 'REPLY') attendee.setParameter('partstat', state.toUpperCase());
  if (state === 'delegated') attendee.setParameter('delegated-to', `mailto:${to}`);
  attendee.setValue(`mailto:${address}`);
  return attendee;
}

/** The time asked for instead: the planned one, or that of the date, moved. */
function addProposal(reply: ICAL.Component, event: ICAL.Component, { recurrence, shiftMinutes }: PersonAnswer): void {
  const planned = new ICAL.Event(event);
  const start = recurrence ? ICAL.Time.fromString(recurrence, undefined) : planned.startDate.clone();
  const shift = ICAL.Duration.fromSeconds(shiftMinutes * 60);
  start.addDuration(shift);
  const end = start.clone();
  end.addDuration(planned.duration);
  addTime(reply, 'dtstart', event, start);
  addTime(reply, 'dtend', event, end);
}

/** A time as local time in the zone of the entry. */
function addTime(reply: ICAL.Component, name: string, event: ICAL.Component, time: ICAL.Time): void {
  const property = new ICAL.Property(name);
  const zone = event.getFirstProperty('dtstart')?.getFirstParameter('tzid');
  const isUtc = time.zone === ICAL.Timezone.utcTimezone;
  if (time.isDate) property.resetType('date');
  else if (zone && !isUtc) property.setParameter('tzid', zone);
  property.setValue(time);
  reply.addProperty(property);
}
