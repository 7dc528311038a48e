import { countsDown, findOccurrence, occurrenceOfSlot } from '@convite/core';
import type { StoredCue } from '../../store/cues';
import type { StoredEvent } from '../../store/events';
import type { StoredFiring } from '../../store/firings';

/** Why a firing may not be sent by hand; empty when it may. */
export function whyNotByHand(
  firing: StoredFiring,
  event: StoredEvent | null,
  cue: StoredCue | null,
  nowMs: number,
): string {
  if (firing.isExpanded || !byHandStates.includes(firing.state))
    return 'Only what was missed, stopped before it fired, or could not be carried out can be sent by hand.';
  if (firing.kind === 'manual') return '';
  if (firing.kind !== 'cue' && firing.kind !== 'invitation')
    return 'Only a cue, an invitation or a message that you wrote can be sent by hand. Send this again from its own screen.';
  if (!event || (firing.kind === 'cue' && !cue)) return 'Its cue or event is gone.';
  if (event.status !== 'published')
    return event.status === 'called-off'
      ? 'The event was called off: nothing of its countdown goes any more.'
      : 'The event is not published.';
  if (event.heldBy !== null) return `${event.heldBy} holds all of this event: let it go on first.`;
  if (!cue) return '';
  const { facts } = event.version;
  const key = occurrenceOfSlot(firing.slot);
  if (facts.isPersonal || cue.moment.kind === 'own-date' || (!key && (facts.series || cue.moment.kind === 'step')))
    return '';
  const date = findOccurrence(facts, key);
  if (!date || date.calledOff) return 'The date it counts down to was called off.';
  return countsDown(cue.moment) && date.startMs <= nowMs ? 'The date it counts down to has begun.' : '';
}

export const byHandStates: readonly StoredFiring['state'][] = ['missed', 'stopped', 'failed'];
