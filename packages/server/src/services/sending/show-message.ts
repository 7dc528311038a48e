import type { MessagePage, MessageRow, SentMessage } from '@convite/contract';
import type { Said } from '../../store/said';
import type { Context } from '../context';
import { kindWords } from '../countdown/kind-words';
import { notFound } from '../failure';
import { bareComposer, composerFrom, saidEvent } from './compose-firing';

const pageSize = 20;

/** What a person got, or was to get, the latest first. @param before the last one seen; 0 for the first page */
export async function listMessages(context: Context, personId: number, before: number): Promise<MessagePage> {
  const { rows, next } = await messagesWithTimes(context, personId, before);
  return { rows: rows.map(({ message }) => message), next };
}

/** The same, each with when it went, or was due where it did not. */
export async function messagesWithTimes(
  context: Context,
  personId: number,
  before: number,
): Promise<{ rows: { message: MessageRow; eventId: number | null; at: Date }[]; next: number | null }> {
  const { store } = context;
  const { rows, next } = await store.messages.ofPerson(
    [personId, ...(await store.merges.absorbedBy(personId))],
    before,
    pageSize,
  );
  const [cues, events, digests] = await Promise.all([
    store.cues.names(rows.flatMap(({ cueId }) => cueId ?? [])),
    store.events.findMany(rows.flatMap(({ eventId }) => eventId ?? [])),
    store.digests.all(),
  ]);
  const names = new Map(digests.map(({ id, name }) => [id, name]));
  return {
    rows: rows.map(
      ({ deliveryId, kind, title, channel, cueId, digestId, eventId, state, sentAt, dueAt, answer, isKept }) => ({
        eventId,
        at: sentAt ?? dueAt,
        message: {
          deliveryId,
          kind,
          channel,
          name: cues.get(cueId ?? 0) ?? names.get(digestId ?? 0) ?? (title || kindWords[kind]),
          eventTitle: events.get(eventId ?? 0)?.version.facts.title ?? '',
          state,
          sentAt: sentAt?.toISOString() ?? null,
          answer,
          isKept,
        },
      }),
    ),
    next,
  };
}

/**
 * The very message that went to somebody: composed once more from what it was made from then, whatever has changed since.
 * @throws Failure 404 for one that did not leave, or that was not kept
 */
export async function showMessage(context: Context, deliveryId: number): Promise<SentMessage> {
  const said = await context.store.said.find(deliveryId);
  const message = said && (await composeAgain(context, said));
  if (!message) throw notFound('message');
  const shared = { sentAt: said.sentAt?.toISOString() ?? null, text: message.text };
  return message.kind === 'email'
    ? {
        ...shared,
        channel: 'email',
        to: message.to.address,
        subject: message.subject,
        html: message.html,
        calendar: message.calendar?.text ?? '',
      }
    : { ...shared, channel: 'text', to: message.to, subject: '', html: '', calendar: '' };
}

/** @param isBare with each link as it was written */
export async function composeAgain(
  context: Context,
  { deliveryId, firingId, forAll, person, topics }: Said,
  isBare = false,
) {
  const firing = await context.store.firings.find(firingId);
  if (!firing) return null;
  const event = firing.eventId === null ? null : await context.store.events.find(firing.eventId);
  const said = event && (await saidEvent(context, event, forAll.version ?? event.version.number));
  const composer = isBare ? bareComposer : composerFrom;
  return composer(context, firing, said, forAll)(person, deliveryId, topics);
}
