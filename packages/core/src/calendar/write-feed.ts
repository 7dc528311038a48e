import { writeContentLine } from './content-line';
import { writeText } from './values';
import { productLines, writeComponents, type CalendarPerson, type CalendarSource } from './write-component';
import { writeZones, zoneNeeds } from './write-event';

/** An event in a feed, with the person whose feed it is; null when it is everybody's. */
export interface FeedEntry<P extends CalendarPerson> {
  readonly source: CalendarSource<P>;
  readonly reader: P | null;
}

/** A calendar that people subscribe to. */
export interface Feed<P extends CalendarPerson> {
  readonly name: string;
  /** Its own address (RFC 7986 §5.8). */
  readonly url: string;
  readonly colour: string;
  /** How often a calendar program should look again (RFC 7986 §5.7). */
  readonly refreshMinutes: number;
  readonly entries: readonly FeedEntry<P>[];
}

/**
 * A feed of several events (METHOD:PUBLISH). UIDs are those of the invitations, so a person who has both sees one entry;
 * what was called off stays, as CANCELLED, because many programs keep what merely disappears.
 */
export function writeFeed<P extends CalendarPerson>({ name, url, colour, refreshMinutes, entries }: Feed<P>): string {
  const zones = writeZones(entries.flatMap(({ source }) => zoneNeeds(source.version.facts)));
  const events = entries.flatMap(({ source, reader }) =>
    writeComponents(source, 'PUBLISH').map((piece) => (typeof piece === 'string' ? piece : piece(reader))),
  );
  return (
    `BEGIN:VCALENDAR\r\n${productLines}METHOD:PUBLISH\r\n` +
    writeContentLine('NAME', writeText(name)) +
    // Older programs know only this name for the same thing.
    writeContentLine('X-WR-CALNAME', writeText(name)) +
    writeContentLine('SOURCE', url, { VALUE: 'URI' }) +
    `REFRESH-INTERVAL;VALUE=DURATION:PT${refreshMinutes}M\r\nX-PUBLISHED-TTL:PT${refreshMinutes}M\r\n` +
    (colour ? `COLOR:${colour}\r\n` : '') +
    zones +
    events.join('') +
    'END:VCALENDAR\r\n'
  );
}
