import { mostLetters, type LetterRow } from '@convite/contract';
import { plainDocument, type WordingDocument } from '@convite/core';
import type { Letter } from '../../store/letters';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound, refuseProblems } from '../failure';
import { checkHouseWording } from '../countdown/check-wording';
import { answerWriter } from '../sending/answer-person';
import { once } from '../sending/once';

/** What people wrote about an event, newest first; or all that is still open. */
export async function listLetters({ store }: Pick<Context, 'store'>, eventId: number | null): Promise<LetterRow[]> {
  const letters = await store.letters.list(eventId === null ? 'open' : { eventId }, mostLetters);
  const people = await store.subscribers.findMany(letters.flatMap(({ subscriberId }) => subscriberId ?? []));
  return letters.map((letter) => rowOf(letter, people.get(letter.subscriberId ?? 0)?.name ?? ''));
}

/** Marks a letter as seen to, or opens it again. */
export async function settleLetter(context: Context, id: number, isOpen: boolean, actor: Actor): Promise<void> {
  if (!(await context.store.letters.setOpen(id, isOpen))) throw notFound('letter');
  await context.store.house.audit(
    nowOf(context),
    actor,
    isOpen ? 'answer: letter opened' : 'answer: letter seen to',
    `letter ${id}`,
  );
  await context.store.live.touch('board');
}

/**
 * Answers somebody who wrote, the way they wrote: by text, or by mail with their words below. It is seen to then.
 * @param key the same for the same wish, so that it is sent once
 * @throws Failure 404, 409 where nobody is known by that address or number, 422 for words that cannot be sent
 */
export async function answerLetter(
  context: Context,
  id: number,
  text: string,
  actor: Actor,
  key: string | null,
): Promise<void> {
  const letter = await context.store.letters.find(id);
  if (!letter) throw notFound('letter');
  const person = letter.subscriberId === null ? null : await context.store.subscribers.whoIs(letter.subscriberId);
  if (person === null)
    throw new Failure(
      409,
      'unknown-writer',
      `Nobody here has ${letter.from}: only people who are known are written to.`,
    );
  const document = documentOf(letter, text);
  refuseProblems(checkHouseWording(document, letter.channel));
  await once(context, key, async (tx) => {
    await answerWriter({ store: tx, clock: context.clock }, { personId: person, channel: letter.channel, document });
    await tx.letters.setOpen(id, false);
    await tx.house.audit(nowOf(context), actor, 'answer: letter answered', `letter ${id}, ${letter.channel}`);
    await tx.live.touch('board', ...(letter.eventId === null ? [] : [`event:${letter.eventId}`]));
    return 1;
  });
}

/** What a stranger typed stands below as a quotation, and never in a header. */
const documentOf = ({ channel, text: theirs }: Letter, text: string): WordingDocument =>
  channel === 'text'
    ? plainDocument('', text)
    : {
        subject: 'Your letter to {{organisation.name}}',
        blocks: [
          { kind: 'plain', text },
          { kind: 'quoted', text: theirs },
        ],
      };

const rowOf = ({ at, ...letter }: Letter, name: string): LetterRow => ({
  ...letter,
  name,
  receivedAt: at.toISOString(),
});
