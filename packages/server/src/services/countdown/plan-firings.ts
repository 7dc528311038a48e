import {
  cueMoments,
  dueAt,
  dueOfStep,
  findOccurrence,
  goesByZones,
  isOfPublication,
  isZone,
  keyOf,
  laneOf,
  nextIssues,
  occurrenceOfSlot,
  personalFacts,
  planAheadMs,
  planChanges,
  withEarly,
  type CueMoment,
  type EpochMs,
  type MomentAround,
  type StepMoment,
  type WantedFiring,
} from '@convite/core';
import type { Settings } from '@convite/contract';
import type { StoredCue, StoredDigest } from '../../store/cues';
import { standbyMsOf } from './standby';
import { oneStartOf } from './start-of-firing';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';

/**
 * Brings the firings of each cue in line with the event as it stands. Of a series, those of the next five weeks are planned;
 * the worker goes on from there. Core says what differs, and that is written in bulk.
 * @param house its settings, where they are not stored yet
 */
export async function planCues(
  store: StoreSubjects,
  event: StoredEvent,
  cues: readonly StoredCue[],
  nowMs: EpochMs,
  house?: PlanningHouse,
): Promise<void> {
  const settings = house ?? (await store.house.settings());
  const around = aroundOf(settings, event);
  const sinceMs = nowMs - planAheadMs;
  const untilMs = nowMs + planAheadMs;
  const alive = cues.filter(({ isRetired }) => !isRetired);
  const own = event.version.facts.isPersonal ? await store.personal.starts(event.id) : [];
  const zones =
    settings.quiet?.manner === 'before' || alive.some(({ moment }) => goesByZones(moment))
      ? await zonesAround(store, event)
      : [];
  const waiting = await store.releases.waitingAmong(
    'cue',
    alive.map(({ id }) => id),
  );
  const known = (await store.firings.plannable(event.id, sinceMs)).flatMap((firing) =>
    firing.cueId === null ? [] : [{ ...firing, cueId: firing.cueId }],
  );
  const soonestMs = nowMs + standbyMsOf(settings);
  const placeOf = (cueId: number, { slot, zone, dueMs }: Pick<CueMoment, 'slot' | 'zone' | 'dueMs'>): string =>
    `${cueId} ${slot} ${zone} ${dueMs}`;
  const planned = new Set(known.map((firing) => placeOf(firing.cueId, firing)));
  const wanted = alive.flatMap((cue) => {
    const moments =
      cue.moment.kind === 'step'
        ? stepMomentsOf(
            event,
            cue.moment,
            known.filter(({ cueId }) => cueId === cue.id),
            around,
          )
        : withEarly(
            momentsOf(event, cue, own, zones, [sinceMs, untilMs], around),
            settings.quiet,
            { moment: cue.moment, channel: laneOf(cue) },
            zones,
            (early) => early.dueMs >= soonestMs || planned.has(placeOf(cue.id, early)),
          );
    const asKept = waiting.has(cue.textOf ?? cue.id) ? { ...cue, isDraft: true } : cue;
    return moments.map((moment) => wantedOf(event, asKept, moment, nowMs));
  });
  await store.firings.applyPlan(event.id, planChanges(wanted, known, nowMs, standbyMsOf(settings)));
  await store.steps.wake(
    alive.filter(({ moment }) => moment.kind === 'step').map(({ id }) => id),
    nowMs,
  );
  await store.events.setPlannedUntil(event.id, untilMs);
}

/** Of the house's settings, what planning goes by. */
export type PlanningHouse = Pick<Settings, 'workdays' | 'holidays' | 'standby' | 'quiet'>;

/** What moments of an event are read by, beside its facts. */
export const aroundOf = (
  { workdays, holidays }: Pick<Settings, 'workdays' | 'holidays'>,
  { publishedAt }: Pick<StoredEvent, 'publishedAt'>,
): MomentAround => ({
  publishedMs: publishedAt?.getTime() ?? null,
  workdays: { weekdays: workdays, holidays },
});

