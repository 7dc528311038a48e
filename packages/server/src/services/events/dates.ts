import type { ChangeDate, OccurrenceRow } from '@convite/contract';
import {
  addOccurrence,
  changeOccurrence,
  checkEvent,
  findOccurrence,
  isDay,
  isWallTime,
  occurrencesBetween,
  type EventFacts,
} from '@convite/core';
import { nowOf, type Actor, type Context } from '../context';
import { getEvent } from './get-event';
import { newVersion } from './new-version';
import { Failure, notFound, refuseProblems } from '../failure';

/** Looked through for the next dates: a yearly series has one in it. */
const reachMs = 800 * 86_400_000;
const pastMs = 45 * 86_400_000;

/** The dates of a series around now, those called off among them, each with the answers for it. */
export async function listDates({ store, clock }: Context, eventId: number, most: number): Promise<OccurrenceRow[]> {
  const event = await getEvent({ store }, eventId);
  const { facts } = event.version;
  const nowMs = clock.now();
  const dates = facts.series
    ? [
        ...occurrencesBetween(facts, nowMs - pastMs, nowMs).slice(-4),
        ...occurrencesBetween(facts, nowMs, nowMs + reachMs, most),
      ]
    : [];
  const { replies, byDate } = await store.eventTallies.find(eventId);
  return dates.map(({ key, startMs, endMs, facts: own, calledOff, isChanged }) => ({
    key,
    startAt: new Date(startMs).toISOString(),
    endAt: new Date(endMs).toISOString(),
    facts: own,
    calledOff,
    isChanged,
    replies: byDate[key] ?? replies,
  }));
}

/**
 * Calls one date of a series off, puts it back as the series has it, or adds one. A new version; the cues of that date
 * stop, return or appear.
 */
export async function changeDate(
  context: Context,
  eventId: number,
  change: ChangeDate,
  basedOn: number,
  actor: Actor,
): Promise<void> {
  await context.store.transact(async (tx) => {
    const event = await tx.events.findForUpdate(eventId);
    if (!event) throw notFound('event');
    if (event.version.number !== basedOn)
      throw new Failure(
        409,
        'changed-meanwhile',
        'Somebody changed this event meanwhile. Reload to see it as it stands.',
      );
    const facts = changed(event.version.facts, change);
    refuseProblems(checkEvent(facts));
    await newVersion(context, tx, event, { facts, said: 'event: changed' }, actor);
  });
}

function changed(facts: EventFacts, change: ChangeDate): EventFacts {
  if (change.kind === 'add') {
    const isStart = facts.span.kind === 'timed' ? isWallTime : isDay;
    if (!isStart(change.at)) refuseProblems([{ code: 'bad-date', path: 'at' }]);
    return addOccurrence(facts, change.at);
  }
  const occurrence = findOccurrence(facts, change.key);
  if (!facts.series || !occurrence) throw notFound('date in this series');
  return change.kind === 'call-off'
    ? changeOccurrence(facts, change.key, { facts: occurrence.facts, calledOff: true })
    : changeOccurrence(facts, change.key, null);
}

/** Whether somebody came; null takes the mark back. Only once the date has begun. */
export async function markAttendance(
  context: Context,
  eventId: number,
  mark: { readonly personId: number; readonly occurrence: string; readonly attended: boolean | null },
  actor: Actor,
): Promise<void> {
  const event = await getEvent(context, eventId);
  const date = findOccurrence(event.version.facts, mark.occurrence);
  if (!date) throw notFound('date in this series');
  if (date.startMs > context.clock.now() + 3_600_000)
    throw new Failure(409, 'not-begun', 'People can be marked as here from an hour before the start.');
  await context.store.dates.markAttended(eventId, mark.personId, mark.occurrence, mark.attended);
  await context.store.house.audit(
    nowOf(context),
    actor,
    'event: attendance marked',
    `${event.version.facts.title}, person ${mark.personId}`,
  );
  await context.store.live.touch(`event:${eventId}`);
}
