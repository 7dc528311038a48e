import { randomUUID } from 'node:crypto';
import type { TestRequest, TestSent } from '@convite/contract';
import {
  noAudience,
  readAddresses,
  readMobile,
  versionsOf,
  type Block,
  type Problem,
  type WordingDocument,
} from '@convite/core';
import type { EmailMessage, Refusal, TextMessage } from '../../mail/message';
import type { StoredEvent } from '../../store/events';
import { testMark } from '../../store/tested';
import type { House } from '../../store/said';
import type { Recipient } from '../../store/subscribers';
import { checkHouseWording, checkWording } from '../countdown/check-wording';
import { nowOf, type Actor, type Context } from '../context';
import { getEvent } from '../events/get-event';
import { Failure, refuseProblems } from '../failure';
import { shownGuests } from './compose-calendar';
import { eventComposer } from './compose-event';
import { manualComposer } from './compose-manual';
import { fiveReaders, type OddReader } from './five-readers';
import { contentIfSent } from './if-sent';
import { exampleReader, previewPerson } from './invite';
import { pictureCarrier } from './carry-pictures';
import { asSender } from '../senders/as-sender';
import { settle } from './settle';
import { teamTitle } from './team-text';

type Message = EmailMessage | TextMessage;

/**
 * Sends a message at once to whoever tries it, as somebody would get it or as five who are easily forgotten. It is marked as a
 * test, counted nowhere, and what it leads to answers for nobody.
 * @throws Failure 422 with problems, 502 in the words of the other side where nothing left
 */
export async function sendTest(
  context: Context,
  request: TestRequest,
  actor: Actor & { readonly email: string },
): Promise<TestSent> {
  const { store, clock } = context;
  const { channel, wording, eventId, personId, asFive } = request;
  refuseProblems((eventId === null ? checkHouseWording : checkWording)(wording, channel));
  const settings = await store.house.settings();
  const to = readTo(request, settings.region, actor.email);
  const event = eventId === null ? null : await getEvent(context, eventId);
  const anybody = event
    ? await previewPerson(context, event.id, personId)
    : ((personId === null ? null : await store.subscribers.find(personId)) ?? exampleReader);
  const zone = event?.version.facts.zone ?? settings.zone;
  const readers: readonly OddReader[] = asFive
    ? fiveReaders(anybody, { zone, atMs: clock.now() })
    : [{ says: '', person: { ...anybody, id: 0, feedNonce: 0 } }];
  const said = withHold(context, request, await settle(context, wording, { eventId, atMs: clock.now() }));
  const house = await asSender(context, settings, event?.senderId ?? request.senderId ?? null);
  const compose = await composerOf(context, house, event, { ...request, wording: said });

  const refused: TestSent['refused'] = [];
  for (const address of to)
    for (const { says, person } of readers) {
      const refusal = await send(context, house, asTest(compose(person), address, says, context.links.mailDomain));
      if (refusal) refused.push({ to: address, said: refusal.answer });
    }
  const sent = to.length * readers.length - refused.length;
  if (sent === 0) throw new Failure(502, 'mail-server', `It was not taken: ${refused[0]?.said ?? ''}`);
  if (eventId !== null && request.kind === 'cue')
    await store.tested.note(eventId, testMark(channel, wording), nowOf(context));
  const about = event && { event, date: '', atMs: context.clock.now() };
  const what = (await teamTitle(store, wording, about)) || 'a text';
  await store.house.audit(nowOf(context), actor, 'message: test sent', `${what}, to ${to.join(', ')}`);
  return { sent, to, refused };
}

/** The test of a cue ends with where it is held, for whoever may; nobody else gets that. */
function withHold(
  { links }: Pick<Context, 'links'>,
  { channel, eventId, cueId }: TestRequest,
  document: WordingDocument,
): WordingDocument {
  if (channel === 'text' || eventId === null || cueId === undefined) return document;
  const hold: readonly Block[] = [
    { kind: 'divider' },
    { kind: 'quoted', text: 'Only in this test: something is wrong with it? Who is signed in can hold it.' },
    { kind: 'button', label: 'Hold this', address: { kind: 'text', text: links.holdCue(eventId, cueId) } },
  ];
  const said = versionsOf(document).flatMap(({ language, said: { blocks, ...rest } }) =>
    language ? [[language, { ...rest, blocks: [...blocks, ...hold] }] as const] : [],
  );
  return {
    ...document,
    blocks: [...document.blocks, ...hold],
    ...(said.length > 0 && { languages: Object.fromEntries(said) }),
  };
}

/** Where it goes: what was typed, each read; the member's own address where nothing was. @throws Failure 422 */
function readTo({ channel, to }: TestRequest, region: string, own: string): string[] {
  if (channel === 'email') {
    if (to.length === 0) return [own];
    const { addresses, problems } = readAddresses(to.join('\n'));
    refuseProblems(problems.filter(({ code }) => code !== 'duplicate-address').map((one) => ({ ...one, path: 'to' })));
    return addresses.map(({ email }) => email);
  }
  const read = to.map((text) => readMobile(text, region, 'to'));
  const problems: Problem[] = read.flatMap((one) => (one.ok ? [] : one.problems));
  refuseProblems(to.length === 0 ? [{ code: 'required', path: 'to' }] : problems);
  return [...new Set(read.flatMap((one) => (one.ok ? [one.value] : [])))];
}

async function composerOf(
  context: Context,
  settings: House,
  event: StoredEvent | null,
  { kind, channel, wording }: TestRequest,
): Promise<(person: Recipient) => Message> {
  if (!event) {
    const compose = manualComposer(context, settings, channel, {
      kind: 'manual',
      document: wording,
      audience: noAudience,
    });
    return (person) => compose(person, 0);
  }
  const atMs = context.clock.now();
  const guests = kind === 'invitation' ? await shownGuests(context, event) : [];
  const content = contentIfSent(
    kind === 'manual' ? 'cue' : kind,
    { document: wording, version: event.version.number },
    atMs,
  );
  const compose = eventComposer(context, settings, event, { channel, content, occurrence: '', guests, atMs });
  return (person) => compose(person, 0);
}

/** The same message to somebody else, which says that it is a test. Nobody's own way out is in it. */
function asTest(message: Message, to: string, says: string, mailDomain: string): Message {
  const mark = says ? `[Test: ${says}]` : '[Test]';
  const reference = `test.${randomUUID()}`;
  if (message.kind === 'text') return { ...message, to, reference, text: `${mark} ${message.text}` };
  return {
    ...message,
    messageId: `<${reference}@${mailDomain}>`,
    to: { name: '', address: to },
    subject: `${mark} ${message.subject}`,
    optOut: null,
  };
}

async function send(context: Context, { look }: House, message: Message): Promise<Refusal | null> {
  if (message.kind === 'text') return context.text.send(message);
  return context.mail.send(await pictureCarrier(context)(message, look));
}
