import { instantsOf, type EventFacts } from '../event/event';
import { sayDay, sayInstant, sayZone } from '../time/say';
import { addDays, resolveWallTime, wallTimeAt, type Day } from '../time/wall-time';
import { offsetMinutesAt, type EpochMs } from '../time/zone';
import { canonicalZone } from '../time/zone-names';
import { readLink, type LinkTime, type LinkValue, type ReadLink } from './read-link';

/** What can be wrong with a link. The sentence is made elsewhere. */
export type LinkFault =
  | 'not-a-link'
  | 'missing'
  | 'differs'
  | 'raw-space'
  | 'plus-ambiguous'
  | 'double-encoded'
  | 'not-decodable'
  | 'cut'
  | 'field-unfilled'
  | 'time-unreadable'
  | 'no-zone'
  | 'unknown-zone'
  | 'wrong-offset'
  | 'local-as-utc'
  | 'end-before-start'
  | 'all-day-end-off'
  | 'not-all-day';

/** One line of the comparison: what the link says, what the event says, and what is wrong. */
export interface LinkLine {
  readonly part: 'title' | 'start' | 'end' | 'zone' | 'place' | 'description' | 'link';
  readonly says: string;
  readonly should: string;
  readonly faults: readonly LinkFault[];
}

export interface LinkTest {
  readonly link: ReadLink | null;
  readonly lines: readonly LinkLine[];
  readonly isGood: boolean;
}

/**
 * Holds a link against the event, line by line. Faults of encoding are named where they stand; a time is right when it
 * names the same instant, however it is written.
 */
export function testLink(text: string, facts: EventFacts): LinkTest {
  const link = readLink(text);
  if (!link) {
    const lines = [{ part: 'link', says: text.trim().slice(0, 200), should: '', faults: ['not-a-link'] }] as const;
    return { link, lines, isGood: false };
  }
  const lines: LinkLine[] = [
    ...wholeFaults(text.trim()),
    textLine('title', link, facts.title),
    timeLine('start', link, facts),
    timeLine('end', link, facts),
    zoneLine(link, facts),
    textLine('place', link, facts.venue || facts.joinLink),
    textLine('description', link, facts.description),
  ];
  return { link, lines, isGood: lines.every(({ faults }) => faults.length === 0) };
}

/** Browsers forgive a raw space; mail programs end the link there. */
function wholeFaults(text: string): LinkLine[] {
  return /\s/.test(text) ? [{ part: 'link', says: text.slice(0, 200), should: '', faults: ['raw-space'] }] : [];
}

function textLine(part: 'title' | 'place' | 'description', link: ReadLink, should: string): LinkLine {
  const value = link.values.find((one) => one.part === part);
  const says = value?.text ?? '';
  const faults = value
    ? [...encodingFaults(value, should), ...contentFaults(says, should, part)]
    : should
      ? ['missing' as const]
      : [];
  return { part, says, should, faults };
}

