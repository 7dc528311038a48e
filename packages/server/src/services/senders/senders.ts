import { isPlaceholderAddress } from '@convite/core';
import { randomInt } from 'node:crypto';
import {
  isTextNumber,
  type SenderChange,
  type SenderFields,
  type SenderHealth,
  type SenderRow,
} from '@convite/contract';
import { houseSender } from '../../store/came-of';
import type { StoredSender } from '../../store/senders';
import { nowOf, type Actor, type Context } from '../context';
import { getEvent } from '../events/get-event';
import { Failure, notFound, refuseProblems, refuseStale } from '../failure';
import { pressDocument, writeHouseEmail } from '../sending/write-message';
import { faultOf, hasTextFault, writtenAs } from './as-sender';

/** More than a team tells apart. */
const mostSenders = 50;
const codeMinutes = 15;
const codeTries = 5;
const noHealth: SenderHealth = { accepted: 0, refused: 0, bounced: 0, complaints: 0, pauses: 0 };

/** As whom the house writes, beside itself. */
export async function listSenders({ store, clock }: Pick<Context, 'store' | 'clock'>): Promise<SenderRow[]> {
  const lately = await store.cameOf.healthOfSenders(new Date(clock.now()));
  return (await store.senders.all()).map((one) => ({
    ...one,
    lately: lately.get(one.id) ?? noHealth,
    provenAt: one.provenAt?.toISOString() ?? null,
    textProvenAt: one.textProvenAt?.toISOString() ?? null,
    fault: faultOf(one),
    hasTextFault: hasTextFault(one),
  }));
}

/** What became of messages that came from the house itself, in thirty days. */
export const houseHealth = async ({ store, clock }: Pick<Context, 'store' | 'clock'>): Promise<SenderHealth> =>
  (await store.cameOf.healthOfSenders(new Date(clock.now()))).get(houseSender) ?? noHealth;

/** A new one, or another of those there are. @returns its number @throws Failure 409, 422 */
export async function saveSender(
  context: Context,
  id: number | null,
  { was, ...fields }: SenderChange,
  actor: Actor,
): Promise<number> {
  refuseProblems(
    (['email', 'replyTo'] as const).flatMap((path) =>
      isPlaceholderAddress(fields[path]) ? [{ code: 'placeholder-address', path, facts: { text: fields[path] } }] : [],
    ),
  );
  return context.store.transact(async (tx) => {
    const before = id === null ? null : await tx.senders.findForUpdate(id);
    if (id !== null && !before) throw notFound('sender');
    if (before) refuseStale('sender', fieldsOf(before), was);
    if (!before && (await tx.senders.count()) >= mostSenders)
      throw new Failure(409, 'too-many', `A house has at most ${mostSenders} senders.`);
    const at =
      before && (await tx.senders.change(before.id, fields)) ? before.id : before ? null : await tx.senders.add(fields);
    if (at === null) refuseProblems([{ code: 'duplicate-address', path: 'email', facts: { address: fields.email } }]);
    await tx.house.audit(nowOf(context), actor, 'sender: saved', `${fields.name}, ${fields.email}`);
    await tx.live.touch('senders');
    return at ?? 0;
  });
}

const fieldsOf = ({ id: _id, provenAt: _at, textProvenAt: _t, isPaused: _p, ...fields }: StoredSender): SenderFields =>
  fields;

/** While it is paused the house writes in its own name. @throws Failure 404 */
export async function pauseSender(context: Context, id: number, isPaused: boolean, actor: Actor): Promise<void> {
  const sender = await getSender(context, id);
  await context.store.senders.pause(id, isPaused);
  if (isPaused && !sender.isPaused) await context.store.cameOf.notePause(id, nowOf(context));
  await noted(context, actor, isPaused ? 'sender: paused' : 'sender: taken up again', sender.email);
}

/** Its events are written of by the house from now on. @throws Failure 404 */
export async function removeSender(context: Context, id: number, actor: Actor): Promise<void> {
  const sender = await getSender(context, id);
  await context.store.transact((tx) => tx.senders.remove(id));
  await noted(context, actor, 'sender: taken out', sender.email);
}

