import type { Presence } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { RegistrationRequest } from '../../store/registration-requests';
import { nowOf, type Context } from '../context';
import { letWait, look, putDown, type Registered } from './register';

/** More than anybody asks for within a day. */
const mostShown = 40;

/** What the owner of an address may confirm, as the page that asks shows it. */
export interface Confirmation {
  readonly event: StoredEvent;
  /** The request that the mail was sent for. */
  readonly request: RegistrationRequest;
  /** All that was asked for their address at this event and is not confirmed yet, the first first. */
  readonly open: readonly RegistrationRequest[];
  /** The first of each other event at which something was asked. */
  readonly elsewhere: readonly { readonly event: StoredEvent; readonly requestId: number }[];
}

/** @returns null for a request that is not there any more */
export async function findConfirmation(
  { store, clock }: Pick<Context, 'store' | 'clock'>,
  requestId: number,
): Promise<Confirmation | null> {
  const request = await store.registrationRequests.find(requestId);
  const event = request && (await store.events.find(request.eventId));
  if (!request || !event) return null;
  const all = await store.registrationRequests.openOf(request.email, new Date(clock.now()), mostShown);
  const others = [...new Map(all.map((one) => [one.eventId, one])).values()].filter((one) => one.eventId !== event.id);
  const events = await store.events.findMany(others.map(({ eventId }) => eventId));
  return {
    event,
    request,
    open: all.filter(({ eventId }) => eventId === event.id),
    elsewhere: others.flatMap(({ id, eventId }) => {
      const found = events.get(eventId);
      return found ? [{ event: found, requestId: id }] : [];
    }),
  };
}

/** What the owner of the address corrects of what was asked for them. */
export interface Correction {
  readonly name?: string | undefined;
  readonly presence?: Presence | undefined;
}

/** The owner of the address says yes to some of what was asked for it, each by itself. @returns what became of each */
export async function confirmRequests(
  context: Context,
  requests: readonly RegistrationRequest[],
  correction: Correction = {},
): Promise<{ readonly request: RegistrationRequest; readonly done: Registered | null }[]> {
  const all: { request: RegistrationRequest; done: Registered | null }[] = [];
  for (const request of requests) all.push({ request, done: await confirmOne(context, request, correction) });
  return all;
}

function confirmOne(
  context: Context,
  { id, eventId }: RegistrationRequest,
  { name, presence }: Correction,
): Promise<Registered | null> {
  return context.store.transact(async (tx) => {
    const request = await tx.registrationRequests.findForUpdate(id);
    if (!request) return null;
    const asking = { ...request, name: name || request.name, presence: presence ?? request.presence };
    const seen = await look(context, tx, eventId, asking);
    if (seen === null) return null;
    if (seen === 'closed') return { kind: 'refused', state: 'closed' };
    const { event, date, state } = seen;
    if (request.isConfirmed) return { kind: request.waits ? 'waiting' : 'down', date };
    if (state === 'full' || state === 'closed') return { kind: 'refused', state };
    await tx.registrationRequests.confirm(request, nowOf(context), state !== 'open');
    if (state === 'open') return putDown(context, tx, event, date, asking);
    // Who asked while there was a place comes before all who came since.
    return letWait(context, tx, event, date, asking, request.waits ? undefined : request.askedAt);
  });
}
