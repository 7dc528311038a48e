import type { EventFacts } from '../event/event';
import { extentOf, type Occurrence } from '../event/occurrences';
import { writeUtc } from '../time/formats';
import { resolveWallTime } from '../time/wall-time';
import type { EpochMs } from '../time/zone';
import { foldLine, writeContentLine } from './content-line';
import { writeMailto, writeText } from './values';
import { writeTimeZone } from './vtimezone';
import {
  productLines,
  writeComponent,
  writeComponents,
  writeMoment,
  writeOrganizer,
  type CalendarPerson,
  type CalendarSource,
  type EntryText,
  type Method,
  type Organizer,
  type Piece,
} from './write-component';

/**
 * Prepares the iCalendar text of one version of an event (RFC 5545, RFC 5546 §3.2). What all people share is written
 * once; the function returned adds what is the person's, because thousands of personal texts differ in a line or two.
 * PUBLISH has no attendee (RFC 5546 §3.2.1): call it without one.
 * @param dates only these of a series: one that is called off, or those that a person comes to; none for the whole
 */
export function prepareCalendar<P extends CalendarPerson>(
  source: CalendarSource<P>,
  method: Method,
  dates: readonly Occurrence[] = [],
): (person?: P) => string {
  const { facts } = source.version;
  const components = dates.length
    ? dates.flatMap((date) => writeComponent(source, method, date))
    : writeComponents(source, method);
  const pieces = joinTexts<P>([
    `BEGIN:VCALENDAR\r\n${productLines}METHOD:${method}\r\n${writeZones(zoneNeeds(facts, dates))}`,
    ...components,
    'END:VCALENDAR\r\n',
  ]);
  return (person) => {
    let text = '';
    for (const piece of pieces) text += typeof piece === 'string' ? piece : piece(person ?? null);
    return text;
  };
}

/** Neighbouring shared texts as one. */
function joinTexts<P>(pieces: readonly Piece<P>[]): Piece<P>[] {
  const joined: Piece<P>[] = [];
  for (const piece of pieces) {
    const last = joined.at(-1);
    if (typeof piece === 'string' && typeof last === 'string') joined[joined.length - 1] = last + piece;
    else joined.push(piece);
  }
  return joined;
}

/** A zone and the time it is used for; without end for a series without end. */
export interface ZoneNeed {
  readonly zone: string;
  readonly fromMs: EpochMs;
  readonly toMs: EpochMs | null;
}

/** Every zone an event names, with the whole time it must be true for: also where a single date was moved. */
export function zoneNeeds(facts: EventFacts, dates: readonly Occurrence[] = []): ZoneNeed[] {
  if (facts.span.kind === 'all-day' && !facts.series?.exceptions.some(({ span }) => span?.kind === 'timed')) return [];
  const extent = dates.length ? extentOfDates(dates) : spokenExtentOf(facts);
  const zones = [...new Set([facts.zone, facts.endZone || facts.zone])];
  return zones.map((zone) => ({ zone, fromMs: extent.startMs, toMs: extent.endMs }));
}

/** From the first to the last instant that a whole event speaks of: dates that were moved are still named by where they were. */
function spokenExtentOf(facts: EventFacts): { startMs: EpochMs; endMs: EpochMs | null } {
  const { startMs, endMs } = extentOf(facts);
  const named = (facts.series?.exceptions ?? []).map(({ at }) => nameMs({ at, facts }));
  return {
    startMs: Math.min(startMs, ...named),
    endMs: endMs === null ? null : Math.max(endMs, ...named),
  };
}

/** From the first to the last instant that some dates speak of: what they are named by, when they begin, and end. */
function extentOfDates(dates: readonly Occurrence[]): { startMs: EpochMs; endMs: EpochMs } {
  const spoken = dates.flatMap((date) => [nameMs(date), date.startMs, date.endMs]);
  return { startMs: Math.min(...spoken), endMs: Math.max(...spoken) };
}

const nameMs = ({ at, facts: { zone } }: Pick<Occurrence, 'at' | 'facts'>): EpochMs =>
  resolveWallTime(at.length === 10 ? `${at}T00:00` : at, zone);

/** One VTIMEZONE for each zone, wide enough for all who need it (RFC 5545 §3.6.5: each TZID once in an object). */
export function writeZones(needs: readonly ZoneNeed[]): string {
  const wide = new Map<string, ZoneNeed>();
  for (const need of needs) {
    const known = wide.get(need.zone);
    wide.set(need.zone, {
      zone: need.zone,
      fromMs: Math.min(need.fromMs, known?.fromMs ?? need.fromMs),
      toMs: need.toMs === null || known?.toMs === null ? null : Math.max(need.toMs, known?.toMs ?? need.toMs),
    });
  }
  return [...wide.values()].map(({ zone, fromMs, toMs }) => writeTimeZone(zone, fromMs, toMs)).join('');
}

/** The description as it stands, with the join link: most calendar programs show nothing else. */
export const plainEntryText = ({ description, joinLink }: EventFacts): EntryText => ({
  plain: [description, joinLink && `Join: ${joinLink}`].filter(Boolean).join('\n\n'),
  styled: '',
});

/** Says no to another time that a person proposed (RFC 5546 §3.2.8). */
export function writeDeclineCounter<P extends CalendarPerson>(
  {
    uid,
    sequence,
    organizer,
    stampMs,
    comment,
  }: { uid: string; sequence: number; organizer: Organizer<P>; stampMs: EpochMs; comment: string },
  occurrence: Occurrence | null,
  person: P,
): string {
  return (
    `BEGIN:VCALENDAR\r\n${productLines}METHOD:DECLINECOUNTER\r\n${occurrence?.key ? zoneOfName(occurrence) : ''}BEGIN:VEVENT\r\n` +
    writeContentLine('UID', uid) +
    `DTSTAMP:${writeUtc(stampMs)}\r\nSEQUENCE:${sequence}\r\n` +
    (occurrence?.key ? writeMoment('RECURRENCE-ID', [occurrence.at], occurrence.facts) : '') +
    writeOrganizer(organizer, person) +
    foldLine(`ATTENDEE:${writeMailto(person.email)}`) +
    (comment ? writeContentLine('COMMENT', writeText(comment)) : '') +
    'END:VEVENT\r\nEND:VCALENDAR\r\n'
  );
}

/** The zone that a RECURRENCE-ID is written in; days have none. */
const zoneOfName = (date: Occurrence): string =>
  date.at.length === 10 ? '' : writeTimeZone(date.facts.zone, nameMs(date), nameMs(date));
