import {
  cueMoments,
  dueAt,
  keyOf,
  nextIssues,
  personalFacts,
  planAheadMs,
  planFiring,
  type CueMoment,
  type EpochMs,
} from '@convite/core';
import type { StoredCue, StoredDigest } from '../store/cues';
import type { StoredEvent } from '../store/events';
import type { StoredFiring } from '../store/firings';
import type { StoreSubjects } from '../store/store';

/** What a missed firing says beside its state. */
export const passedNote = 'Its moment had passed, or was less than 10 minutes away, when it was planned.';

/**
 * Brings the firings of each cue in line with the event as it stands: unfired ones move, new ones appear, and what was
 * called off stops. Of a series, those of the next five weeks are planned; the worker goes on from there. Fired ones are
 * history.
 */
export async function planCues(
  store: StoreSubjects,
  event: StoredEvent,
  cues: readonly StoredCue[],
  nowMs: number,
): Promise<void> {
  const known = new Map(
    (await store.firings.ofEvent(event.id)).map((firing) => [nameOf(firing.cueId, firing.occurrence), firing]),
  );
  const untilMs = nowMs + planAheadMs;
  const seen = new Set<number>();
  for (const cue of cues) {
    if (cue.isRetired) continue;
    for (const moment of await momentsOf(store, event, cue, nowMs, untilMs)) {
      const firing = known.get(nameOf(cue.id, moment.key));
      if (firing) seen.add(firing.id);
      await planOne(store, event, cue, moment, firing, nowMs);
    }
  }
  const gone = [...known.values()].filter(({ id, cueId, dueMs }) => cueId !== null && !seen.has(id) && dueMs > nowMs);
  await store.firings.deleteUnfired(gone.map(({ id }) => id));
  await store.events.setPlannedUntil(event.id, untilMs);
}

const nameOf = (cueId: number | null, key: string): string => `${cueId} ${key}`;

/** A cue's moments: of a one-off its one, of a series those of its dates, of a personal event one for each time people have. */
async function momentsOf(
  store: StoreSubjects,
  event: StoredEvent,
  cue: StoredCue,
  nowMs: EpochMs,
  untilMs: EpochMs,
): Promise<CueMoment[]> {
  const { facts } = event.version;
  const moments = cueMoments(cue.moment, facts, nowMs - planAheadMs, untilMs);
  if (!facts.isPersonal || cue.moment.kind === 'fixed') return moments;
  const own = (await store.personal.starts(event.id)).map(({ start, end }) => ({
    key: keyOf(start),
    dueMs: dueAt(cue.moment, personalFacts(facts, { start, end, place: '', notes: '', revision: 0 })),
    occurrence: null,
  }));
  return [...moments, ...own];
}

async function planOne(
  store: StoreSubjects,
  event: StoredEvent,
  cue: StoredCue,
  { key, dueMs, occurrence }: CueMoment,
  firing: StoredFiring | undefined,
  nowMs: EpochMs,
): Promise<void> {
  if (firing && (firing.state === 'done' || firing.state === 'sending')) return;
  if (event.version.calledOff || occurrence?.calledOff) {
    const note = event.version.calledOff ? 'The event was called off.' : 'This date was called off.';
    if (firing) await store.firings.stop(firing.id, note);
    return;
  }
  const isDraft = cue.isDraft || event.status === 'draft';
  // What stood set for this very moment fires, however near it is: only a moment that moves can come too late.
  const planned =
    firing?.state === 'set' && firing.dueMs === dueMs && !isDraft ? 'set' : planFiring(dueMs, nowMs, isDraft);
  // Dates that are over when a cue is made were never to have it.
  if (!firing && planned === 'missed' && occurrence && occurrence.startMs <= nowMs) return;
  // What a person stopped stays stopped; it is theirs to set again. A date put back goes on by itself.
  const isHeld = firing?.state === 'stopped' && firing.note !== 'This date was called off.';
  const state = isHeld ? 'stopped' : planned;
  const note = isHeld ? firing.note : state === 'missed' ? passedNote : '';
  if (firing) await store.firings.reschedule(firing.id, { dueMs, state, channel: cue.channel, note });
  else
    await store.firings.create({
      kind: 'cue',
      eventId: event.id,
      cueId: cue.id,
      occurrence: key,
      channel: cue.channel,
      dueMs,
      state,
      note,
    });
}

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
  for (const dueMs of nextIssues(digest, nowMs, issuesAhead)) {
    await store.firings.create({ kind: 'digest', digestId: digest.id, channel: 'email', dueMs, state: 'set' });
  }
}
