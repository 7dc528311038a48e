import type { Channel, Presence, RegistrationState, ReplyState } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { givePlace } from '../registration/give-place';
import { takePlace } from '../registration/register';
import { leaveWaitlist } from '../registration/waitlist';
import { askAboutDates } from './ask-about-dates';
import { replyByPage } from './reply-by-page';

/** What somebody says of an event. */
export interface GivenAnswer {
  readonly occurrence: string;
  readonly state: ReplyState;
  readonly comment: string;
  /** How they come, where they were asked. */
  readonly presence?: Presence | undefined;
  /** By which way, by which they are told as well what became of it. */
  readonly by?: Channel;
}

/**
 * What became of an answer: it stands, a newer one does, they wait for a place, wait no longer, or it took none, for the
 * reason named (null where there is no such date).
 */
export type Taken = 'stored' | 'older' | 'waiting' | 'left' | { readonly refused: RegistrationState | null };

/**
 * Takes an answer of somebody who is known by the way it came: their own page, or their own phone. A yes takes a place only where
 * there is one; a place that was given back is taken again as any other. @throws Failure 404 for a date that is not there
 */
export async function takeAnswer(
  context: Context,
  event: StoredEvent,
  person: Recipient,
  answer: GivenAnswer,
): Promise<Taken> {
  const { occurrence, presence } = answer;
  // Who is no guest yet waits for a place, and has nothing to answer but whether they still want it.
  if (!person.isGuest && answer.state !== 'accepted')
    return (await leaveWaitlist(context, { eventId: event.id, subscriberId: person.id, occurrence }))
      ? 'left'
      : 'older';
  const isDown = person.places?.some((place) => place.occurrence === occurrence) === true;
  const onlyHow = isDown && presence !== undefined;
  if ((person.dates !== null || !person.isGuest) && !onlyHow && person.email !== '' && answer.state === 'accepted') {
    const done = await takePlace(context, event.id, { ...person, occurrence, presence: presence ?? null });
    if (done?.kind === 'waiting') return 'waiting';
    return done?.kind === 'down' ? 'stored' : { refused: done?.state ?? null };
  }
  const isTold = answer.by === 'text';
  const asking = { subscriberId: person.id, occurrence, presence, isTold };
  const write = (tx: StoreSubjects) =>
    replyByPage({ store: tx, clock: context.clock }, { eventId: event.id, subscriberId: person.id }, answer);
  const stored =
    answer.state === 'accepted' ? await givePlace(context, event, asking, write) : await context.store.transact(write);
  if (stored === 'full') return { refused: 'full' };
  if (stored === 'waiting') return 'waiting';
  if (!stored) return 'older';
  if (answer.state === 'declined' && !answer.occurrence) await askAboutDates(context, event, person.id);
  return 'stored';
}
