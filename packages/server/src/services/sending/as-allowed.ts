import {
  limitOf,
  quietOf,
  wholeEvent,
  whoOf,
  type Audience,
  type Lane,
  type EpochMs,
  type MessageKind,
  type Who,
  withOwnTime,
} from '@convite/core';
import type { StoreSubjects } from '../../store/store';
import { oneStartOf } from '../countdown/start-of-firing';

/** Which message it is, and when it goes. */
export interface AskedMessage {
  readonly kind: MessageKind;
  readonly channel: Lane;
  /** Null before there is one, for whoever looks ahead. */
  readonly firing: number | null;
  readonly atMs: EpochMs;
  /** The start that it must be before; left out where it may come whenever. */
  readonly startsMs?: EpochMs | null;
  /** Where the event is; left out where it is about none. */
  readonly eventZone?: string;
  /** For what goes at another instant in each zone, as long as it is not in the firings of each. */
  readonly dueIn?: (zone: string) => EpochMs;
}

/** Who gets a message, or with whom something is done, with how often and when the house writes to one person as Settings stand now. */
export async function asAllowed(
  { house, subscribers }: Pick<StoreSubjects, 'house' | 'subscribers'>,
  who: Who,
  { eventZone, startsMs = null, dueIn, ...message }: AskedMessage,
): Promise<Who> {
  const { channel } = message;
  // Nobody is disturbed by being put on a list.
  if (channel === 'act') return who;
  const { pressure, quiet, zone } = await house.settings();
  const limit = limitOf(pressure, { ...message, event: who.about });
  if (quiet === null) return { ...who, limit };
  const timed = {
    ...message,
    channel,
    event: who.about,
    startsMs,
    dueIn: dueIn ?? (() => message.atMs),
    homeZone: eventZone ?? zone,
  };
  return { ...who, limit, quiet: quietOf(quiet, timed, ['', ...(await subscribers.zones())]) };
}

/** The same for an invitation, which must come before an event that has its one start. Where everybody has their own time, it goes only to who has one. */
export async function allowedInvitees(
  store: Pick<StoreSubjects, 'house' | 'subscribers' | 'events'>,
  eventId: number,
  who: Who,
  message: Pick<AskedMessage, 'channel' | 'firing' | 'atMs'>,
): Promise<Who> {
  const facts = (await store.events.find(eventId))?.version.facts;
  const about = facts && { startsMs: oneStartOf(facts), eventZone: facts.zone };
  const invited = facts?.isPersonal ? withOwnTime(eventId, who) : who;
  return asAllowed(store, invited, { kind: 'invitation', ...message, ...about });
}

/** Who gets an issue of a digest as it goes. */
export const whoGetsIssue = (
  store: Pick<StoreSubjects, 'house' | 'subscribers'>,
  audience: Audience,
  { id, dueMs }: { readonly id: number | null; readonly dueMs: number },
): Promise<Who> =>
  asAllowed(store, whoOf(audience, wholeEvent(null)), { kind: 'digest', channel: 'email', firing: id, atMs: dueMs });
