import type { Problem } from '../problem';
import { entryColours, plainEntry, type Entry } from '../event/entry';
import {
  blankFacts,
  instantsOf,
  startOf,
  timedSpan,
  type EventFacts,
  type OccurrenceChange,
  type Series,
  type Span,
} from '../event/event';
import { checkEvent } from '../event/check-event';
import { spanFrom } from '../event/occurrences';
import { isWebAddress } from '../event/web-address';
import { readRule, writeRule, type Rule } from '../recurrence/rule';
import { expandRule } from '../recurrence/expand';
import { localSecondsOf } from '../recurrence/local-time';
import { replyStates, type ReplyState } from '../reply-state';
import { addDuration, type Duration } from '../time/shift';
import { addDays } from '../time/wall-time';
import { instantOf, readCalendarTime, wallIn, type CalendarTime, type ZoneFinder } from './calendar-time';
import type { ContentLine } from './content-line';
import { at, groupByUid, titleOf, type EventGroup } from './group-events';
import { propertyOf, readComponents, type Component } from './read-components';
import { zoneFinderOf } from './read-zone';
import { readDuration, readMailto, readText, readTexts } from './values';
import { bad, good, type Read } from '../problem';

/** A person named in a calendar. */
export interface ImportedPerson {
  readonly name: string;
  /** Lower case. */
  readonly email: string;
  readonly state: ReplyState;
}

/** An event as a foreign calendar gives it. */
export interface ImportedEvent {
  readonly uid: string;
  readonly lineNumber: number;
  readonly facts: EventFacts;
  readonly calledOff: boolean;
  readonly organizer: ImportedPerson | null;
  readonly attendees: readonly ImportedPerson[];
}

export interface ImportedCalendar {
  readonly name: string;
  readonly events: readonly ImportedEvent[];
  /** What could not be understood, by line. An event with a fault in what matters is not among `events` at all. */
  readonly problems: readonly Problem[];
}

const mostEvents = 20_000;
const mostDates = 500;
/** Characters of a text that are looked at; the longest kept is 10,000. */
const mostRead = 50_000;
const mostProblems = 200;

/**
 * Reads a calendar file: events, series with their exceptions, zones also under unknown names, organizer, attendees.
 * What cannot be understood is named by its line, and an event is taken whole or not at all.
 * @param houseZone zone of times that name none
 */
export function readCalendarEvents(text: string, houseZone: string): Read<ImportedCalendar> {
  const read = readComponents(text);
  if (!read.ok) return read;
  const problems: Problem[] = [];
  const events: ImportedEvent[] = [];
  const zonesOf = new Map<Component, ZoneFinder>();
  for (const calendar of read.value) {
    const zoneOf = zoneFinderOf(calendar);
    for (const component of calendar.components)
      if (component.name === 'VEVENT') zonesOf.set(component, zoneOf);
      else if (component.name !== 'VTIMEZONE')
        problems.push(at('calendar-not-taken', component.lineNumber, { name: component.name }));
  }
  const groups = groupByUid([...zonesOf.keys()], problems);
  if (groups.length > mostEvents)
    return bad({ code: 'calendar-too-many', path: '', facts: { count: groups.length, most: mostEvents } });
  for (const group of groups) {
    const reader = new EventReader(group, zonesOf, houseZone, problems);
    const found = problems.length;
    const event = reader.read();
    if (event) events.push(event);
    else problems.splice(found, 0, leftOut(group.master));
  }
  const [first] = read.value;
  const name = first && (propertyOf(first, 'NAME') ?? propertyOf(first, 'X-WR-CALNAME'));
  return good({ name: readText(name?.value ?? ''), events, problems: firstOf(problems) });
}

/** The first so many, and how many more there are. */
function firstOf(problems: readonly Problem[]): Problem[] {
  const more = problems.length - mostProblems;
  const first = problems.slice(0, mostProblems);
  return more > 0 ? [...first, { code: 'calendar-more-problems', path: '', facts: { count: more } }] : first;
}

/** Said before the reasons why. */
const leftOut = (master: Component): Problem => at('event-left-out', master.lineNumber, { title: titleOf(master) });

/** Reads one event; a fault in what matters makes it unreadable as a whole. */
class EventReader {
  private isWhole = true;

  constructor(
    private readonly group: EventGroup,
    private readonly zonesOf: ReadonlyMap<Component, ZoneFinder>,
    private readonly houseZone: string,
    private readonly problems: Problem[],
  ) {}

