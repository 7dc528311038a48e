import type { EventChanges, WordingText } from '@convite/contract';
import { differencesBetween, matters } from '@convite/core';
import type { StoredEvent } from '../store/events';
import type { StoreSubjects } from '../store/store';
import { nowOf, type Actor, type Context } from './context';
import { getEvent } from './events';
import { Failure, notFound, refuseProblems, refuseUnconfirmed } from './failure';
import { houseWordings } from './house-wordings';
import { checkWording } from './check-wording';

const channels = ['email', 'text'] as const;

/** The history of an event, who holds which version, and what a notice would do now. */
export async function describeChanges(context: Context, eventId: number): Promise<EventChanges> {
  const event = await getEvent(context, eventId);
  const { store } = context;
  const versions = await store.events.versions(eventId);
  const firings = await store.firings.ofEvent(eventId);
  return {
    versions: versions.map((version, index) => {
      const before = versions[index - 1];
      const differences = before ? differencesBetween(before, version) : [];
      return {
        number: version.number,
        sequence: version.sequence,
        at: version.at.toISOString(),
        by: version.by,
        differences,
        matters: matters(differences),
      };
    }),
    holders: await store.invitees.holders(eventId),
    toTell: {
      email: await store.deliveries.countNotice(eventId, event.version.number, 'email'),
      text: await store.deliveries.countNotice(eventId, event.version.number, 'text'),
    },
    isNoticeUnderWay: firings.some(
      (firing) => firing.kind === 'notice' && (firing.state === 'set' || firing.state === 'sending'),
    ),
    suggestedWording: event.version.calledOff ? houseWordings.callOff : houseWordings.change,
  };
}

/** Sends the newest version to everybody who holds an older one. @throws Failure 409 to confirm a count, 422 for nobody */
export async function sendNotice(
  context: Context,
  eventId: number,
  wording: WordingText,
  confirmedCount: number | null,
  actor: Actor,
): Promise<void> {
  refuseProblems(checkWording(wording, 'email'));
  await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    if (!event) throw notFound('event');
    const firings = await tx.firings.ofEvent(eventId);
    if (firings.some((firing) => firing.kind === 'notice' && (firing.state === 'set' || firing.state === 'sending'))) {
      throw new Failure(409, 'under-way', 'A notice is under way already; wait until it is done.');
    }
    const count = await createNotices(tx, event, wording, confirmedCount, context.clock.now());
    refuseUnconfirmed(count, confirmedCount);
    await tx.house.audit(
      nowOf(context),
      actor.name,
      'notice: sent',
      `${event.version.facts.title}, version ${event.version.number}, ${count} people`,
    );
    await tx.live.touch('board', `event:${eventId}`);
  });
}

/**
 * Plans the notice firings of the event's newest version, one for each channel that somebody was invited by.
 * @returns how many people they reach; more than a hundred must be confirmed (throws Failure 409)
 */
export async function createNotices(
  store: StoreSubjects,
  event: StoredEvent,
  wording: WordingText,
  confirmedCount: number | null,
  nowMs: number,
): Promise<number> {
  const { number, calledOff } = event.version;
  const counts = await Promise.all(channels.map((channel) => store.deliveries.countNotice(event.id, number, channel)));
  const total = counts.reduce((sum, count) => sum + count, 0);
  if (total > 0) refuseUnconfirmed(total, confirmedCount);
  const textWording = calledOff ? houseWordings.callOffText : houseWordings.changeText;
  for (const [index, channel] of channels.entries()) {
    if (!counts[index]) continue;
    const { subject, body } = channel === 'email' ? wording : textWording;
    await store.firings.create({
      kind: 'notice',
      eventId: event.id,
      channel,
      dueMs: nowMs,
      state: 'set',
      content: {
        kind: 'notice',
        method: calledOff ? 'CANCEL' : 'REQUEST',
        subject,
        body,
        version: number,
        stampMs: nowMs,
      },
    });
  }
  return total;
}
