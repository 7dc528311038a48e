import type { LiveCount, ManualPlan, ManualPreview, ManualPreviewRequest, SendManual } from '@convite/contract';
import { eventFieldsIn, plainDocument, wholeEvent, whoOf, type Channel, type Problem, type Who } from '@convite/core';
import { countLive } from '../audience/count-live';
import { checkWording } from '../countdown/check-wording';
import { nowOf, type Actor, type Context } from '../context';
import { refuseProblems, refuseUnconfirmed } from '../failure';
import { manualComposer } from './compose-manual';
import { exampleReader } from './invite';
import { audienceOfChosen, type Chosen } from './chosen';
import { once } from './once';
import { underLimit } from './under-limit';

/** Whom a message reaches that goes now. */
const whoGetsManual = ({ store, clock }: Context, chosen: Chosen): Promise<Who> =>
  underLimit(store, whoOf(audienceOfChosen(chosen), wholeEvent(null)), {
    kind: 'manual',
    firing: null,
    atMs: clock.now(),
  });

/** How many it would reach, and why not the others, for somebody who is looking. */
export const countManual = async (
  context: Context,
  { channel, ...chosen }: ManualPlan,
): Promise<AsyncGenerator<LiveCount>> => countLive(context, await whoGetsManual(context, chosen), channel, null);

/** As the first of them would get it; an invented one where nobody would. @throws Failure 422 for words that cannot be sent */
export async function previewManual(
  context: Context,
  { channel, wording, ...chosen }: ManualPreviewRequest,
): Promise<ManualPreview> {
  refuseProblems(problemsOf(wording, channel));
  const { store } = context;
  const first = await store.audiences.firstOf(await whoGetsManual(context, chosen), channel);
  const person = (first === null ? null : await store.subscribers.find(first)) ?? exampleReader;
  const document = plainDocument(wording.subject, wording.body);
  const content = { kind: 'manual', document, audience: audienceOfChosen(chosen) } as const;
  const message = manualComposer(context, await store.house.settings(), channel, content)(person, 0, []);
  return {
    person: { id: person.id, name: person.name },
    subject: message?.kind === 'email' ? message.subject : '',
    html: message?.kind === 'email' ? message.html : '',
    text: message?.text ?? '',
  };
}

/**
 * Sends it now: this is done by hand, so it needs no standby.
 * @param key the same for the same wish, so that it is sent once
 * @returns how many it goes to @throws Failure 409 to confirm a count, 422 with problems
 */
export async function sendManual(
  context: Context,
  { channel, wording, confirmedCount, ...chosen }: SendManual,
  actor: Actor,
  key: string | null,
): Promise<number> {
  refuseProblems(problemsOf(wording, channel));
  const who = await whoGetsManual(context, chosen);
  const gets = await context.store.audiences.countGets(who, channel);
  // Asked again with its key it may have been done, and there is nobody left to write to within the limit.
  if (key === null || gets > 0) refuseUnconfirmed(gets, confirmedCount);
  return once(context, key, async (tx) => {
    refuseUnconfirmed(gets, confirmedCount);
    await tx.firings.create({
      kind: 'manual',
      channel,
      dueMs: context.clock.now(),
      state: 'set',
      content: {
        kind: 'manual',
        document: plainDocument(wording.subject, wording.body),
        audience: audienceOfChosen(chosen),
      },
    });
    await tx.house.audit(
      nowOf(context),
      actor,
      'message: sent',
      `${wording.subject || wording.body}, ${gets} people by ${channel}`,
    );
    await tx.live.touch('board');
    return gets;
  });
}

/** A field of an event has nothing to stand for. */
function problemsOf(wording: { subject: string; body: string }, channel: Channel): Problem[] {
  const parts = channel === 'email' ? (['subject', 'body'] as const) : (['body'] as const);
  return [
    ...checkWording(wording, channel),
    ...parts.flatMap((path) =>
      eventFieldsIn(wording[path]).map((name): Problem => ({ code: 'field-of-event', path, facts: { name } })),
    ),
  ];
}
