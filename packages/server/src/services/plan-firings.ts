import { dueAt, nextIssues, planFiring } from '@convite/core';
import type { StoredCue, StoredDigest } from '../store/cues';
import type { StoredEvent } from '../store/events';
import type { StoreSubjects } from '../store/store';

/** What a missed firing says beside its state. */
export const passedNote = 'Its moment had passed, or was less than 10 minutes away, when it was planned.';

/**
 * Brings the firing of each cue in line with the event as it stands: unfired ones move, new ones appear, and what was
 * called off stops. Fired ones are history.
 */
export async function planCues(
  store: StoreSubjects,
  event: StoredEvent,
  cues: readonly StoredCue[],
  nowMs: number,
): Promise<void> {
  const firings = new Map(
    (await store.firings.ofEvent(event.id)).flatMap((firing) =>
      firing.cueId === null ? [] : [[firing.cueId, firing]],
    ),
  );
  for (const cue of cues) {
    const firing = firings.get(cue.id);
    const dueMs = dueAt(cue.moment, event.version.facts);
    if (firing && (firing.state === 'done' || firing.state === 'sending')) continue;
    if (event.version.calledOff) {
      if (firing) await store.firings.stop(firing.id, 'The event was called off.');
      continue;
    }
    const isWaiting = cue.isDraft || event.status === 'draft';
    const planned = planFiring(dueMs, nowMs, isWaiting);
    // What a person stopped stays stopped; it is theirs to set again.
    const state = firing?.state === 'stopped' ? 'stopped' : planned;
    const note = state === 'stopped' ? (firing?.note ?? '') : state === 'missed' ? passedNote : '';
    if (firing) await store.firings.reschedule(firing.id, { dueMs, state, channel: cue.channel, note });
    else
      await store.firings.create({
        kind: 'cue',
        eventId: event.id,
        cueId: cue.id,
        channel: cue.channel,
        dueMs,
        state,
        note,
      });
  }
}

/** How many issues of a digest stand planned ahead. */
const issuesAhead = 4;

/** Keeps the next issues of a digest planned. Called when it is saved and each time one has gone out. */
export async function planDigest(store: StoreSubjects, digest: StoredDigest, nowMs: number): Promise<void> {
  if (!digest.isOn) return;
  for (const dueMs of nextIssues(digest, nowMs, issuesAhead)) {
    await store.firings.create({ kind: 'digest', digestId: digest.id, channel: 'email', dueMs, state: 'set' });
  }
}
