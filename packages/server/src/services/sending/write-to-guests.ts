import type { CueFields, WriteToGuests } from '@convite/contract';
import { findOccurrence, wallTimeAt } from '@convite/core';
import { checkWhom } from '../countdown/cues';
import { checkWording } from '../countdown/check-wording';
import { whoNext } from '../countdown/next-cue';
import { nowOf, type Actor, type Context } from '../context';
import { getEvent } from '../events/get-event';
import { Failure, notFound, refuseProblems, refuseUnconfirmed } from '../failure';
import { sendByHand } from '../release/send-by-hand';
import { once } from './once';
import { teamTitle } from './team-text';

/** What it is called among the cues of its event. */

/**
 * Writes to some guests of an event now, which needs no standby: it is done by hand. It stands among the cues of the event as one that has
 * gone, with its own log, and its audience is asked again as it goes.
 * @param key the same for the same wish, so that it is sent once
 * @returns how many it goes to @throws Failure 404, 409 to confirm a count or for an event that is not published, 422 with problems
 */
export async function writeToGuests(
  context: Context,
  eventId: number,
  { date, confirmedCount, ...asked }: WriteToGuests,
  actor: Actor,
  key: string | null,
): Promise<number> {
  const event = await getEvent(context, eventId);
  if (event.status !== 'published') throw new Failure(409, 'not-published', 'The event is not published.');
  if (event.heldBy !== null)
    throw new Failure(409, 'held', `${event.heldBy} holds all of this event: let it go on first.`);
  const { facts } = event.version;
  const about = date && facts.series ? findOccurrence(facts, date) : null;
  if (date && !about) throw notFound('date');
  if (about?.calledOff) throw new Failure(409, 'date-off', 'That date was called off.');
  refuseProblems([...checkWording(asked.wording, asked.channel), ...checkWhom(asked.audience)]);
  const wall = wallTimeAt(context.clock.now(), facts.zone);
  const fields: CueFields = {
    ...asked,
    name: (await teamTitle(context.store, asked.wording, { event, date, atMs: context.clock.now() })) || 'By hand',
    moment: { kind: 'fixed', wall, ...(date && { date }) },
    isDraft: false,
  };
  const { store } = context;
  const gets = await store.audiences.countGets((await whoNext(context, event, fields)).who, fields.channel);
  const { askAbove } = await store.house.settings();
  if (key === null || gets > 0) refuseUnconfirmed(gets, confirmedCount, askAbove);
  return once(context, key, async (tx) => {
    refuseUnconfirmed(gets, confirmedCount, askAbove);
    const cueId = await tx.cues.create(eventId, fields);
    // Nothing more is planned of it, whatever becomes of the event.
    await tx.cues.retire(cueId);
    const { channel, wording: document, audience, moment, inThread = false } = fields;
    const content = {
      ...({ kind: 'cue', document, version: event.version.number, audience, moment, inThread } as const),
      ...{ startMs: about?.startMs ?? null, countsDown: false },
    };
    const message = { kind: 'cue', eventId, cueId, slot: date, channel, content } as const;
    const waits = await sendByHand(context, tx, message, gets, actor);
    await tx.house.audit(
      nowOf(context),
      actor,
      waits ? 'message: waits for release' : 'message: sent',
      `${fields.name}, ${facts.title}, ${gets} people by ${channel}`,
    );
    await tx.live.touch('board', `event:${eventId}`);
    return gets;
  });
}
