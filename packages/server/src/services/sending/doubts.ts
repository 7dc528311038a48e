import { extentOf, sayInstant } from '@convite/core';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { checkWording } from '../countdown/check-wording';
import type { Context } from '../context';
import { Failure } from '../failure';

/** Something that is allowed and seldom meant: asked about before it is done. */
export interface Doubt {
  readonly code: 'event-over' | 'cue-unready' | 'page-unseen';
  readonly text: string;
}

/** What is odd about sending something of this event now. */
export function doubtsOfSending({ clock }: Pick<Context, 'clock'>, { version: { facts } }: StoredEvent): Doubt[] {
  const { endMs } = extentOf(facts);
  return endMs !== null && endMs <= clock.now()
    ? [{ code: 'event-over', text: `It was over on ${sayInstant(endMs, facts.zone)}.` }]
    : [];
}

/** What is odd about publishing it as it stands. */
export async function doubtsOfPublishing(
  context: Pick<Context, 'clock'>,
  tx: Pick<StoreSubjects, 'cues'>,
  event: StoredEvent,
): Promise<Doubt[]> {
  const doubts = doubtsOfSending(context, event);
  for (const cue of await tx.cues.ofEvent(event.id)) {
    const faults = cue.isRetired ? [] : checkWording(cue.wording, cue.channel);
    const names = faults.flatMap(({ code, facts }) => (code === 'unknown-field' ? [`“${facts?.['name'] ?? ''}”`] : []));
    if (faults.length)
      doubts.push({
        code: 'cue-unready',
        text: `The cue “${cue.name}” ${names.length ? `has an unknown merge field ${names.join(', ')}` : 'has no wording yet'}.`,
      });
  }
  if (event.version.facts.registration && event.reach === 'invited')
    doubts.push({
      code: 'page-unseen',
      text: 'People cannot register: the event is for invited people only and has no page.',
    });
  return doubts;
}

/** @throws Failure 409 with each doubt in words, unless whoever asks has read them */
export function refuseDoubtful(doubts: readonly Doubt[], isSure: boolean): void {
  if (doubts.length && !isSure)
    throw new Failure(409, 'confirm-doubts', `${doubts.map(({ text }) => text).join(' ')} Do it all the same?`);
}
