import { judgeReply, readMethod, readReply, type CalendarReply } from '@convite/core';
import { nowOf, type Context } from './context';

/** A message that came in, taken apart. */
export interface ReceivedMail {
  /** Envelope recipients, lower case. */
  readonly to: readonly string[];
  readonly fromAddress: string;
  /** Every text/calendar part. */
  readonly calendars: readonly string[];
  /** A delivery status notice: permanent or not, and its words (RFC 3464). */
  readonly bounce: { readonly isPermanent: boolean; readonly text: string } | null;
  /** RFC 3834: written by a machine. */
  readonly isAutomatic: boolean;
}

export type Received = 'reply' | 'bounce' | 'opt-out' | 'ignored';

/** Does what a received message asks. Throws only when the store fails, so that the sender tries again. */
export async function receiveMail(context: Context, mail: ReceivedMail): Promise<Received> {
  for (const address of mail.to) {
    const delivery = context.links.readBounceAddress(address);
    if (delivery !== null) return receiveBounce(context, delivery, mail.bounce);
    const person = address.startsWith(context.links.optOutPrefix)
      ? context.links.readOptOut(address.slice(context.links.optOutPrefix.length).split('@')[0] ?? '')
      : null;
    if (person !== null) return receiveOptOut(context, person);
  }
  const replies = mail.calendars.filter((text) => readMethod(text) === 'REPLY');
  // A calendar's own answer may carry Auto-Submitted and still counts; a holiday notice carries no REPLY.
  for (const text of replies) await receiveReply(context, text, mail.fromAddress);
  return replies.length ? 'reply' : 'ignored';
}

async function receiveReply(context: Context, text: string, from: string): Promise<void> {
  const { store } = context;
  const at = nowOf(context);
  const read = readReply(text);
  if (!read.ok) {
    const reason = read.problems[0]?.code ?? 'calendar-bad-value';
    await store.invitees.logReply({
      eventId: null,
      at,
      from,
      attendee: '',
      state: '',
      verdict: 'set-aside',
      reason,
      raw: text,
    });
    await store.live.touch('board');
    return;
  }
  const reply = read.value;
  const event = await store.events.findByUid(reply.uid);
  if (!event) {
    await store.invitees.logReply({
      eventId: null,
      at,
      from,
      attendee: reply.attendee,
      state: reply.state,
      verdict: 'set-aside',
      reason: 'unknown-uid',
      raw: text,
    });
    await store.live.touch('board');
    return;
  }
  const { verdict, reason } = await judge(context, event.id, event.version.sequence, reply, from, at);
  await store.invitees.logReply({
    eventId: event.id,
    at,
    from,
    attendee: reply.attendee,
    state: reply.state,
    verdict,
    reason,
    raw: text,
  });
  await store.live.touch('board', 'events', `event:${event.id}`);
}

async function judge(
  context: Context,
  eventId: number,
  eventSequence: number,
  reply: CalendarReply,
  from: string,
  at: Date,
): Promise<{ verdict: string; reason: string }> {
  const invitee = await context.store.invitees.findByEmail(eventId, reply.attendee);
  const verdict = judgeReply(reply, {
    invitedAddress: invitee?.email ?? null,
    fromAddress: from,
    eventSequence,
    lastSequence: invitee?.lastSequence ?? null,
    lastStampMs: invitee?.lastStampMs ?? null,
  });
  if (verdict.kind !== 'apply') return { verdict: verdict.kind, reason: verdict.reason };
  const isApplied =
    invitee !== null && (await context.store.invitees.applyReply(eventId, invitee.subscriberId, reply, at));
  return isApplied ? { verdict: 'apply', reason: '' } : { verdict: 'late', reason: 'older-than-last' };
}

async function receiveBounce(
  { store, clock }: Context,
  deliveryId: number,
  bounce: ReceivedMail['bounce'],
): Promise<Received> {
  if (!bounce) return 'ignored';
  const delivery = await store.deliveries.find(deliveryId);
  if (!delivery || !bounce.isPermanent) return 'ignored';
  await store.transact(async (tx) => {
    await tx.deliveries.setAftermath(deliveryId, 'bounced', bounce.text);
    await tx.subscribers.markBounced(delivery.subscriberId, bounce.text, new Date(clock.now()));
  });
  const firing = await store.firings.find(delivery.firingId);
  await store.live.touch('board', 'subscribers', ...(firing?.eventId ? [`event:${firing.eventId}`] : []));
  return 'bounce';
}

async function receiveOptOut(context: Context, personId: number): Promise<Received> {
  await context.store.subscribers.optOut(personId, nowOf(context));
  await context.store.live.touch('subscribers');
  return 'opt-out';
}
