import { wholeEvent, whoOf, whoOfFiring, type Audience, type FiringPlace, type Moment, type Who } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { underLimit } from '../sending/under-limit';

/** Who gets a firing of a cue as it goes, as its slot, its zone and how often people are written to say. */
export async function whoGets(
  { firings, house }: Pick<StoreSubjects, 'firings' | 'house'>,
  event: StoredEvent | null,
  cue: { readonly audience: Audience; readonly moment: Moment },
  firing: FiringPlace & { readonly id: number; readonly dueMs: number },
): Promise<Who> {
  const message = { kind: 'cue', firing: firing.id, atMs: firing.dueMs } as const;

  if (!event || firing.cueId === null)
    return underLimit({ house }, whoOf(cue.audience, wholeEvent(firing.eventId)), message);
  const { facts } = event.version;
  const zones = firing.zone === '' ? [] : await firings.zonesOf(firing.cueId, firing.slot);
  const around = { moment: cue.moment, isPersonal: facts.isPersonal, homeZone: facts.zone, zones };
  return underLimit({ house }, whoOfFiring(cue.audience, firing, around), message);
}
