import {
  readContentLine,
  readRule,
  sayDay,
  sayInstant,
  sayMinutes,
  sayRule,
  sayZone,
  type ConformanceRule,
  type LinkFault,
} from '@convite/core';

/** What each check of a calendar text asks. */
export const conformanceWords: Readonly<Record<ConformanceRule, string>> = {
  readable: 'Every line can be read',
  'line-length': 'No line is longer than 75 octets',
  'line-ends': 'Lines end with CRLF',
  'calendar-properties': 'Says who made it, which version of the standard, and what it asks',
  'event-properties': 'Has an identifier, a stamp and a sequence',
  'one-uid': 'All parts carry one identifier and one sequence',
  'end-after-start': 'The end comes after the start, and is of its kind',
  'zones-defined': 'Every zone it names is described in it, and none too many',
  'zones-true': 'The zones hold the offsets of the tz database, around every clock change',
  'rule-valid': 'The rule can be read, and the start is one of its dates',
  'dates-of-series': 'Changed dates are dates of the series',
  'method-properties': 'Holds what its method asks for, each once, and nothing that it forbids',
  people: 'People are named by their email addresses',
  'text-escaped': 'Texts are escaped as the standard asks',
  alarms: 'Alarms are whole',
};

/** What a fault of a link is, and what to do. */
export const linkFaultWords: Readonly<Record<LinkFault, string>> = {
  'not-a-link': 'This is no web address.',
  missing: 'The link does not say it.',
  differs: 'The link says something else.',
  'raw-space': 'There are raw spaces in it: mail programs end the link at the first. A space is written %20.',
  'plus-ambiguous': 'A + stands for a space to some readers and for itself to others: write %20, or %2B for a plus.',
  'double-encoded': 'It was encoded twice: people will see %20 and the like.',
  'not-decodable': 'Some of it is not UTF-8: letters with accents will be broken.',
  cut: 'It is cut off.',
  'field-unfilled': 'A field was left as it was typed, in braces.',
  'time-unreadable': 'The time is in no form that calendars read.',
  'no-zone': 'The time is local, and the link does not say whose.',
  'unknown-zone': 'The zone is none that calendars know.',
  'wrong-offset': 'The clock time is right, but the offset is not the zone’s on that date.',
  'local-as-utc': 'Local time is given as UTC: people elsewhere, and here in summer, get the wrong hour.',
  'end-before-start': 'The end comes before the start.',
  'all-day-end-off': 'The last day is missing: the end of whole days is the day after the last.',
  'not-all-day': 'It gives a clock time for a whole day.',
};

const explained: Readonly<Record<string, string>> = {
  BEGIN: 'Begins a part',
  END: 'Ends a part',
  PRODID: 'Who made this text',
  VERSION: 'The version of iCalendar, always 2.0',
  CALSCALE: 'Counted by the Gregorian calendar',
  UID: 'The identifier: an update with the same one replaces the entry',
  SEQUENCE: 'The revision: a higher one replaces a lower',
  ORGANIZER: 'Who invites, and where answers go',
  SUMMARY: 'The title',
  DESCRIPTION: 'The text of the entry',
  'STYLED-DESCRIPTION': 'The same text with paragraphs and links, for calendars that show them',
  LOCATION: 'The place',
  URL: 'The page of the event',
  CONFERENCE: 'The address to join, as a button',
  CATEGORIES: 'Categories, for filters and colours',
  COLOR: 'The colour calendars may show it in',
  IMAGE: 'A picture for the entry',
  GEO: 'Latitude and longitude, for maps',
  TZID: 'The zone that the following describes',
  TZOFFSETFROM: 'Offset from UTC before the change',
  TZOFFSETTO: 'Offset from UTC from then on',
  TZNAME: 'A short name for the offset',
  ACTION: 'What the alarm does: show a notice on the device',
};

const methods: Readonly<Record<string, string>> = {
  REQUEST: 'invites, or updates an invitation',
  CANCEL: 'calls off',
  PUBLISH: 'tells, without asking anybody',
  DECLINECOUNTER: 'says no to a proposed time',
};

/** One line of iCalendar text in plain words, with what its value means. Never empty. */
export function explainLine(line: string): string {
  const read = readContentLine(line, 1);
  if (!read.ok) return 'This line cannot be read.';
  const { name, params, value } = read.value;
  switch (name) {
    case 'METHOD':
      return `What this asks of a calendar: it ${methods[value] ?? value}`;
    case 'DTSTART':
    case 'DTEND':
    case 'DTSTAMP':
    case 'RECURRENCE-ID':
      return `${times[name]}: ${sayValue(value, params['TZID'])}`;
    case 'RDATE':
    case 'EXDATE':
      return `${name === 'RDATE' ? 'Also on' : 'Not on'}: ${value
        .split(',')
        .map((one) => sayValue(one, params['TZID']))
        .join('; ')}`;
    case 'RRULE': {
      const rule = readRule(value, params['TZID'] ?? 'UTC', '');
      return `How it repeats: ${rule.ok ? sayRule(rule.value) : value}`;
    }
    case 'ATTENDEE':
      return `Who is invited: ${params['CN'] ?? value.replace(/^mailto:/i, '')}${params['RSVP'] === 'TRUE' ? ', asked for a reply' : ''}${params['PARTSTAT'] ? `, so far ${params['PARTSTAT'].toLowerCase()}` : ''}`;
    case 'TRIGGER':
      return `When the alarm rings: ${sayTrigger(value)}`;
    case 'STATUS':
      return value === 'CANCELLED' ? 'Does not take place' : 'Takes place';
    case 'TRANSP':
      return value === 'TRANSPARENT' ? 'The time stays free' : 'The time is busy';
    case 'CLASS':
      return value === 'PRIVATE' ? 'Private: others see only that the time is taken' : 'Public';
    case 'BEGIN':
      return `Begins ${parts[value] ?? value}`;
    case 'END':
      return `Ends ${parts[value] ?? value}`;
    default:
      return explained[name] ?? `${name}: ${value.slice(0, 80)}`;
  }
}

const times = {
  DTSTART: 'Begins',
  DTEND: 'Ends',
  DTSTAMP: 'Written',
  'RECURRENCE-ID': 'Instead of the date',
} as const;

const parts: Readonly<Record<string, string>> = {
  VCALENDAR: 'the calendar',
  VTIMEZONE: 'the description of a time zone',
  STANDARD: 'the time in winter, or all the year',
  DAYLIGHT: 'the time in summer',
  VEVENT: 'the entry',
  VALARM: 'an alarm',
};

function sayValue(value: string, zone: string | undefined): string {
  const [, year, month, date, hour, minute, utc] =
    /^(\d{4})(\d{2})(\d{2})(?:T(\d{2})(\d{2})\d{2}(Z?))?$/.exec(value) ?? [];
  if (!year) return value;
  const day = `${year}-${month}-${date}`;
  if (!hour) return sayDay(day);
  if (utc) return sayInstant(Date.parse(`${day}T${hour}:${minute}Z`), 'UTC');
  return `${sayDay(day)} ${hour}:${minute}${zone ? ` ${sayZone(zone)}` : ''}`;
}

function sayTrigger(value: string): string {
  const minutes = /^-PT(\d+)M$/.exec(value)?.[1];
  return minutes ? `${sayMinutes(Number(minutes))} before` : value === 'PT0S' ? 'at the start' : value;
}
