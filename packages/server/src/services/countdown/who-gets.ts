import { wholeEvent, whoOf, whoOfFiring, type Audience, type FiringPlace, type Moment, type Who } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';

/** Who gets a firing of a cue, as its slot and its zone say. */
export async function whoGets(
  { firings }: Pick<StoreSubjects, 'firings'>,
  event: StoredEvent | null,
  cue: { readonly audience: Audience; readonly moment: Moment },
  firing: FiringPlace,
): Promise<Who> {
  if (!event || firing.cueId === null) return whoOf(cue.audience, wholeEvent(firing.eventId));
  const { facts } = event.version;
  const zones = firing.zone === '' ? [] : await firings.zonesOf(firing.cueId, firing.slot);
  const around = { moment: cue.moment, isPersonal: facts.isPersonal, homeZone: facts.zone, zones };
  return whoOfFiring(cue.audience, firing, around);
}
