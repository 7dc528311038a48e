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
  nextOfSteps,
  nextOwnDay,
  personalFacts,
  slotOfStep,
  wallTimeAt,
  wholeEvent,
  whoOf,
  type EpochMs,
  type EventFacts,
  type FieldValue,
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
import { withJoinLink } from './with-join-link';

/** A cue as it is due next: for which date, and for whom. */
export interface NextCue {
  readonly who: Who;
  readonly date: Occurrence | null;
  readonly around: MomentAround;
  readonly quiet: HouseQuiet | null;
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
  return {
    who: await whoNext(context, event, fields),
    date: dateDueNext(fields.moment, event.version.facts, context.clock.now(), around),
    around,
    quiet: settings.quiet,
  };
}

/** Somebody, real or thought up, and what is known of them. */
export interface Reader {
  readonly person: Recipient;
  readonly facts: PersonFacts | null;
}

/** When a cue comes for somebody, on whichever clock it goes by, about which date, and when it comes instead because
 * of quiet hours. */
export function whenFor(
  { clock }: Pick<Context, 'clock'>,
  { id, version }: StoredEvent,
  { moment, ...by }: Pick<CueFields, 'moment' | 'channel' | 'act'>,
  { who, date, around, quiet }: NextCue,
  { person, facts }: Reader,
): { readonly dueMs: EpochMs | null; readonly date: Occurrence | null; readonly waitsUntilMs: EpochMs | null } {
  const waitsUntilMs = who.quiet?.waits.find(({ zone }) => zone === person.zone)?.untilMs ?? null;
  if (moment.kind === 'step') {
    const taken = facts?.guestOf.get(id)?.steps ?? [];
    const next = nextOfSteps(moment, taken, clockFor(moment, person.zone, version.facts.zone), clock.now(), around);
    const theirs = next?.date && !version.facts.isPersonal ? findOccurrence(version.facts, next.date) : null;
    return { dueMs: next?.dueMs ?? null, date: theirs ?? date, waitsUntilMs };
  }
  const shown = personalFacts(date?.facts ?? version.facts, person.own);
  const ownDate = moment.kind === 'own-date' ? facts?.fields.get(moment.field) : undefined;
  const dueMs = dueForPerson(moment, shown, { zone: person.zone, ownDate }, clock.now(), around);
  const theirs = isZone(person.zone) ? person.zone : version.facts.zone;
  const early = dueMs === null ? null : earlyMs(quiet, { moment, channel: laneOf(by) }, theirs, dueMs);
  return { dueMs, date, waitsUntilMs: early !== null && early >= clock.now() ? early : waitsUntilMs };
}

/** Who would get a cue for the date that it is due for next; of people's own dates, whoever has one. */
export async function whoNext(
  { store, clock }: Context,
  event: StoredEvent,
  { audience, moment, wording, ...by }: AskedCue,
): Promise<Who> {
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
    const who = await reached(whoOf(audience, { ...wholeEvent(id, facts.topics), occurrence: ofDate ?? '' }), next);
    return asAllowed(store, who, { ...message, atMs: dueIn(facts.zone), dueIn, startsMs });
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
  const who = await reached(whoOf(audience, { ...wholeEvent(id, facts.topics), also: [hasOne] }), facts);
  return asAllowed(store, who, {
    ...message,
    atMs: nowMs,
    dueIn,
  });
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
