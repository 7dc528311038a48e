import { instantsOf, isAgain, timedSpan, type EventFacts } from '../event/event';
import { registrationEndsMs } from '../event/registration';
import { sayRepeats } from '../event/series';
import { addDays } from '../time/wall-time';
import { sayAgain, sayDay, sayInstant, sayTime, sayZone } from '../time/say';
import { canonicalZone } from '../time/zone-names';
import { withoutAddresses } from './plain-words';

/** The merge fields a wording may use, each with what it writes. */
export const mergeFields = {
  'person.name': 'the person’s name',
  'person.firstName': 'the first word of the name',
  'event.title': 'the title',
  'event.when': 'day, time and zone; with the person’s own time when they live in another zone',
  'event.date': 'the day it begins',
  'event.time': 'the time it begins, with the zone',
  'event.place': 'the venue, or the join link',
  'event.joinLink': 'the address to join online',
  'event.description': 'the description',
  'event.notes': 'the person’s own note at this event, where each has their own',
  'event.registrationEnds': 'until when people can put themselves down; empty where they cannot',
  'event.repeats': 'how it repeats, in words; empty for a one-off',
  'link.event': 'address of the event page',
  'link.ics': 'address of the calendar file',
  'link.calendar': 'add-to-calendar link for the web calendar, the same for everybody',
  'link.myCalendar': 'the same made for the person, with their name and own time',
  'link.myIcs': 'address of the person’s own calendar file',
  'link.reply': 'address of the person’s own reply page',
  'link.feed': 'address of the calendar with everything the person said yes to',
  'link.optOut': 'address to opt out',
  'organisation.name': 'the organisation’s name',
} as const;
export type FieldName = keyof typeof mergeFields;
export type FieldValues = Readonly<Partial<Record<FieldName, string>>>;

/** The fields of an event as one person reads them. `personZone` may be empty. */
export function eventFields(facts: EventFacts, personZone: string): FieldValues {
  const { startMs } = instantsOf(facts);
  const endsMs = registrationEndsMs({ facts, startMs });
  const allDay = facts.span.kind === 'all-day';
  return {
    'event.title': facts.title,
    'event.when': sayWhen(facts, personZone),
    'event.date': sayDay(facts.span.kind === 'all-day' ? facts.span.firstDay : facts.span.start.slice(0, 10)),
    'event.time': allDay ? 'all day' : `${sayTime(startMs, facts.zone)} ${sayZone(facts.zone)} time`,
    'event.place': facts.venue || facts.joinLink,
    'event.joinLink': facts.joinLink,
    'event.description': facts.description,
    'event.registrationEnds': endsMs === null ? '' : `${sayInstant(endsMs, facts.zone)} time`,
    'event.repeats': sayRepeats(facts),
  };
}

/** The fields of a person. */
export const personFields = (name: string): FieldValues => ({
  // A name may come from a form or a file of strangers: nothing in it becomes a link.
  'person.name': withoutAddresses(name),
  'person.firstName': withoutAddresses(name).split(' ')[0] ?? '',
});

/**
 * When an event is, for one reader: people cannot do time-zone arithmetic in their heads, so a person elsewhere also
 * reads their own clock.
 * @example 'Fri 27 Nov 2026 20:30 to 23:00 Lisbon time (for you: Fri 27 Nov 2026 15:30 New York)'
 */
export function sayWhen(facts: EventFacts, zoneOfPerson: string): string {
  const { span, zone } = facts;
  if (span.kind === 'all-day') {
    return span.firstDay === span.lastDay
      ? sayDay(span.firstDay)
      : `${sayDay(span.firstDay)} to ${sayDay(span.lastDay)}`;
  }
  const { startMs, endMs } = instantsOf(facts);
  const [startDay, endDay] = [span.start.slice(0, 10), span.end.slice(0, 10)];
  const startTime = span.start.slice(11) + sayAgain(isAgain(span, 'start'));
  const endTime = span.end.slice(11) + sayAgain(isAgain(span, 'end'));
  // A night that ends in the small hours is still one evening to its guests.
  const end =
    endDay === startDay || (endDay === addDays(startDay, 1) && span.end.slice(11) < '06:00')
      ? endTime
      : `${sayDay(endDay)} ${endTime}`;
  const endZone = facts.endZone && facts.endZone !== zone ? ` ${sayZone(facts.endZone)} time` : '';
  const here = endZone
    ? `${sayDay(startDay)} ${startTime} ${sayZone(zone)} time to ${end}${endZone}`
    : `${sayDay(startDay)} ${startTime} to ${end} ${sayZone(zone)} time`;
  const personZone = canonicalZone(zoneOfPerson);
  if (personZone === null) return here;
  const differs =
    sayTime(startMs, personZone) !== sayTime(startMs, zone) || sayTime(endMs, personZone) !== sayTime(endMs, zone);
  return differs ? `${here} (for you: ${sayInstant(startMs, personZone)})` : here;
}

/**
 * When an event is by the clock of another zone alone, as a calendar there shows it. Whole days are the same everywhere.
 * @example sayWhenIn(facts, 'America/Sao_Paulo') //=> 'Fri 27 Nov 2026 17:30 to 20:00 Sao Paulo time'
 */
export function sayWhenIn(facts: EventFacts, zoneThere: string): string {
  const zone = canonicalZone(zoneThere);
  if (facts.span.kind === 'all-day' || zone === null) return sayWhen(facts, '');
  const { startMs, endMs } = instantsOf(facts);
  const there = { zone, endZone: '' };
  return sayWhen({ ...facts, ...there, span: timedSpan(startMs, endMs, there) }, '');
}
