import { nextVersion, type EventFacts, type KeyMove } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Actor, type Context } from '../context';
import { planCues } from '../countdown/plan-firings';
import { carryUnconcerned } from '../sending/notices';

/** What an event becomes. */
export interface Change {
  readonly facts: EventFacts;
  /** Left out, it takes place or not as before. */
  readonly calledOff?: boolean;
  /** What its dates are called from now on, where that changes; null for one that is no more. */
  readonly moveKey?: KeyMove;
  /** In the audit log. */
  readonly said: string;
}

/**
 * The one way in which an event changes, whoever asks for it: an edit, a date's change, a calling off, a calendar from
 * elsewhere. A version is added; what is known of its dates, what is planned, and who is unconcerned follow it. To be called
 * with the event locked.
 * @returns the event as it is now; null when nothing differs, and then nothing happened
 */
export async function newVersion(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  event: StoredEvent,
  { facts, calledOff = event.version.calledOff, moveKey, said }: Change,
  actor: Actor,
): Promise<StoredEvent | null> {
  const next = nextVersion(event.version, facts, calledOff);
  if (!next) return null;
  const { id } = event;
  if (event.version.facts.series && moveKey) await moveDates(tx, id, moveKey);
  await tx.events.addVersion(id, next, actor.name, nowOf(context));
  // What was called off and is to take place again waits for a person to publish it.
  const status = calledOff ? 'called-off' : event.status === 'called-off' ? 'draft' : event.status;
  if (status !== event.status) await tx.events.setStatus(id, status);
  const changed: StoredEvent = { ...event, status, version: next };
  if (facts.registration && !event.version.facts.registration) await tx.registrations.adopt(id, nowOf(context));
  // There may be more places now, or later ones.
  await tx.waitlist.wake(id, nowOf(context));
  // Whether it takes place concerns everybody.
  if (calledOff === event.version.calledOff) await carryUnconcerned(tx, event, next, context.clock.now());
  await planCues(tx, changed, await tx.cues.ofEvent(id), context.clock.now());
  const what = calledOff ? facts.title : `${facts.title}, version ${next.number}`;
  await tx.house.audit(nowOf(context), actor, said, what);
  await tx.live.touch('board', 'events', `event:${id}`);
  return changed;
}

/** Answers, places and firings are known by the names of their dates. */
async function moveDates(tx: StoreSubjects, id: number, moveKey: KeyMove): Promise<void> {
  await tx.dates.moveDates(id, moveKey);
  await tx.registrations.moveDates(id, moveKey);
  await tx.firings.moveDates(id, moveKey);
  await tx.cues.moveDates(id, moveKey);
}
