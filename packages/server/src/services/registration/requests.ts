import { registrationEndsMs, requestMs, sayInstant, sayWhen, type Occurrence } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { AskedLimit } from '../../store/asked';
import type { StoreSubjects } from '../../store/store';
import { nowOf, type Context } from '../context';
import { mailAsked } from '../sending/mail-asked';
import { houseManner } from '../sending/manner';
import { pressDocument, writeHouseEmail } from '../sending/write-message';
import type { Registering } from './register';

/** So many requests of one address at an event are kept; its owner chooses among them, and can correct what they say. */
const mostOpen = 5;
/** A mailbox is asked so often; each mail's page shows all that was asked for its address, so that no request is lost. */
const limit: AskedLimit = { kind: 'registration', everyMs: 10 * 60_000, mostADay: 5 };

/** A request that is kept, with what it is about. */
export interface Asked {
  readonly requestId: number;
  readonly date: Occurrence;
  readonly waits: boolean;
}

/** A mail asks whoever has the address to confirm. */
export interface ConfirmationAsked {
  readonly kind: 'asked';
  readonly date: Occurrence;
  /** When it was sent: now, or before, where one was asked for within ten minutes or too often today. */
  readonly mailedAt: Date;
  /** Until when it can be confirmed. */
  readonly expiresAt: Date;
  /** Whoever confirms too late can wait for a place. */
  readonly hasWaitlist: boolean;
}

/** Keeps what was asked beside what was asked before. To be called with the event locked. */
export async function keepRequest(
  context: Pick<Context, 'clock'>,
  tx: StoreSubjects,
  about: {
    readonly event: StoredEvent;
    readonly date: Occurrence;
    readonly waits: boolean;
    readonly asking: Registering;
  },
): Promise<Asked> {
  const { event, date, waits, asking } = about;
  const { name, email, occurrence, presence = null } = asking;
  const request = { eventId: event.id, name, email, occurrence, presence, waits };
  const times = { askedAt: nowOf(context), expiresAt: endOf(context.clock.now(), date) };
  return { requestId: await tx.registrationRequests.add({ ...request, ...times }, mostOpen), date, waits };
}

const endOf = (nowMs: number, date: Occurrence): Date =>
  new Date(Math.min(nowMs + requestMs, registrationEndsMs(date) ?? Infinity));

/**
 * One mail with one button; nothing in it was typed by whoever asked. Nobody who opted out or whose address bounces is written to,
 * and whoever asked reads the same.
 * @throws Failure 502 when the mail cannot be sent now; the request is not kept then
 */
export async function askToConfirm(
  context: Context,
  eventId: number,
  email: string,
  { date, requestId, waits }: Asked,
): Promise<ConfirmationAsked> {
  const { store, links } = context;
  const now = nowOf(context);
  const expiresAt = endOf(now.getTime(), date);
  const asked = { kind: 'asked', date, expiresAt, hasWaitlist: date.facts.registration?.waitlist ?? false } as const;
  if (!(await store.asked.mayWrite(email, eventId, now, limit))) {
    const last =
      (await store.asked.lastAt(email, eventId, now, limit)) ?? (await store.asked.lastAt(email, null, now, limit));
    return { ...asked, mailedAt: last ?? now };
  }
  const id = await store.subscribers.idByEmail(email);
  if (id !== null && !(await store.subscribers.mayBeMailed(id))) return { ...asked, mailedAt: now };
  const settings = await store.house.settings();
  const manner = houseManner(settings);
  const { title } = date.facts;
  const did = waits ? 'asked to join the waitlist of' : 'registered this address for';
  const then = waits
    ? 'Then we write as soon as a place is free.'
    : `Then the calendar entry is sent to you. Places go to whoever confirms first${asked.hasWaitlist ? '; if it is full by then, you are at the front of the waitlist' : ''}.`;
  const body = `Somebody, we hope you, ${did} ${title}.

When: ${sayWhen(date.facts, '', manner)}

Confirm it until ${sayInstant(expiresAt.getTime(), date.facts.zone, manner)}. ${then} Was it not you? Then do nothing.`;
  const message = writeHouseEmail(context, settings, {
    to: { name: '', address: email },
    document: pressDocument(`Confirm your place: ${title}`, body, {
      label: waits ? 'Join the waitlist' : 'Confirm registration',
      url: links.confirmHold(requestId),
    }),
  });
  try {
    await mailAsked(context, message, [{ key: email, eventId, limit }]);
  } catch (error) {
    await store.registrationRequests.remove(requestId);
    throw error;
  }
  return { ...asked, mailedAt: now };
}
