import {
  wholeEvent,
  whoOf,
  whoOfFiring,
  type Audience,
  type Lane,
  type EpochMs,
  type FiringPlace,
  type Moment,
  type Who,
  type WordingDocument,
  findOccurrence,
  occurrenceOfSlot,
} from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { asAllowed } from '../sending/as-allowed';
import { startToBeBefore } from './start-of-firing';
import { withJoinLink } from './with-join-link';

/**
 * Who gets a firing of a cue as it goes, as its slot, its zone and the house's limits say.
 * @param whole of all zones together, and for whoever asks for the people of another slot, the start that it must be before
 */
export async function whoGets(
  store: Pick<StoreSubjects, 'firings' | 'house' | 'subscribers' | 'keptWordings'>,
  event: StoredEvent | null,
  cue: {
    readonly audience: Audience;
    readonly moment: Moment;
    /** What it says; left out for one that writes nothing. */
    readonly wording?: WordingDocument | undefined;
    readonly act?: unknown;
  },
  firing: FiringPlace & { readonly id: number; readonly dueMs: EpochMs; readonly channel: Lane },
  whole: { readonly startsMs: EpochMs | null } | null = null,
): Promise<Who> {
  const startsMs = whole ? whole.startsMs : event && startToBeBefore(event, cue.moment, firing);
  const message = { kind: 'cue', channel: firing.channel, firing: firing.id, atMs: firing.dueMs, startsMs } as const;
  if (!event || firing.cueId === null)
    return asAllowed(store, whoOf(cue.audience, wholeEvent(firing.eventId, event?.version.facts.topics)), message);
  const { facts } = event.version;
  const groups = whole ? [] : await store.firings.zonesOf(firing.cueId, firing.slot);
  const around = {
    ...{ moment: cue.moment, isPersonal: facts.isPersonal, homeZone: facts.zone, topics: facts.topics },
    zones: groups.map(({ zone }) => zone),
    zonesAhead: groups.flatMap(({ zone, isAhead }) => (isAhead ? zone : [])),
  };
  const key = facts.isPersonal ? '' : occurrenceOfSlot(firing.slot);
  const said = { id: event.id, facts: (key && findOccurrence(facts, key)?.facts) || facts };
  const who = whoOfFiring(cue.audience, firing, around);
  const reached = await withJoinLink(store, who, cue.act ? undefined : cue.wording, said);
  return asAllowed(store, reached, { ...message, eventZone: facts.zone });
}