/** Of a cue that is counted from what people did, the moments of what is planned already; what they do next is planned as they do it. */
function stepMomentsOf(
  { version: { facts } }: StoredEvent,
  moment: StepMoment,
  known: readonly { readonly slot: string; readonly zone: string }[],
  around: MomentAround,
): CueMoment[] {
  return known.flatMap(({ slot, zone }) => {
    const dueMs = goesByZones(moment) === (zone !== '') ? dueOfStep(moment, slot, zone || facts.zone, around) : null;
    const key = occurrenceOfSlot(slot);
    const occurrence = key && !facts.isPersonal ? findOccurrence(facts, key) : null;
    const startMs = occurrence?.startMs ?? oneStartOf(facts) ?? Infinity;
    return dueMs === null || dueMs >= startMs ? [] : [{ slot, zone, dueMs, occurrence }];
  });
}

/** A cue's moments: of a one-off its one, of a series those of its dates, of a personal event one for each time people have. */
function momentsOf(
  event: StoredEvent,
  cue: StoredCue,
  own: readonly { readonly start: string; readonly end: string }[],
  zones: readonly string[],
  [sinceMs, untilMs]: readonly [EpochMs, EpochMs],
  around: MomentAround,
): CueMoment[] {
  const { facts } = event.version;
  const { moment } = cue;
  const moments = cueMoments(moment, facts, sinceMs, untilMs, zones, around);
  if (!facts.isPersonal || moment.kind !== 'relative' || isOfPublication(moment)) return moments;
  const groups = goesByZones(moment) ? zones : [''];
  const ofPeople = own.flatMap(({ start, end }) => {
    const theirs = personalFacts(facts, { start, end, place: '', notes: '', revision: 0 });
    return groups.map((zone) => ({
      slot: keyOf(start),
      zone,
      dueMs: dueAt(moment, theirs, zone || facts.zone, around),
      occurrence: null,
    }));
  });
  return [...moments, ...ofPeople];
}

/** The zones that people are in, and the event's own, where everybody goes whose zone is not known. */
export async function zonesAround(
  { subscribers }: Pick<StoreSubjects, 'subscribers'>,
  { version }: StoredEvent,
): Promise<string[]> {
  const known = (await subscribers.zones()).filter(isZone);
  return [...new Set([version.facts.zone, ...known])];
}

const wantedOf = (
  event: StoredEvent,
  cue: StoredCue,
  { slot, zone, dueMs, occurrence }: CueMoment,
  nowMs: EpochMs,
): WantedFiring => ({
  cueId: cue.id,
  slot,
  zone,
  dueMs,
  channel: laneOf(cue),
  isDraft: cue.isDraft || event.status === 'draft',
  off: event.version.calledOff
    ? 'event-off'
    : occurrence?.calledOff
      ? 'date-off'
      : event.heldBy !== null
        ? 'event-held'
        : null,
  hasBegun: occurrence !== null && occurrence.startMs <= nowMs,
});

/** The worker plans on what comes into reach of a series. @returns how many events it looked at */
export async function planOn(store: StoreSubjects, id: number, nowMs: number): Promise<void> {
  const event = await store.events.findForUpdate(id);
  if (!event) return;
  await planCues(store, event, await store.cues.ofEvent(id), nowMs);
  await store.live.touch('board', `event:${id}`);
}

/** Planned at least so far ahead at any time: what the board shows. */
export const keepPlannedMs = planAheadMs - 5 * 86_400_000;

/** How many issues of a digest stand planned ahead. */
const issuesAhead = 4;

/** Keeps the next issues of a digest planned. Called when it is saved and each time one has gone out. */
export async function planDigest(store: StoreSubjects, digest: StoredDigest, nowMs: number): Promise<void> {
  if (!digest.isOn) return;
  const isWaiting = (await store.releases.find('digest', digest.id)) !== null;
  for (const dueMs of nextIssues(digest, nowMs, issuesAhead)) {
    await store.firings.create({
      kind: 'digest',
      digestId: digest.id,
      channel: 'email',
      dueMs,
      state: isWaiting ? 'draft' : 'set',
    });
  }
}
