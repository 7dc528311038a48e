import { startOfKey, type Target } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoredFiring } from '../../store/firings';

/** Whose answers a firing goes by: of its date, or of the people who have that time of their own. */
export function targetOf(
  event: StoredEvent | undefined,
  { eventId, slot }: Pick<StoredFiring, 'eventId' | 'slot'>,
): Target {
  if (!event?.version.facts.isPersonal) return { eventId, occurrence: slot, ownStart: null };
  return { eventId, occurrence: '', ownStart: slot === '' ? '' : startOfKey(slot) };
}