  read(): ImportedEvent | null {
    const { master } = this.group;
    const times = this.times(master);
    if (!times) return null;
    const zone = this.zoneFor(times.start, master);
    const endZone = endZoneOf(times, zone);
    const facts: EventFacts = {
      ...blankFacts,
      ...this.words(master),
      zone,
      endZone,
      span: spanOf(times, { zone, endZone }),
      entry: this.entry(master),
    };
    const whole = { ...facts, ...this.repeats(master, facts) };
    for (const problem of checkEvent(whole)) this.fail({ ...problem, path: `line ${master.lineNumber}` });
    if (!this.isWhole) return null;
    return {
      uid: this.group.uid,
      lineNumber: master.lineNumber,
      facts: whole,
      calledOff: propertyOf(master, 'STATUS')?.value.trim().toUpperCase() === 'CANCELLED',
      organizer: this.people(master, 'ORGANIZER')[0] ?? null,
      attendees: this.people(master, 'ATTENDEE'),
    };
  }

  private fail(problem: Problem): void {
    this.isWhole = false;
    this.problems.push(problem);
  }

  private take<T>(read: Read<T>): T | null {
    if (read.ok) return read.value;
    read.problems.forEach((problem) => this.fail(problem));
    return null;
  }

  private time(component: Component, name: string): CalendarTime | null {
    const property = propertyOf(component, name);
    return property ? this.timeIn(component, property, property.value) : null;
  }

  private timeIn(component: Component, { params, lineNumber }: ContentLine, value: string): CalendarTime | null {
    const zoneOf = this.zonesOf.get(component) ?? (() => null);
    return this.take(readCalendarTime(value, params, `line ${lineNumber}`, zoneOf));
  }

  /** DTSTART with DTEND, DURATION, or by rule (§3.6.1): a day lasts that day, a time without end an hour. */
  private times(component: Component): Times | null {
    if (!propertyOf(component, 'DTSTART')) {
      this.fail(at('calendar-missing', component.lineNumber, { name: 'DTSTART' }));
      return null;
    }
    const start = this.time(component, 'DTSTART');
    const end = this.time(component, 'DTEND');
    const duration = propertyOf(component, 'DURATION');
    const length = duration ? this.take(readDuration(duration.value, `line ${duration.lineNumber}`)) : null;
    if (!start || !this.isWhole) return null;
    return { start, end, length: length && (length.days || length.minutes) ? length : usualLength(start) };
  }

  /** A series in UTC keeps UTC, since its dates hold there all the year. */
  private zoneFor(start: CalendarTime, component: Component): string {
    if (start.kind === 'local' && start.zone) return start.zone;
    const repeats = propertyOf(component, 'RRULE') ?? propertyOf(component, 'RDATE');
    return start.kind === 'utc' && repeats ? 'UTC' : this.houseZone;
  }

  private words(component: Component): Pick<EventFacts, 'title' | 'description' | 'venue' | 'joinLink'> {
    // What is longer than anything we keep is not even unescaped.
    const text = (name: string): string =>
      readText((propertyOf(component, name)?.value ?? '').slice(0, mostRead)).trim();
    const place = text('LOCATION');
    const conference = propertyOf(component, 'CONFERENCE')?.value.trim() ?? '';
    const joinLink = [conference, place].find(isWebAddress) ?? '';
    return {
      title: this.cut(text('SUMMARY') || 'Without title', 200, component, 'SUMMARY'),
      description: this.cut(text('DESCRIPTION'), 10_000, component, 'DESCRIPTION'),
      venue: isWebAddress(place) ? '' : this.cut(place, 500, component, 'LOCATION'),
      joinLink: joinLink.length <= 2000 ? joinLink : '',
    };
  }

  private cut(text: string, most: number, component: Component, name: string): string {
    if (text.length <= most) return text;
    const line = propertyOf(component, name)?.lineNumber ?? component.lineNumber;
    this.problems.push(at('calendar-cut', line, { name, most }));
    return text.slice(0, most);
  }

  private entry(component: Component): Entry {
    const value = (name: string): string => propertyOf(component, name)?.value.trim() ?? '';
    const [latitude, longitude] = value('GEO').split(';').map(Number);
    const hasPosition = value('GEO') !== '' && Math.abs(latitude ?? NaN) <= 90 && Math.abs(longitude ?? NaN) <= 180;
    const colour = value('COLOR').toLowerCase();
    const image = value('IMAGE');
    return {
      ...plainEntry,
      alarmsMinutes: this.alarms(component),
      isPrivate: value('CLASS').toUpperCase() !== '' && value('CLASS').toUpperCase() !== 'PUBLIC',
      isBusy: value('TRANSP').toUpperCase() !== 'TRANSPARENT',
      categories: [
        ...new Set(
          component.properties
            .filter(({ name }) => name === 'CATEGORIES')
            .flatMap((line) => readTexts(line.value.slice(0, mostRead)).map((text) => text.slice(0, 60))),
        ),
      ].slice(0, 20),
      colour: entryColours.some((known) => known === colour) ? colour : '',
      imageUrl: isWebAddress(image) ? image : '',
      position: hasPosition ? { latitude: latitude ?? 0, longitude: longitude ?? 0 } : null,
    };
  }

