import type { RegistrationState, ReplyState } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import type { Recipient } from '../../store/subscribers';
import type { Context } from '../context';
import { givePlace } from '../registration/give-place';
import { takePlace } from '../registration/register';
import { askAboutDates } from './ask-about-dates';
import { replyByPage } from './reply-by-page';

/** What became of an answer: it stands, a newer one does, or it took no place, for the reason named (null where there is no such date). */
export type Taken = 'stored' | 'older' | { readonly refused: RegistrationState | null };

/**
 * Takes an answer of somebody who is known by the way it came: their own page, or their own phone. A yes takes a place only where
 * there is one; a place that was given back is taken again as any other. @throws Failure 404 for a date that is not there
 */
export async function takeAnswer(
  context: Context,
  event: StoredEvent,
  person: Recipient,
  answer: { readonly occurrence: string; readonly state: ReplyState; readonly comment: string },
): Promise<Taken> {
  if (person.dates !== null && person.email !== '' && answer.state === 'accepted') {
    const done = await takePlace(context, event.id, { ...person, occurrence: answer.occurrence });
    return done?.kind === 'down' ? 'stored' : { refused: done?.state ?? null };
  }
  const asking = { subscriberId: person.id, email: person.email, occurrence: answer.occurrence };
  const write = (tx: StoreSubjects) =>
    replyByPage({ store: tx, clock: context.clock }, { eventId: event.id, subscriberId: person.id }, answer);
  const stored =
    answer.state === 'accepted' ? await givePlace(context, event, asking, write) : await context.store.transact(write);
  if (stored === 'full') return { refused: 'full' };
  if (!stored) return 'older';
  if (answer.state === 'declined' && !answer.occurrence) await askAboutDates(context, event, person.id);
  return 'stored';
}
