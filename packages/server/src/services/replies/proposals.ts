import type { Proposal } from '@convite/contract';
import { findOccurrence, timedSpan, wallTimeAt, type EventFacts, type Occurrence, type Span } from '@convite/core';
import type { StoredProposal } from '../../store/proposals';
import { answerPerson } from '../sending/answer-person';
import { nowOf, type Actor, type Context } from '../context';
import { saveEvent } from '../events/events';
import { Failure, notFound } from '../failure';
import { houseWording } from '../wording/house-wording';
import { savePersonal } from '../events/personal';

/** Other times that people proposed and nobody answered yet. */
export async function listProposals({ store }: Context, eventId: number): Promise<Proposal[]> {
  return (await store.proposals.open(eventId)).map(
    ({ id, subscriberId, name, email, mobile, occurrence, startMs, endMs, comment, at }) => ({
      id,
      person: { id: subscriberId, name, email, mobile },
      occurrence,
      startAt: new Date(startMs).toISOString(),
      endAt: new Date(endMs).toISOString(),
      comment,
      at: at.toISOString(),
    }),
  );
}

/**
 * Says yes: the date moves to the proposed time, as a new version that is then to be told to everybody; where everybody
 * has their own time, only the person's moves. Or no: the person's calendar is told so (DECLINECOUNTER).
 */
export async function answerProposal(
  context: Context,
  eventId: number,
  id: number,
  answer: { readonly accept: boolean; readonly comment: string; readonly basedOn: number },
  actor: Actor,
): Promise<void> {
  const { store } = context;
  const proposal = await store.proposals.find(id);
  const event = await store.events.find(eventId);
  if (!event || proposal?.eventId !== eventId) throw notFound('proposal');
  if (proposal.state !== 'open') throw new Failure(409, 'answered', 'This proposal was answered before.');
  if (answer.accept) {
    if (event.version.facts.isPersonal) await moveOwn(context, event.version.facts, proposal, actor);
    else await moveDate(context, eventId, event.version.facts, proposal, answer.basedOn, actor);
    await store.proposals.close(id, 'accepted');
  } else {
    if (!(await store.proposals.close(id, 'declined'))) return;
    await answerPerson(context, event, {
      personId: proposal.subscriberId,
      method: 'DECLINECOUNTER',
      occurrence: proposal.occurrence,
      wording: await houseWording(context.store, 'declined'),
      quoted: answer.comment.trim(),
    });
  }
  await store.house.audit(
    nowOf(context),
    actor,
    answer.accept ? 'answer: proposal accepted' : 'answer: proposal declined',
    `${event.version.facts.title}, person ${proposal.subscriberId}`,
  );
  await store.live.touch('board', `event:${eventId}`);
}

async function moveDate(
  context: Context,
  eventId: number,
  facts: EventFacts,
  proposal: StoredProposal,
  basedOn: number,
  actor: Actor,
): Promise<void> {
  const date = findOccurrence(facts, proposal.occurrence);
  if (!date) throw notFound('date in this series');
  const moved: EventFacts = { ...date.facts, span: spanAt(date, proposal) };
  await (proposal.occurrence
    ? saveEvent(context, eventId, { facts: moved, basedOn, scope: { kind: 'one', key: proposal.occurrence } }, actor)
    : saveEvent(context, eventId, { facts: { ...facts, span: moved.span }, basedOn }, actor));
}

async function moveOwn(context: Context, facts: EventFacts, proposal: StoredProposal, actor: Actor): Promise<void> {
  const own = await context.store.personal.find(proposal.eventId, proposal.subscriberId);
  await savePersonal(
    context,
    proposal.eventId,
    [
      {
        subscriberId: proposal.subscriberId,
        start: wallTimeAt(proposal.startMs, facts.zone),
        end: wallTimeAt(proposal.endMs, facts.endZone || facts.zone),
        place: own?.place ?? '',
        notes: own?.notes ?? '',
      },
    ],
    actor,
  );
}

function spanAt({ facts }: Occurrence, { startMs, endMs }: StoredProposal): Span {
  if (facts.span.kind === 'timed') return timedSpan(startMs, endMs, facts);
  const dayOf = (atMs: number): string => wallTimeAt(atMs, facts.zone).slice(0, 10);
  return { kind: 'all-day', firstDay: dayOf(startMs), lastDay: dayOf(endMs - 1) };
}
