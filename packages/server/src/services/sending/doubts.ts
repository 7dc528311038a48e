import { extentOf, needsJoinLink, sayInstant } from '@convite/core';
import type { StoredCue } from '../../store/cues';
import type { StoredEvent } from '../../store/events';
import type { StoreSubjects } from '../../store/store';
import { checkWording } from '../countdown/check-wording';
import type { Context } from '../context';
import { Failure } from '../failure';
import { withKeptBlocks } from './settle';

/** Something that is allowed and seldom meant: asked about before it is done. */
export interface Doubt {
  readonly code: 'event-over' | 'cue-unready' | 'cue-no-join-link' | 'page-unseen';
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
  tx: Pick<StoreSubjects, 'cues' | 'firings' | 'keptWordings'>,
  event: StoredEvent,
): Promise<Doubt[]> {
  const doubts = doubtsOfSending(context, event);
  for (const cue of await tx.cues.ofEvent(event.id)) {
    if (!cue.isRetired && !cue.act) doubts.push(...(await doubtsOfJoining(tx, event, cue)));
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

/** A cue that depends on the join link goes to guests only; to nobody, where the event has none. */
async function doubtsOfJoining(
  tx: Pick<StoreSubjects, 'firings' | 'keptWordings'>,
  { version: { facts } }: StoredEvent,
  cue: StoredCue,
): Promise<Doubt[]> {
  const { audience, name } = cue;
  if (!needsJoinLink(await withKeptBlocks(tx, cue.wording), facts)) return [];
  const say = (text: string): Doubt[] => [{ code: 'cue-no-join-link', text: `The cue “${name}” ${text}` }];
  if (facts.joinLink === '') return say('depends on the join link, and the event has none: nobody gets it.');
  const isWide = audience.lists.length + (audience.segments?.length ?? 0) + (audience.people?.length ?? 0) > 0;
  if (!isWide || audience.onlyGuests) return [];
  const counted = (await tx.firings.ofCues([cue.id], 0)).map(({ doubts }) => doubts.noJoinLink ?? 0);
  const people = Math.max(0, ...counted);
  return say(
    `depends on the join link, which only guests see: ${people ? `${people} people` : 'people of its lists'} who are not invited do not get it.`,
  );
}

/** @throws Failure 409 with each doubt in words, unless whoever asks has read them */
export function refuseDoubtful(doubts: readonly Doubt[], isSure: boolean): void {
  if (doubts.length && !isSure)
    throw new Failure(409, 'confirm-doubts', `${doubts.map(({ text }) => text).join(' ')} Do it all the same?`);
}
