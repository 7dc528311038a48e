import { mostLetters, type LetterRow } from '@convite/contract';
import type { Letter } from '../../store/letters';
import { nowOf, type Actor, type Context } from '../context';
import { notFound } from '../failure';

/** What people wrote about an event, newest first; or all that is still open. */
export async function listLetters({ store }: Pick<Context, 'store'>, eventId: number | null): Promise<LetterRow[]> {
  const letters = await store.letters.list(eventId === null ? 'open' : { eventId }, mostLetters);
  return letters.map(rowOf);
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

const rowOf = ({ at, ...letter }: Letter): LetterRow => ({ ...letter, receivedAt: at.toISOString() });
