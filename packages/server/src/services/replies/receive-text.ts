import { instantsOf, findOccurrence, occurrenceOfSlot, readTextAnswer, type TextMeaning } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { Texted } from '../../store/texted';
import { nowOf, type Context } from '../context';
import { Failure } from '../failure';
import { previewPerson } from '../sending/invite';
import { answerPerson, answerWriter } from '../sending/answer-person';
import { houseWording } from '../wording/house-wording';
import type { HouseWording } from '../wording/shipped';
import { hasWrittenEnough } from './receive-letter';
import { takeAnswer } from './take-answer';

type Answer = Exclude<TextMeaning, 'stop' | 'start' | 'help'>;

/** The gateway's word on what became of a text. */
export async function receiveReceipt(
  context: Context,
  receipt: { reference: string; status: 'delivered' | 'failed'; detail: string },
): Promise<void> {
  const id = Number(/^d(\d+)$/.exec(receipt.reference)?.[1] ?? 0);
  const { store } = context;
  if (!id || !(await store.deliveries.setAftermath(id, receipt.status, receipt.detail, nowOf(context)))) return;
  await store.live.touch('board');
}

/**
 * A text from a person. STOP ends texts to that number at once, START allows them again, HELP says who we are; yes, no and
 * perhaps answer what was texted to them last. Each is answered by text; anything else is for a person to read.
 * @throws Failure 429 where one number, or all, wrote more than the house keeps in a day
 */
export async function receiveText(context: Context, { from, text }: { from: string; text: string }): Promise<void> {
  const { meaning, saysMore } = readTextAnswer(text);
  const texted = await context.store.texted.lastAt(from);
  if (meaning === 'stop' || meaning === 'start') await noteConsent(context, from, text, meaning === 'start');
  if (texted && (meaning === 'stop' || meaning === 'start' || meaning === 'help'))
    await sayBack(context, from, texted, wordingFor[meaning]);
  const about = texted && (await eventInQuestion(context, texted));
  const isAnswer = meaning !== null && meaning !== 'stop' && meaning !== 'start' && meaning !== 'help';
  const isTaken = isAnswer && texted && about ? await takeTextAnswer(context, from, texted, about, meaning) : false;
  const isForPeople = isAnswer ? !isTaken : meaning === null || saysMore;
  if (isForPeople && text.trim()) await keepAsLetter(context, { from, text }, texted, about?.event.id ?? null);
}

const wordingFor: Readonly<Record<'stop' | 'start' | 'help', HouseWording>> = {
  stop: 'stoppedText',
  start: 'startedText',
  help: 'helpText',
};

async function noteConsent(context: Context, from: string, text: string, consents: boolean): Promise<void> {
  const said = { source: 'text', how: `wrote “${text.slice(0, 40)}”`, by: from } as const;
  await context.store.transact((tx) => tx.consents.noteTexts(from, consents, said, nowOf(context)));
  await context.store.house.audit(
    nowOf(context),
    'somebody by text',
    consents ? 'opt-out: texts taken up again' : 'opt-out: texts',
    `by text “${text.slice(0, 40)}”`,
  );
  await context.store.live.touch('subscribers');
}

/** Of each kind at most once an hour, whoever writes how often. */
const maySay = ({ store, ...context }: Context, from: string, what: string, eventId: number): Promise<boolean> =>
  store.asked.mayWrite(`${from} ${what}`, eventId, nowOf(context));

async function sayBack(context: Context, from: string, { personId }: Texted, key: HouseWording): Promise<void> {
  if (!(await maySay(context, from, key, 0))) return;
  await answerWriter(context, { personId, channel: 'text', document: await houseWording(context.store, key) });
}

interface InQuestion {
  readonly event: StoredEvent;
  /** The date that the text was about; empty for the whole. */
  readonly occurrence: string;
}

/** What the last text to somebody was about, while it still takes place. */
async function eventInQuestion(context: Context, { firingId }: Texted): Promise<InQuestion | null> {
  const firing = firingId === null ? null : await context.store.firings.find(firingId);
  const event = firing?.eventId ? await context.store.events.find(firing.eventId) : null;
  if (!firing || event?.status !== 'published' || event.version.calledOff) return null;
  const { facts } = event.version;
  const { content } = firing;
  const key = content && 'occurrence' in content ? content.occurrence : occurrenceOfSlot(firing.slot);
  const date = facts.series ? findOccurrence(facts, key) : null;
  if (key && facts.series && (!date || date.calledOff)) return null;
  const endMs = date?.endMs ?? (facts.series || facts.isPersonal ? Infinity : instantsOf(facts).endMs);
  return endMs > context.clock.now() ? { event, occurrence: date ? key : '' } : null;
}

/** @returns whether it is answered: what only guests can say counts for nobody else */
async function takeTextAnswer(
  context: Context,
  from: string,
  { personId }: Texted,
  { event, occurrence }: InQuestion,
  state: Answer,
): Promise<boolean> {
  const person = await previewPerson(context, event.id, personId, occurrence);
  if (person.id !== personId || !person.isGuest) return false;
  const taken = await takeAnswer(context, event, person, { occurrence, state, comment: '', by: 'text' });
  const isFull = typeof taken === 'object' && taken.refused === 'full';
  if (taken !== 'stored' && taken !== 'waiting' && !isFull) return false;
  const key: HouseWording = isFull ? 'fullText' : taken === 'waiting' ? 'waitlistedText' : `${state}Text`;
  if (await maySay(context, from, key, event.id))
    await answerPerson(context, event, {
      personId,
      channel: 'text',
      method: 'QUESTION',
      occurrence,
      wording: await houseWording(context.store, key),
    });
  return true;
}

/** Kept and shown to the team, beside what came by mail. */
async function keepAsLetter(
  context: Context,
  { from, text }: { readonly from: string; readonly text: string },
  texted: Texted | null,
  eventId: number | null,
): Promise<void> {
  const { store } = context;
  if (await hasWrittenEnough(context, from, true))
    throw new Failure(429, 'too-many-letters', 'This number has written more than is kept in a day.');
  const subscriberId = texted?.personId ?? null;
  await store.letters.add({
    channel: 'text',
    eventId: eventId ?? (subscriberId && (await store.letters.eventInQuestion(subscriberId, nowOf(context)))),
    subscriberId,
    at: nowOf(context),
    from,
    to: '',
    subject: '',
    text,
    isProved: true,
  });
  await store.live.touch('board', ...(eventId === null ? [] : [`event:${eventId}`]));
}
