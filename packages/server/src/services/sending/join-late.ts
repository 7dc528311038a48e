import { findOccurrence, occurrenceOfSlot } from '@convite/core';
import type { StoreSubjects } from '../../store/store';
import type { Context } from '../context';
import { whoGets } from '../countdown/who-gets';

/**
 * Looks at the next firing that is open to who comes after its moment: whoever is in its audience by now and was not put down for it
 * gets it too, as it was frozen. One at a time, each in a transaction of its own. @returns whether there was one to look at
 */
export function joinNext({ store, clock }: Pick<Context, 'store' | 'clock'>): Promise<boolean> {
  return store.transact(async (tx) => {
    const id = await tx.firings.takeOpen(clock.now());
    if (id === null) return false;
    const joined = await joinOne(tx, id, clock.now());
    if (joined) {
      await tx.firings.addJoined(id, joined);
      await tx.live.touch('board');
    }
    return true;
  });
}

const mayBeJoined: readonly string[] = ['sending', 'done', 'failed'];

async function joinOne(tx: StoreSubjects, id: number, nowMs: number): Promise<number> {
  const firing = await tx.firings.find(id);
  const event = firing?.eventId ? await tx.events.find(firing.eventId) : null;
  const content = firing?.content;
  if (!firing || !event || content?.kind !== 'cue' || !mayBeJoined.includes(firing.state)) return 0;
  const { facts, calledOff } = event.version;
  const key = occurrenceOfSlot(firing.slot);
  const date = key && !facts.isPersonal ? findOccurrence(facts, key) : null;
  if (calledOff || date?.calledOff) return 0;
  const cue = await tx.cues.find(firing.cueId ?? 0);
  // Who gets it was frozen with what it says; a cue that was removed takes nobody along.
  if (!cue || cue.isRetired) return 0;
  const frozen = {
    audience: content.audience ?? cue.audience,
    moment: content.moment ?? cue.moment,
    wording: content.document,
  };
  const who = await whoGets(tx, event, frozen, { ...firing, dueMs: nowMs });
  return tx.expansions.expand(id, who, firing.channel, new Date(nowMs));
}
