import type { GuestSelection } from '@convite/contract';
import { noAudience, wallTimeAt } from '@convite/core';
import { saveCue } from '../countdown/cues';
import type { Actor, Context } from '../context';
import { houseWording } from '../wording/house-wording';
import { getEvent } from './get-event';
import { pickedIds } from './pick-guests';

/** Far enough ahead to be read once more, and to be set (common practice: 10 minutes at least). */
const aheadMs = 60 * 60_000;

/** Prepares a reminder to some guests as the draft of a cue, to be looked at and set. @returns the cue's number */
export async function prepareReminder(
  context: Context,
  eventId: number,
  selection: GuestSelection,
  actor: Actor,
): Promise<number> {
  const event = await getEvent(context, eventId);
  const people = await pickedIds(context.store, event, selection);
  const wall = wallTimeAt(context.clock.now() + aheadMs, event.version.facts.zone).slice(0, 16);
  return saveCue(
    context,
    eventId,
    null,
    {
      name: 'Reminder',
      channel: 'email',
      moment: { kind: 'fixed', wall },
      audience: { ...noAudience, people },
      isDraft: true,
      wording: await houseWording(context.store, 'remind'),
    },
    actor,
  );
}
