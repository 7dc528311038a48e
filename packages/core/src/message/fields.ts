import { instantsOf, isAgain, timedSpan, type EventFacts } from '../event/event';
import { registrationEndsMs } from '../event/registration';
import { sayRepeats } from '../event/series';
import { plainManner } from '../time/manner';
import { addDays, daysApart, readingAt, type Day } from '../time/wall-time';
import {
  sayAgain,
  sayClock,
  sayDay,
  sayDayOfWeek,
  sayDaysAway,
  sayInstant,
  sayLongDay,
  sayTime,
  sayZone,
  wordsOf,
} from '../time/say';
import { canonicalZone } from '../time/zone-names';
import { withoutAddresses } from './plain-words';

/** The merge fields a wording may use, each with what it writes. */
export const mergeFields = {
  'person.name': 'the person’s name',
  'person.firstName': 'the first word of the name',
  'person.lastName': 'the last word of the name',
  'event.title': 'the title',
  'event.when': 'day, time and zone; with the person’s own time when they live in another zone',
  'event.date': 'the day it begins',
  'event.longDate': 'the day it begins, written out',
  'event.weekday': 'on which day of the week',
  'event.inDays': 'how far off: in 3 days, tomorrow, today',
  'event.time': 'the time it begins, with the zone',
  'event.clock': 'the time it begins, without the zone',
  'event.place': 'the venue, or the join link',
  'event.joinLink': 'the address to join online',
  'event.description': 'the description',
  'event.notes': 'the person’s own note at this event, where each has their own',
  'event.registrationEnds': 'until when people can register; empty where they cannot',
  'event.placeKeptUntil': 'until when a place that became free is kept for whoever waited for it; empty elsewhere',
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
/** Of an event, what says when it is. */
export type WhenFacts = Pick<EventFacts, 'span' | 'zone' | 'endZone'>;

/**
 * Fields that say the same, longer or shorter: where one stands, any of its kind may stand instead.
 * @returns those of its kind, itself among them; empty for one that says it in one way alone
 */
export const formatsOf = (field: string): readonly FieldName[] =>
  kinds.find((kind) => kind.some((one) => one === field)) ?? [];
const kinds: readonly (readonly FieldName[])[] = [
  ['person.name', 'person.firstName', 'person.lastName'],
  ['event.when', 'event.date', 'event.longDate', 'event.weekday', 'event.inDays', 'event.time', 'event.clock'],
];

/**
 * The fields of an event as one person reads them.
 * @param personZone may be empty
 * @param manner how they read days and times
 * @param atMs when they read it: "tomorrow" is counted from there, in the event's own zone
 */
export function eventFields(facts: EventFacts, personZone: string, manner = plainManner, atMs?: number): FieldValues {
  const { startMs } = instantsOf(facts);
  const endsMs = registrationEndsMs({ facts, startMs });
  const { allDay, timeOf } = wordsOf(manner);
  const city = sayZone(facts.zone);
  const firstDay = facts.span.kind === 'all-day' ? facts.span.firstDay : facts.span.start.slice(0, 10);
  const today = atMs === undefined ? null : readingAt(atMs, facts.zone).wall.slice(0, 10);
  return {
    'event.title': facts.title,
    'event.when': sayWhen(facts, personZone, manner),
    'event.date': sayDay(firstDay, manner),
    'event.longDate': sayLongDay(firstDay, manner),
    'event.weekday': sayDayOfWeek(firstDay, manner),
    'event.inDays': today === null ? '' : sayDaysAway(daysApart(today, firstDay), manner),
    'event.time': facts.span.kind === 'all-day' ? allDay : `${sayTime(startMs, facts.zone, manner)}${timeOf(city)}`,
    'event.clock': facts.span.kind === 'all-day' ? allDay : sayTime(startMs, facts.zone, manner),
    'event.place': facts.venue || facts.joinLink,
    'event.joinLink': facts.joinLink,
    'event.description': facts.description,
    'event.registrationEnds': endsMs === null ? '' : sayUntil(endsMs, facts.zone, manner),
    'event.repeats': sayRepeats(facts),
  };
}

/** An instant in the zone of an event, by day, clock and city. */
export function sayUntil(atMs: number, zone: string, manner = plainManner): string {
  const { wall, isAgain: isSecond } = readingAt(atMs, zone);
  const time = sayClock(wall.slice(11), manner) + sayAgain(isSecond, manner);
  return `${sayDay(wall.slice(0, 10), manner)} ${time}${wordsOf(manner).timeOf(sayZone(zone))}`;
}

/** The fields of a person. */
export function personFields(name: string): FieldValues {
  // A name may come from a form or a file of strangers: nothing in it becomes a link.
  const safe = withoutAddresses(name);
  const words = safe.split(' ');
  return {
    'person.name': safe,
    'person.firstName': words[0] ?? '',
    'person.lastName': words.length > 1 ? (words.at(-1) ?? '') : '',
  };
}

/**
 * When an event is, for one reader: people cannot do time-zone arithmetic in their heads, so a person elsewhere also
 * reads their own clock.
 * @example 'Fri 27 Nov 2026 20:30 to 23:00 Lisbon time (for you: Fri 27 Nov 2026 15:30 New York)'
 */
export function sayWhen(facts: WhenFacts, zoneOfPerson: string, manner = plainManner): string {
  const { span, zone } = facts;
  const { toDay, toTime, timeOf, forYou } = wordsOf(manner);
  const day = (one: Day): string => sayDay(one, manner);
  if (span.kind === 'all-day')
    return span.firstDay === span.lastDay ? day(span.firstDay) : `${day(span.firstDay)} ${toDay} ${day(span.lastDay)}`;
  const { startMs } = instantsOf(facts);
  const [startDay, endDay] = [span.start.slice(0, 10), span.end.slice(0, 10)];
  const startTime = sayClock(span.start.slice(11), manner) + sayAgain(isAgain(span, 'start'), manner);
  const endTime = sayClock(span.end.slice(11), manner) + sayAgain(isAgain(span, 'end'), manner);
  // A night that ends in the small hours is still one evening to its guests.
  const isOneEvening = endDay === startDay || (endDay === addDays(startDay, 1) && span.end.slice(11) < '06:00');
  const end = isOneEvening ? `${toTime} ${endTime}` : `${toDay} ${day(endDay)} ${endTime}`;
  const isElsewhere = facts.endZone !== '' && facts.endZone !== zone;
  const [startOf, endOf] = isElsewhere
    ? [timeOf(sayZone(zone)), timeOf(sayZone(facts.endZone))]
    : ['', timeOf(sayZone(zone))];
  const here = `${day(startDay)} ${startTime}${startOf} ${end}${endOf}`;
  const personZone = canonicalZone(zoneOfPerson);
  return personZone !== null && livesElsewhere(facts, personZone)
    ? `${here} (${forYou}: ${sayInstant(startMs, personZone, manner)})`
    : here;
}

/** Do clocks where somebody lives show another time than the event's, at its start or at its end? Whole days are the same everywhere. */
export function livesElsewhere(facts: WhenFacts, zoneOfPerson: string): boolean {
  const there = canonicalZone(zoneOfPerson);
  if (there === null || facts.span.kind === 'all-day') return false;
  const { startMs, endMs } = instantsOf(facts);
  return [startMs, endMs].some((atMs) => sayTime(atMs, there) !== sayTime(atMs, facts.zone));
}

/**
 * When an event is by the clock of another zone alone, as a calendar there shows it. Whole days are the same everywhere.
 * @example sayWhenIn(facts, 'America/Sao_Paulo') //=> 'Fri 27 Nov 2026 17:30 to 20:00 Sao Paulo time'
 */
export function sayWhenIn(facts: EventFacts, zoneThere: string, manner = plainManner): string {
  const zone = canonicalZone(zoneThere);
  if (facts.span.kind === 'all-day' || zone === null) return sayWhen(facts, '', manner);
  const { startMs, endMs } = instantsOf(facts);
  const there = { zone, endZone: '' };
  return sayWhen({ ...facts, ...there, span: timedSpan(startMs, endMs, there) }, '', manner);
}
