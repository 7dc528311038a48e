import type { ManualPreview, ManualPreviewRequest, SendManual } from '@convite/contract';
import { wholeEvent, whoOf, type Channel, type Who } from '@convite/core';
import { checkHouseWording } from '../countdown/check-wording';
import { nowOf, type Actor, type Context } from '../context';
import { sendByHand } from '../release/send-by-hand';
import { refuseProblems, refuseUnconfirmed } from '../failure';
import { exampleReader } from './invite';
import { audienceOfChosen, type Chosen } from './chosen';
import { asSender } from '../senders/as-sender';
import { once } from './once';
import { shownOfNone } from './shown-message';
import { asAllowed } from './as-allowed';
import { teamTitle } from './team-text';

/** Whom a message reaches that goes now. */
export const whoGetsManual = ({ store, clock }: Context, chosen: Chosen, channel: Channel): Promise<Who> =>
  asAllowed(store, whoOf(audienceOfChosen(chosen), wholeEvent(null)), {
    kind: 'manual',
    channel,
    firing: null,
    atMs: clock.now(),
  });

/** As the first of them would get it; an invented one where nobody would. @throws Failure 422 for words that cannot be sent */
export async function previewManual(
  context: Context,
  { channel, wording, senderId = null, ...chosen }: ManualPreviewRequest,
): Promise<ManualPreview> {
  refuseProblems(checkHouseWording(wording, channel));
  const { store } = context;
  const first = await store.audiences.firstOf(await whoGetsManual(context, chosen, channel), channel);
  const person = (first === null ? null : await store.subscribers.find(first)) ?? exampleReader;
  return {
    person: { id: person.id, name: person.name },
    message: await shownOfNone(
      context,
      await asSender(context, await store.house.settings(), senderId),
      channel,
      wording,
      person,
    ),
  };
}

/**
 * Sends it now: this is done by hand, so it needs no standby.
 * @param key the same for the same wish, so that it is sent once
 * @returns how many it goes to @throws Failure 409 to confirm a count, 422 with problems
 */
export async function sendManual(
  context: Context,
  { channel, wording, senderId = null, confirmedCount, ...chosen }: SendManual,
  actor: Actor,
  key: string | null,
): Promise<number> {
  refuseProblems(checkHouseWording(wording, channel));
  const who = await whoGetsManual(context, chosen, channel);
  const gets = await context.store.audiences.countGets(who, channel);
  const { askAbove } = await context.store.house.settings();
  // Asked again with its key it may have been done, and there is nobody left to write to within the limit.
  if (key === null || gets > 0) refuseUnconfirmed(gets, confirmedCount, askAbove);
  return once(context, key, async (tx) => {
    refuseUnconfirmed(gets, confirmedCount, askAbove);
    const content = { kind: 'manual', document: wording, audience: audienceOfChosen(chosen), senderId } as const;
    const title = await teamTitle(tx, wording, null);
    const waits = await sendByHand(context, tx, { kind: 'manual', channel, content, title }, gets, actor);
    await tx.house.audit(
      nowOf(context),
      actor,
      waits ? 'message: waits for release' : 'message: sent',
      `${title}, ${gets} people by ${channel}`,
    );
    await tx.live.touch('board');
    return gets;
  });
}
