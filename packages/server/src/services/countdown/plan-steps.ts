import {
  dueOfStep,
  findOccurrence,
  goesByZones,
  graceMs,
  isExactStep,
  isZone,
  reachOfStep,
  slotOfStep,
  type EpochMs,
  type Occurrence,
  type PlannedFiring,
  type StepMoment,
} from '@convite/core';
import type { StoredCue } from '../../store/cues';
import type { StoredEvent } from '../../store/events';
import type { StepTaken } from '../../store/steps';
import type { StoreSubjects } from '../../store/store';
import type { Context } from '../context';
import { aroundOf } from './plan-firings';
import { standbyMsOf } from './standby';
import { oneStartOf } from './start-of-firing';

/** What somebody does now is planned within this at the latest. */
const lookAgainMs = 5_000;
/** What nobody can do anything about yet, or not for now. */
const lookLaterMs = 60_000;
/** What was written down by a transaction that took so long is seen all the same. */
const slackMs = 60_000;
/** So many instants are read at once. */
const mostAtOnce = 2_000;

/**
 * Plans the next cue that is counted from what people do: a firing for each minute, or each day, in which somebody did it since it was
 * looked at last. One at a time, each in a transaction of its own. @returns whether there was one to look at
 */
export function planNextSteps({ store, clock }: Pick<Context, 'store' | 'clock'>): Promise<boolean> {
  return store.transact(async (tx) => {
    const nowMs = clock.now();
    const due = await tx.steps.takeDue(nowMs);
    if (!due) return false;
    const cue = await tx.cues.find(due.cueId);
    const event = cue && (await tx.events.find(cue.eventId));
    if (!cue || cue.isRetired || cue.moment.kind !== 'step' || !event || event.status === 'called-off') {
      await tx.steps.noteSeen(due.cueId, null, null);
      return true;
    }
    if (event.status !== 'published') {
      await tx.steps.noteSeen(due.cueId, null, nowMs + lookLaterMs);
      return true;
    }
    await planSteps(tx, event, { ...cue, moment: cue.moment }, due.seenMs, nowMs);
    return true;
  });
}

async function planSteps(
  tx: StoreSubjects,
  event: StoredEvent,
  cue: StoredCue & { readonly moment: StepMoment },
  seenMs: EpochMs | null,
  nowMs: EpochMs,
): Promise<void> {
  const { moment } = cue;
  const fromMs = seenMs === null ? nowMs - reachOfStep(moment) : seenMs - slackMs;
  const about = { eventId: event.id, step: moment.step };
  let after: StepTaken | null = null;
  let count = 0;
  do {
    const taken: StepTaken[] = await tx.steps.since(about, { fromMs, after }, goesByZones(moment), mostAtOnce);
    const create = await firingsOf(tx, event, cue, taken, seenMs === null, nowMs);
    if (create.length) await tx.firings.applyPlan(event.id, { create, change: [], remove: [] });
    count += create.length;
    after = taken.length === mostAtOnce ? (taken.at(-1) ?? null) : null;
  } while (after);
  if (count) await tx.live.touch('board', `event:${event.id}`);
  await tx.steps.noteSeen(cue.id, nowMs, nowMs + lookAgainMs);
}

/** The firings for what people did, each once. */
async function firingsOf(
  tx: StoreSubjects,
  event: StoredEvent,
  cue: StoredCue & { readonly moment: StepMoment },
  taken: readonly StepTaken[],
  isFirst: boolean,
  nowMs: EpochMs,
): Promise<PlannedFiring[]> {
  if (taken.length === 0) return [];
  const { moment, channel, id: cueId } = cue;
  const { facts } = event.version;
  const settings = await tx.house.settings();
  const around = aroundOf(settings, event);
  const waits = (await tx.releases.waitingAmong('cue', [cue.textOf ?? cueId])).size > 0;
  // Of what people did before the cue was set, nothing of a whole day goes without standing by; later on a worker may have been down.
  const standsBy = isExactStep(moment) ? 0 : standbyMsOf(settings);
  const earliestMs = isFirst ? nowMs + standsBy : nowMs - graceMs;
  const byName = new Map<string, PlannedFiring>();
  const dates = new Map<string, Occurrence | null>();
  for (const { atMs, date, zone: theirs } of taken) {
    const zone = !goesByZones(moment) ? '' : isZone(theirs) ? theirs : facts.zone;
    const slot = slotOfStep(moment, atMs, zone || facts.zone, date);
    const dueMs = dueOfStep(moment, slot, zone || facts.zone, around);
    if (dueMs === null || dueMs < earliestMs || byName.has(`${slot} ${zone}`)) continue;
    if (date && !dates.has(date)) dates.set(date, facts.isPersonal ? null : findOccurrence(facts, date));
    const about = dates.get(date) ?? null;
    if (about?.calledOff || dueMs >= (about?.startMs ?? oneStartOf(facts) ?? Infinity)) continue;
    const isHeld = event.heldBy !== null;
    byName.set(`${slot} ${zone}`, {
      cueId,
      slot,
      zone,
      dueMs,
      channel,
      state: isHeld ? 'stopped' : cue.isDraft || waits ? 'draft' : 'set',
      held: isHeld ? 'event-held' : null,
    });
  }
  return [...byName.values()];
}