/**
 * Mails a link to a sender's own address, from that address: whoever presses it reads its mail, and it leaves and arrives.
 * @throws Failure 404, 502 in the mail server's words
 */
export async function askSender(context: Context, id: number, actor: Actor): Promise<void> {
  const { links, mail, store } = context;
  const sender = await getSender(context, id);
  // From its own address, also where readers will see one of ours.
  const house = writtenAs(links, await store.house.settings(), { ...sender, hidesAddress: false });
  const refusal = await mail.send(
    writeHouseEmail(context, house, {
      to: { name: sender.name, address: sender.email },
      document: pressDocument(
        `May ${house.organisation} write as you?`,
        `${actor.name} asks to write to the subscribers of ${house.organisation} from this address, ${sender.email}. Press the button to say yes. If you do not know of this, do nothing: nothing is written in your name.`,
        { label: 'Yes, this address may be used', url: links.provenSender(sender.email) },
      ),
    }),
  );
  if (refusal) throw new Failure(502, 'mail-server', `The mail server did not take it: ${refusal.answer}`);
  await noted(context, actor, 'sender: proof asked', sender.email);
}

/**
 * Texts a code to a sender's own number, from that number: whoever types it here holds that phone.
 * @throws Failure 404, 409 for a sender that is a name, 502 in the gateway's words
 */
export async function askSenderText(context: Context, id: number, actor: Actor): Promise<void> {
  const sender = await getSender(context, id);
  if (!isTextNumber(sender.textSender))
    throw new Failure(
      409,
      'no-number',
      'Its texts come under a name, which no text reaches: there is nothing to prove.',
    );
  const code = String(randomInt(1_000_000)).padStart(6, '0');
  const { organisation } = await context.store.house.settings();
  const until = new Date(context.clock.now() + codeMinutes * 60_000);
  await context.store.senders.askText(id, context.seal.close(code), until);
  const refusal = await context.text.send({
    kind: 'text',
    reference: `sender-${id}`,
    from: sender.textSender,
    to: sender.textSender,
    date: nowOf(context),
    text: `${code} lets ${organisation} send texts from this number. If you do not know of this, tell nobody.`,
  });
  if (refusal) throw new Failure(502, 'text-gateway', `The text gateway did not take it: ${refusal.answer}`);
  await noted(context, actor, 'sender: code asked', sender.textSender);
}

/** The code that came to a sender's number. @throws Failure 404, 422 for another, or one that is too old */
export async function proveSenderText(context: Context, id: number, code: string, actor: Actor): Promise<void> {
  const sender = await getSender(context, id);
  const sealed = await context.store.senders.tryTextCode(id, codeTries, nowOf(context));
  if (sealed === null || context.seal.open(sealed) !== code)
    throw new Failure(
      422,
      'wrong-code',
      `That is not the code, or it is older than ${codeMinutes} minutes, or was tried too often. Ask for another one.`,
    );
  await context.store.senders.proveText(id, nowOf(context));
  await noted(context, actor, 'sender: number proven', sender.textSender);
}

/** As whom an event is written of. Nobody's calendar entry changes. @throws Failure 404 */
export async function chooseSender(
  context: Context,
  eventId: number,
  senderId: number | null,
  actor: Actor,
): Promise<void> {
  const event = await getEvent(context, eventId);
  const sender = senderId === null ? null : await getSender(context, senderId);
  if (event.senderId === senderId) return;
  await context.store.senders.ofEvent(eventId, senderId);
  const what = `${event.version.facts.title}: ${sender?.email ?? 'the house'}`;
  await context.store.house.audit(nowOf(context), actor, 'event: sender', what);
  await context.store.live.touch('events', 'senders', `event:${eventId}`);
}

async function getSender({ store }: Context, id: number): Promise<StoredSender> {
  const sender = await store.senders.find(id);
  if (!sender) throw notFound('sender');
  return sender;
}

async function noted(context: Context, actor: Actor, action: string, what: string): Promise<void> {
  await context.store.house.audit(nowOf(context), actor, action, what);
  await context.store.live.touch('senders');
}