  /** Alarms before the start; others are named, for they would ring at another time here. */
  private alarms(component: Component): number[] {
    return component.components
      .flatMap((alarm) => {
        const trigger = propertyOf(alarm, 'TRIGGER');
        const isAfterEnd = trigger?.params['RELATED']?.toUpperCase() === 'END';
        const read = trigger && !isAfterEnd ? readDuration(trigger.value, '') : null;
        const minutes = read?.ok ? read.value.days * 1440 + read.value.minutes : 1;
        if (alarm.name === 'VALARM' && minutes <= 0) return [-minutes || 0];
        this.problems.push(at('calendar-not-taken', alarm.lineNumber, { name: alarm.name }));
        return [];
      })
      .slice(0, 5);
  }

  private repeats(master: Component, facts: EventFacts): { series: Series | null } {
    const exrule = propertyOf(master, 'EXRULE');
    if (exrule) this.fail(at('calendar-not-taken', exrule.lineNumber, { name: 'EXRULE' }));
    const line = propertyOf(master, 'RRULE');
    const rule = line && this.rule(line, facts);
    const dates = this.starts(master, 'RDATE', facts);
    const added = dates.map(({ at: start }) => start);
    const left = this.starts(master, 'EXDATE', facts).map(({ at: start }) => start);
    if (!rule && added.length === 0) return { series: null };
    const own = rule ? this.synchronise(rule, facts) : { rule: '', span: facts.span, added: [] };
    const changed = new Map<string, OccurrenceChange>();
    for (const component of this.group.changed) {
      const change = this.change(component, facts);
      if (!change) continue;
      if (changed.has(change.at))
        this.problems.push(at('event-older', component.lineNumber, { title: titleOf(component) }));
      else changed.set(change.at, change);
    }
    const off = left
      .filter((start) => !changed.has(start))
      .map((start) => ({ ...unchanged, at: start, calledOff: true }));
    // A date that is given as a period has a length of its own (§3.8.5.2).
    const long = dates.flatMap(({ at: start, span }) =>
      span && !changed.has(start) && !left.includes(start) ? [{ ...unchanged, at: start, calledOff: false, span }] : [],
    );
    return {
      ...(own.span && { span: own.span }),
      series: {
        rule: own.rule,
        added: [...new Set([...own.added, ...added])].sort(),
        exceptions: [...off, ...long, ...changed.values()],
      },
    };
  }

  /** Of an all-day series only the day of an UNTIL counts, in whatever form it is given. */
  private rule({ value, lineNumber }: ContentLine, { span, zone }: EventFacts): Rule | null {
    const isTimed = span.kind === 'timed';
    const rule = this.take(readRule(value, isTimed ? zone : 'UTC', `line ${lineNumber}`));
    return rule && !isTimed && rule.until ? { ...rule, until: rule.until.slice(0, 10) } : rule;
  }

  /**
   * A first date that the rule does not name is undefined by the standard (§3.8.5.3) but counts everywhere: it is kept
   * as an added date beside a rule that begins with its own first.
   */
  private synchronise(rule: Rule, facts: EventFacts): { rule: string; span?: Span; added: string[] } {
    const { span, zone } = facts;
    const start = startOf(span);
    const startS = localSecondsOf(start);
    const window = {
      startS,
      zone: span.kind === 'timed' ? zone : 'UTC',
      fromS: startS,
      toS: startS + 5 * 366 * 86_400,
      most: 1,
    };
    const [firstS] = expandRule(rule, window).startsS;
    if (firstS === startS || firstS === undefined) return { rule: writeRule(rule), added: [] };
    const count = rule.count === null ? null : Math.max(1, rule.count - 1);
    const shift = (wall: string): string =>
      new Date((localSecondsOf(wall) + firstS - startS) * 1000).toISOString().slice(0, wall.length);
    return {
      rule: writeRule({ ...rule, count }),
      span:
        span.kind === 'timed'
          ? { kind: 'timed', start: shift(span.start), end: shift(span.end) }
          : { kind: 'all-day', firstDay: shift(span.firstDay), lastDay: shift(span.lastDay) },
      added: [start],
    };
  }

  private starts(master: Component, name: string, facts: EventFacts): { at: string; span: Span | null }[] {
    const lines = master.properties.filter((property) => property.name === name);
    const starts: { at: string; span: Span | null }[] = [];
    for (const line of lines) {
      const values = line.value.split(',', mostDates + 1);
      if (starts.length + values.length > mostDates) {
        this.fail(at('too-long', line.lineNumber, { most: mostDates }));
        return [];
      }
      for (const one of values) {
        const [from = '', to] = one.split('/');
        const time = this.timeIn(master, line, from);
        if (time)
          starts.push({
            at: startIn(time, facts),
            span: to === undefined ? null : this.period(master, line, time, to, facts),
          });
      }
    }
    return starts;
  }