/** @param should what the event says: what looks like a fault and stands in the event is none */
function encodingFaults({ raw, text }: LinkValue, should: string): LinkFault[] {
  const faults: LinkFault[] = [];
  // A form reader takes `+` for a space, others show it: a space belongs as %20, a plus as %2B.
  if (raw.includes('+')) faults.push('plus-ambiguous');
  if (/%(?![0-9A-Fa-f]{2})/.test(raw)) faults.push('not-decodable');
  if (text === should) return faults;
  if (/%25[0-9A-Fa-f]{2}/.test(raw) && /%[0-9A-Fa-f]{2}/.test(text)) faults.push('double-encoded');
  if (!faults.includes('not-decodable') && (/\uFFFD/.test(raw + text) || /%[89A-F][0-9A-F]/i.test(text)))
    faults.push('not-decodable');
  if (/\{\{[^}]*\}?\}?|\{[\w.,?&+#;/*:]*\}?/.test(text)) faults.push('field-unfilled');
  return faults;
}

function contentFaults(says: string, should: string, part: string): LinkFault[] {
  // Calendars show the tags of a description as what they mean, and those of a title as they stand.
  const clean = part === 'description' ? withoutTags : tidy;
  const [is, wanted] = [clean(says), clean(should)];
  if (is === wanted) return [];
  if (!is) return wanted ? ['missing'] : [];
  const bare = is.replace(/(\.\.\.|…)$/, '').trimEnd();
  if (bare.length >= 4 && wanted.startsWith(bare)) return ['cut'];
  // What stands around the description, such as the page's address, is welcome.
  return part === 'description' && is.includes(wanted) ? [] : ['differs'];
}

const tidy = (text: string): string => text.replace(/\s+/g, ' ').trim();
const withoutTags = (text: string): string => tidy(text.replace(/<br\s*\/?>/gi, '\n').replace(/<[^<>]+>/g, ''));

function zoneLine(link: ReadLink, facts: EventFacts): LinkLine {
  const needsZone = [link.start, link.end].some((time) => time?.kind === 'local');
  const faults: LinkFault[] = [];
  if (needsZone && !link.zone) faults.push('no-zone');
  if (link.zone && canonicalZone(link.zone) === null) faults.push('unknown-zone');
  return { part: 'zone', says: link.zone, should: facts.span.kind === 'timed' ? facts.zone : '', faults };
}

function timeLine(part: 'start' | 'end', link: ReadLink, facts: EventFacts): LinkLine {
  const time = link[part];
  const { startMs, endMs } = instantsOf(facts);
  const zone = part === 'end' ? facts.endZone || facts.zone : facts.zone;
  const wantedMs = part === 'start' ? startMs : endMs;
  const unread = link.values.find((value) => value.part === part);
  const byDuration = part === 'end' && !time && !unread ? endByDuration(link, facts) : null;
  if (byDuration) return byDuration;
  if (facts.span.kind === 'all-day') {
    const exclusive = addDays(facts.span.lastDay, 1);
    const should = part === 'start' ? facts.span.firstDay : exclusive;
    return {
      part,
      says: time ? sayLinkTime(time, zone) : (unread?.text ?? ''),
      should: part === 'start' ? sayDay(should) : `${sayDay(facts.span.lastDay)}, written as the day after`,
      faults: time ? dayFaults(part, time, should, facts.span.lastDay, zone) : [unread ? 'time-unreadable' : 'missing'],
    };
  }
  const linkZone = canonicalZone(link.zone) ?? facts.zone;
  const should = sayInstant(wantedMs, zone);
  if (!time) return { part, says: unread?.text ?? '', should, faults: [unread ? 'time-unreadable' : 'missing'] };
  const faults = timeFaults(time, wantedMs, zone, linkZone);
  // The `+` of an offset must be %2B, or it arrives as a space.
  if (unread?.raw.includes('+')) faults.push('plus-ambiguous');
  if (part === 'end' && link.start && linkInstant(time, linkZone) <= linkInstant(link.start, linkZone))
    faults.push('end-before-start');
  return { part, says: sayLinkTime(time, linkZone), should, faults };
}

/** A link may say how long instead of until when; an all-day one in whole days. */
function endByDuration({ durationMinutes, values }: ReadLink, facts: EventFacts): LinkLine | null {
  if (durationMinutes === null) return null;
  const says = values.find(({ part }) => part === 'duration')?.text ?? '';
  const { startMs, endMs } = instantsOf(facts);
  const { span, zone, endZone } = facts;
  const isAllDay = span.kind === 'all-day';
  const minutes = isAllDay
    ? (Date.parse(span.lastDay) - Date.parse(span.firstDay)) / 60_000 + 1440
    : Math.round((endMs - startMs) / 60_000);
  return {
    part: 'end',
    says,
    should: isAllDay ? sayDay(span.lastDay) : sayInstant(endMs, endZone || zone),
    faults: durationMinutes === minutes ? [] : ['differs'],
  };
}

function dayFaults(part: 'start' | 'end', time: LinkTime, should: Day, lastDay: Day, zone: string): LinkFault[] {
  if (time.kind !== 'day') {
    const day = wallTimeAt(linkInstant(time, zone), zone).slice(0, 10);
    return day === should ? ['not-all-day'] : ['not-all-day', 'differs'];
  }
  if (time.day === should) return [];
  return part === 'end' && time.day === lastDay ? ['all-day-end-off'] : ['differs'];
}

function timeFaults(time: LinkTime, wantedMs: EpochMs, zone: string, linkZone: string): LinkFault[] {
  if (time.kind === 'day') return ['differs'];
  if (linkInstant(time, linkZone) === wantedMs) return [];
  const wall = wallTimeAt(wantedMs, zone);
  // The right clock reading under the wrong sign is the most common fault of all.
  if (time.kind === 'utc' && new Date(time.atMs).toISOString().startsWith(wall)) return ['local-as-utc'];
  if (time.kind === 'offset' && time.wall === wall && time.offsetMinutes !== offsetMinutesAt(zone, wantedMs))
    return ['wrong-offset'];
  return ['differs'];
}

function linkInstant(time: LinkTime, zone: string): EpochMs {
  if (time.kind === 'day') return resolveWallTime(`${time.day}T00:00`, zone);
  return time.kind === 'local' ? resolveWallTime(time.wall, zone) + time.seconds * 1000 : time.atMs;
}

function sayLinkTime(time: LinkTime, zone: string): string {
  switch (time.kind) {
    case 'day':
      return sayDay(time.day);
    case 'local':
      return `${sayDay(time.wall.slice(0, 10))} ${time.wall.slice(11)}, clock of ${sayZone(zone)}`;
    case 'utc':
      return `${sayInstant(time.atMs, 'UTC')} = ${sayInstant(time.atMs, zone)}`;
    case 'offset':
      return `${sayDay(time.wall.slice(0, 10))} ${time.wall.slice(11)} at UTC${sayOffset(time.offsetMinutes)} = ${sayInstant(time.atMs, zone)}`;
  }
}

const sayOffset = (minutes: number): string => {
  const size = Math.abs(minutes);
  return `${minutes < 0 ? '−' : '+'}${String(Math.floor(size / 60)).padStart(2, '0')}:${String(size % 60).padStart(2, '0')}`;
};
