import type { EpochMs } from '../time/zone';
import { writeContentLine } from './content-line';
import { writeUtc } from '../time/formats';
import { writeText } from './values';
import { productLines } from './write-component';

/** Something that goes out, as a line of the team's own calendar. */
export interface ScheduleEntry {
  /** The same for as long as it is the same thing. */
  readonly uid: string;
  readonly dueMs: EpochMs;
  readonly title: string;
  readonly description: string;
  /** Where its people and words stand. */
  readonly url: string;
}

/** So long an entry is drawn: a moment has no length. */
const shownMs = 10 * 60_000;

/**
 * What goes out, as a calendar that the team subscribes to (METHOD:PUBLISH). Moments are instants, in UTC; nobody is busy for them.
 * @param stampMs when it was written (RFC 5545 §3.8.7.2)
 */
export function writeSchedule(
  { name, refreshMinutes }: { readonly name: string; readonly refreshMinutes: number },
  entries: readonly ScheduleEntry[],
  stampMs: EpochMs,
): string {
  const events = entries.map(
    ({ uid, dueMs, title, description, url }) =>
      'BEGIN:VEVENT\r\n' +
      writeContentLine('UID', uid) +
      `DTSTAMP:${writeUtc(stampMs)}\r\nDTSTART:${writeUtc(dueMs)}\r\nDTEND:${writeUtc(dueMs + shownMs)}\r\n` +
      writeContentLine('SUMMARY', writeText(title)) +
      (description ? writeContentLine('DESCRIPTION', writeText(description)) : '') +
      writeContentLine('URL', url) +
      'TRANSP:TRANSPARENT\r\nEND:VEVENT\r\n',
  );
  return (
    `BEGIN:VCALENDAR\r\n${productLines}METHOD:PUBLISH\r\n` +
    writeContentLine('NAME', writeText(name)) +
    writeContentLine('X-WR-CALNAME', writeText(name)) +
    `REFRESH-INTERVAL;VALUE=DURATION:PT${refreshMinutes}M\r\nX-PUBLISHED-TTL:PT${refreshMinutes}M\r\n` +
    events.join('') +
    'END:VCALENDAR\r\n'
  );
}