  /** The span of a PERIOD (§3.3.9), which ends at a time or after a duration; null when the series says the same. */
  private period(
    master: Component,
    line: ContentLine,
    start: CalendarTime,
    to: string,
    facts: EventFacts,
  ): Span | null {
    const length = to.startsWith('P') ? this.take(readDuration(to, `line ${line.lineNumber}`)) : usualLength(start);
    const end = to.startsWith('P') ? null : this.timeIn(master, line, to);
    if (!length || !this.isWhole || start.kind === 'day') return null;
    const span = spanOf({ start, end, length }, facts);
    const usual = spanFrom(facts, startIn(start, facts));
    return JSON.stringify(instantsOf({ ...facts, span })) === JSON.stringify(instantsOf({ ...facts, span: usual }))
      ? null
      : span;
  }

  private change(component: Component, facts: EventFacts): OccurrenceChange | null {
    const recurrence = this.time(component, 'RECURRENCE-ID');
    if (propertyOf(component, 'RECURRENCE-ID')?.params['RANGE'])
      this.fail(at('calendar-not-taken', component.lineNumber, { name: 'RANGE=THISANDFUTURE' }));
    const isCancelled = propertyOf(component, 'STATUS')?.value.trim().toUpperCase() === 'CANCELLED';
    // RFC 5546 §3.2.5: what calls a date off need not say when it would have been.
    if (isCancelled && recurrence && !propertyOf(component, 'DTSTART'))
      return { ...unchanged, at: startIn(recurrence, facts), calledOff: true };
    const times = this.times(component);
    if (!recurrence || !times) return null;
    const own = this.words(component);
    const other = (is: string, was: string): string | null => (is === was ? null : is);
    return {
      at: startIn(recurrence, facts),
      calledOff: isCancelled,
      span: spanOf(times, facts),
      title: other(own.title, facts.title),
      description: other(own.description, facts.description),
      venue: other(own.venue, facts.venue),
      joinLink: other(own.joinLink, facts.joinLink),
    };
  }

  private people(component: Component, name: string): ImportedPerson[] {
    return component.properties
      .filter((property) => property.name === name)
      .flatMap((property) => {
        const email = readMailto(property.value);
        const said = (property.params['PARTSTAT'] ?? '').toLowerCase();
        const state = replyStates.find((known) => known === said) ?? 'needs-action';
        return email ? [{ name: (property.params['CN'] ?? '').slice(0, 200), email, state }] : [];
      })
      .slice(0, 10_000);
  }
}

/** Start and end of a component as it gives them; the length counts where it gives no end. */
interface Times {
  readonly start: CalendarTime;
  readonly end: CalendarTime | null;
  readonly length: Duration;
}

/** §3.6.1: a day lasts that day; a time without end lasts no time, and an hour here. */
const usualLength = (start: CalendarTime): Duration =>
  start.kind === 'day' ? { days: 1, minutes: 0 } : { days: 0, minutes: 60 };

const endZoneOf = ({ start, end }: Times, zone: string): string =>
  start.kind !== 'day' && end?.kind === 'local' && end.zone && end.zone !== zone ? end.zone : '';

/** The same instants in the zones of the event, whatever zones they are given in. */
function spanOf({ start, end, length }: Times, zones: Pick<EventFacts, 'zone' | 'endZone'>): Span {
  if (start.kind === 'day') {
    const days = length.days + Math.round(length.minutes / 1440);
    const last = end?.kind === 'day' ? addDays(end.day, -1) : addDays(start.day, Math.max(1, days) - 1);
    return { kind: 'all-day', firstDay: start.day, lastDay: last < start.day ? start.day : last };
  }
  const { zone } = zones;
  const startMs = instantOf(start, zone);
  const startZone = start.kind === 'local' && start.zone ? start.zone : zone;
  const endMs = end ? instantOf(end, zone) : addDuration(startMs, length, start.kind === 'utc' ? 'UTC' : startZone);
  // An end at the start is how some say "without end".
  const span = timedSpan(startMs, endMs === startMs ? endMs + 3_600_000 : endMs, zones);
  // A reading that clocks skip keeps the name that was given to it.
  return start.kind === 'local' && startZone === zone ? { ...span, start: start.wall } : span;
}

const unchanged = { span: null, title: null, description: null, venue: null, joinLink: null } as const;

/** A start in the form of the series: a day, or a clock reading in its zone. */
function startIn(time: CalendarTime, { span, zone }: EventFacts): string {
  const wall = wallIn(time, zone);
  if (span.kind === 'all-day') return wall.slice(0, 10);
  // A bare day among times means that day at the usual hour.
  return time.kind === 'day' ? `${time.day}T${span.start.slice(11)}` : wall;
}
