import type { CueFields, Settings } from '@convite/contract';
import {
  countsDown,
  dateDueNext,
  dueAt,
  dueOfOwnDate,
  dueOfStep,
  earlyMs,
  findOccurrence,
  goesByZones,
  instantsOf,
  isDay,
  isOfPeople,
  isOfWhole,
  isWallTime,
  isZone,
  laneOf,
  limitOf,
  nextOfSteps,
  nextOwnDay,
  personalFacts,
  quietOf,
  slotOfStep,
  wallTimeAt,
  wholeEvent,
  whoOf,
  type EpochMs,
  type EventFacts,
  type FieldValue,
  type HousePressure,
  type HouseQuiet,
  type Moment,
  type MomentAround,
  type Occurrence,
  type PersonFacts,
  type StepMoment,
  type Tree,
  type Who,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { asAllowed } from '../sending/as-allowed';
import { aroundOf } from './plan-firings';
import { oneStartOf } from './start-of-firing';
import { withJoinLink } from './with-join-link';

/** A cue as it is due next: for which date, and for whom. */
export interface NextCue {
  readonly who: Who;
  /** The same without how often and when the organisation writes to one person: that depends on when it comes for them. */
  readonly asked: Who;
  readonly date: Occurrence | null;
  readonly around: MomentAround;
  readonly quiet: HouseQuiet | null;
  readonly pressure: HousePressure;
}

/** What decides who gets a cue; without its words, as long as nobody wrote any. */
export type AskedCue = Pick<CueFields, 'audience' | 'moment' | 'channel' | 'act'> & Partial<Pick<CueFields, 'wording'>>;

export async function nextOf(
  context: Context,
  event: StoredEvent,
  settings: Settings,
  fields: AskedCue,
): Promise<NextCue> {
  const around = aroundOf(settings, event);
  const { who, asked } = await whoNext(context, event, fields);
  return {
    who,
    asked,
    date: dateDueNext(fields.moment, event.version.facts, context.clock.now(), around),
    around,
    quiet: settings.quiet,
    pressure: settings.pressure,
  };
}

/** Somebody, real or thought up, and what is known of them. */
export interface Reader {
  readonly person: Recipient;
  readonly facts: PersonFacts | null;
}

/** A cue for one person. */
export interface CueForReader {
  /** Null for never. */
  readonly dueMs: EpochMs | null;
  readonly date: Occurrence | null;
  /** When it comes instead because of quiet hours; null where it comes at its moment. */
  readonly waitsUntilMs: EpochMs | null;
  /** Of whom it asks whether they get it, as it is asked when it comes for them. */
  readonly who: Who;
}

/** When a cue comes for somebody, on whichever clock it goes by and by whichever time they have, and whether it does: as it is sent. */
export function whenFor(
  { clock }: Pick<Context, 'clock'>,
  { id, version }: StoredEvent,
  { moment, ...by }: Pick<CueFields, 'moment' | 'channel' | 'act'>,
  { who, asked, date, around, quiet, pressure }: NextCue,
  { person, facts }: Reader,
): CueForReader {
  const channel = laneOf(by);
  const nowMs = clock.now();
  /** As it is asked at that moment, which must be before a start or may come whenever. */
  const at = (dueMs: EpochMs | null, ofDate: Occurrence | null, startsMs: EpochMs | null): CueForReader => {
    if (dueMs === null || channel === 'act') return { dueMs, date: ofDate, waitsUntilMs: null, who };
    const zone = isZone(person.zone) ? person.zone : version.facts.zone;
    const early = earlyMs(quiet, { moment, channel }, zone, dueMs);
    const goesMs = early !== null && early >= nowMs ? early : Math.max(nowMs, dueMs);
    const message = { kind: 'cue', channel, event: id, homeZone: version.facts.zone } as const;
    const theirQuiet = quietOf(quiet, { ...message, dueIn: () => goesMs, startsMs }, [person.zone]);
    const wait = theirQuiet?.waits.find((one) => one.zone === person.zone)?.untilMs ?? null;
    return {
      dueMs,
      date: ofDate,
      waitsUntilMs: goesMs === early ? early : wait,
      who: { ...asked, limit: limitOf(pressure, { ...message, firing: null, atMs: goesMs }), quiet: theirQuiet },
    };
  };
  if (moment.kind === 'step') {
    const taken = facts?.guestOf.get(id)?.steps ?? [];
    const next = nextOfSteps(moment, taken, clockFor(moment, person.zone, version.facts.zone), nowMs, around);
    const theirs = next?.date && !version.facts.isPersonal ? findOccurrence(version.facts, next.date) : null;
    return at(next?.dueMs ?? null, theirs ?? date, theirs?.startMs ?? oneStartOf(version.facts));
  }
  const shown = personalFacts(date?.facts ?? version.facts, person.own);
  const ownDate = moment.kind === 'own-date' ? facts?.fields.get(moment.field) : undefined;
  const dueMs = dueForPerson(moment, shown, { zone: person.zone, ownDate }, nowMs, around);
  // Who has no time of their own, where everybody else has, is told of no start.
  const hasStart = !version.facts.isPersonal || Boolean(person.own?.start);
  const starts = countsDown(moment) && moment.kind === 'relative' && hasStart ? instantsOf(shown).startMs : null;
  return at(dueMs, date, starts);
}

/** Who would get a cue for the date that it is due for next; of people's own dates, whoever has one. `asked`: whenever it comes. */
export async function whoNext(
  { store, clock }: Context,
  event: StoredEvent,
  { audience, moment, wording, ...by }: AskedCue,
): Promise<{ readonly who: Who; readonly asked: Who }> {
  const { id, version } = event;
  const { facts } = version;
  const channel = laneOf(by);
  const nowMs = clock.now();
  const settings = await store.house.settings();
  const around = aroundOf(settings, event);
  /** Where it goes before quiet hours, nobody is found in them. */
  const notQuiet = (zone: string, dueMs: EpochMs): EpochMs => {
    const early = earlyMs(settings.quiet, { moment, channel }, isZone(zone) ? zone : facts.zone, dueMs);
    return early !== null && early >= nowMs ? early : dueMs;
  };
  const message = { kind: 'cue', channel, firing: null, eventZone: facts.zone } as const;
  const reached = (who: Who, said: EventFacts): Promise<Who> =>
    withJoinLink(store, who, by.act ? undefined : wording, { id, facts: said });
  if (!isOfPeople(moment)) {
    const date = dateDueNext(moment, facts, nowMs, around);
    const next = date?.facts ?? facts;
    const dueIn = (zone: string): number =>
      notQuiet(zone, Math.max(nowMs, dueForPerson(moment, next, { zone, ownDate: undefined }, nowMs, around) ?? nowMs));
    const startsMs = countsDown(moment) && !facts.isPersonal ? (date?.startMs ?? instantsOf(next).startMs) : null;
    // What is of the whole goes to who answered for the whole, whichever date it speaks of.
    const ofDate = moment.kind === 'fixed' ? moment.date : isOfWhole(moment, facts) ? '' : date?.key;
    const asked = await reached(whoOf(audience, { ...wholeEvent(id, facts.topics), occurrence: ofDate ?? '' }), next);
    const who = await asAllowed(store, asked, { ...message, atMs: dueIn(facts.zone), dueIn, startsMs });
    return { who, asked };
  }
  const hasOne: Tree =
    moment.kind === 'step'
      ? { kind: 'step', step: moment.step, about: { event: id, date: null }, fromMs: 0, toMs: Infinity }
      : { kind: 'field', field: moment.field, test: { is: 'filled' } };
  // Each has it on a day of their own, at the same time of day.
  const today = wallTimeAt(nowMs, facts.zone).slice(0, 10);
  const dueIn = (zone: string): number => {
    const clock = clockFor(moment, zone, facts.zone);
    if (moment.kind === 'own-date') return notQuiet(zone, dueOfOwnDate(moment, today, clock, around));
    return Math.max(nowMs, dueOfStep(moment, slotOfStep(moment, nowMs, clock, ''), clock, around) ?? nowMs);
  };
  const asked = await reached(whoOf(audience, { ...wholeEvent(id, facts.topics), also: [hasOne] }), facts);
  return { who: await asAllowed(store, asked, { ...message, atMs: nowMs, dueIn }), asked };
}

/** Whose clock a moment is read on. */
const clockFor = (moment: Moment, zone: string, home: string): string =>
  goesByZones(moment) && isZone(zone) ? zone : home;

/** When the moment comes for one person; null for none, or while it is not a time yet. */
function dueForPerson(
  moment: Exclude<Moment, StepMoment>,
  facts: EventFacts,
  { zone, ownDate }: { readonly zone: string; readonly ownDate: FieldValue | undefined },
  nowMs: number,
  around: MomentAround,
): number | null {
  const clock = clockFor(moment, zone, facts.zone);
  if (moment.kind !== 'own-date')
    return moment.kind === 'relative' || isWallTime(moment.wall) ? dueAt(moment, facts, clock, around) : null;
  const day = typeof ownDate === 'string' && isDay(ownDate) ? nextOwnDay(moment, ownDate, nowMs, clock, around) : null;
  return day === null ? null : dueOfOwnDate(moment, day, clock, around);
}
