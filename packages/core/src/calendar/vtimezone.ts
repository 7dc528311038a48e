import { writeWallTime } from '../time/formats';
import { wallTimeAt } from '../time/wall-time';
import { offsetMinutesAt, transitionBefore, transitionsBetween, type EpochMs, type Transition } from '../time/zone';
import { foldLine } from './content-line';
import { writeOffset } from './values';

/**
 * A VTIMEZONE (RFC 5545 §3.6.5) true for every instant from `fromMs` to `toMs`: the observance in force at the start,
 * and one more for each change of offset inside. A one-off event therefore carries one or two, never a rule that a
 * later government may change.
 */
export function writeTimeZone(zone: string, fromMs: EpochMs, toMs: EpochMs): string {
  const first = transitionBefore(zone, fromMs) ?? unchanging(zone, fromMs);
  let text = `BEGIN:VTIMEZONE\r\n${foldLine(`TZID:${zone}`)}`;
  for (const transition of [first, ...transitionsBetween(zone, fromMs, toMs)])
    text += writeObservance(zone, transition);
  return `${text}END:VTIMEZONE\r\n`;
}

function unchanging(zone: string, atMs: EpochMs): Transition {
  const minutes = offsetMinutesAt(zone, atMs);
  return { atMs: 0, fromMinutes: minutes, toMinutes: minutes };
}

function writeObservance(zone: string, { atMs, fromMinutes, toMinutes }: Transition): string {
  const kind = isSummer(zone, atMs, toMinutes) ? 'DAYLIGHT' : 'STANDARD';
  // §3.6.5: the onset is local time as it was before the change, so that TZOFFSETFROM turns it into UTC.
  const onset = writeWallTime(wallTimeAt(atMs + fromMinutes * 60_000, 'UTC'));
  return (
    `BEGIN:${kind}\r\nDTSTART:${onset}\r\n` +
    `TZOFFSETFROM:${writeOffset(fromMinutes)}\r\nTZOFFSETTO:${writeOffset(toMinutes)}\r\n` +
    `TZNAME:${abbreviate(toMinutes)}\r\nEND:${kind}\r\n`
  );
}

/** Only a label: readers take the offset from TZOFFSETTO. Summer is the higher of the two offsets around the change. */
function isSummer(zone: string, atMs: EpochMs, minutes: number): boolean {
  const halfYearMs = 182 * 86_400_000;
  return minutes > Math.min(offsetMinutesAt(zone, atMs + halfYearMs), offsetMinutesAt(zone, atMs - halfYearMs));
}

/** The tz database's own style for zones without letters: `+01`, `-0930`. */
const abbreviate = (minutes: number): string => writeOffset(minutes).replace(/00$/, '');
