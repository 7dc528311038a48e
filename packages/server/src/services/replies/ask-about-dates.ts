import { findOccurrence, sayWhen, type Occurrence, type ReplyState, letter } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import { answerPerson } from '../sending/answer-person';
import { nowOf, type Context } from '../context';
import { mannerOf } from '../sending/manner';

/**
 * The dates to come that a person said yes to, who says no to the whole: what was answered for one date counts for that
 * date, and what was answered for the whole counts for all others, whichever came later. Such a no may mean either.
 */
export function datesInDoubt(
  { version: { facts } }: StoredEvent,
  { reply, dates }: { readonly reply: ReplyState | null; readonly dates: ReadonlyMap<string, ReplyState> },
  nowMs: number,
): Occurrence[] {
  if (reply !== 'declined' || !facts.series) return [];
  return [...dates]
    .flatMap(([key, state]) => (state === 'accepted' ? (findOccurrence(facts, key) ?? []) : []))
    .filter(({ endMs, calledOff }) => endMs > nowMs && !calledOff)
    .sort((a, b) => a.startMs - b.startMs);
}

/** Asks somebody who said no to the whole whether they mean those dates too: by one mail, and on their page. */
export async function askAboutDates(context: Context, event: StoredEvent, subscriberId: number): Promise<void> {
  const { store, clock } = context;
  const doubted = datesInDoubt(event, await store.dates.answersOf(event.id, subscriberId), clock.now());
  if (doubted.length === 0) return;
  const person = await store.subscribers.find(subscriberId);
  if (!person || !(await store.subscribers.mayBeMailed(subscriberId))) return;
  if (!(await store.asked.mayWrite(person.email, event.id, nowOf(context)))) return;
  const manner = mannerOf(await store.house.settings(), person);
  const days = doubted.slice(0, mostNamed).map((date) => `- ${sayWhen(date.facts, person.zone, manner)}`);
  if (doubted.length > mostNamed) days.push(`- and ${doubted.length - mostNamed} more`);
  await answerPerson(context, event, {
    personId: subscriberId,
    method: 'QUESTION',
    occurrence: '',
    wording: letter(
      'Are you still coming? {{event.title}}',
      `Dear {{person.firstName|friend}},

you said no to {{event.title}} as a whole. Before, you had said yes to:

${days.join('\n')}

We count you as coming on ${doubted.length === 1 ? 'that date' : 'those dates'} until you say no here too: {{link.reply}}`,
    ),
  });
}

const mostNamed = 10;
