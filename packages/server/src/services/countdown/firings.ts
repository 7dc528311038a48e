import { noWording, type ByHand } from '@convite/contract';
import { laneOf, notInvitedTo, occurrenceOfSlot, wholeEvent, whoOf, type Who } from '@convite/core';
import type { StoredFiring } from '../../store/firings';
import { nowOf, type Actor, type Context } from '../context';
import { Failure, notFound, refuseUnconfirmed } from '../failure';
import { waitingNote } from '../release/ask-release';
import { actChoices, sayAct } from './acts';
import { kindWords } from './kind-words';
import { whoGets } from './who-gets';
import { allowedInvitees, asAllowed } from '../sending/as-allowed';
import { once } from '../sending/once';
import { teamText } from '../sending/team-text';
import { refuseUnsendable } from '../sending/refuse-unsendable';
import { byHandStates, whyNotByHand } from './why-not-by-hand';

async function getFiring({ store }: Context, id: number): Promise<StoredFiring> {
  const firing = await store.firings.find(id);
  if (!firing) throw notFound('firing');
  return firing;
}

/** Stops a firing, until its last message has left; of what goes by each person's clock, for the people of all zones. */
export async function stopFiring(context: Context, id: number, actor: Actor): Promise<void> {
  const firing = await getFiring(context, id);
  const at = nowOf(context);
  let stopped = 0;
  for (const one of await context.store.firings.withOtherZones(firing))
    if (await context.store.firings.stop(one, actor.name)) stopped += 1;
  if (stopped === 0) throw new Failure(409, 'over', 'Too late: it has gone out, or was stopped before.');
  await context.store.house.audit(at, actor, 'sending: stopped', `${firing.kind} ${id}`);
  await touch(context, firing);
}

/** Sets a stopped firing again, while its moment is at least ten minutes away; with it those of other zones, as far as theirs are. */
export async function setFiringAgain(context: Context, id: number, actor: Actor): Promise<void> {
  const firing = await getFiring(context, id);
  if (firing.isExpanded)
    throw new Failure(409, 'partly-sent', 'Part of it has gone out. Make a new cue for the others.');
  const { minutes } = (await context.store.house.settings()).standby;
  const fromMs = context.clock.now() + minutes * 60_000;
  if (firing.dueMs < fromMs)
    throw new Failure(409, 'too-soon', `Its moment is less than ${minutes} minutes away. Send it by hand instead.`);
  const event = firing.eventId === null ? null : await context.store.events.find(firing.eventId);
  if (event && event.heldBy !== null)
    throw new Failure(409, 'held', `${event.heldBy} holds all of this event: let it go on first.`);
  const waits = await whyWaits(context, firing);
  if (waits) throw new Failure(409, 'waits', waits);
  if (!(await context.store.firings.setUnfired(id, ['stopped'], 'set', firing.dueMs)))
    throw new Failure(409, 'not-stopped', 'It is not stopped.');
  for (const other of await context.store.firings.withOtherZones(firing))
    await context.store.firings.setAgain(other, fromMs);
  await context.store.house.audit(nowOf(context), actor, 'sending: set again', `${firing.kind} ${id}`);
  await touch(context, firing);
}

/** No way round a second member: what waits for one is neither set again nor sent by hand. Empty where it waits for none. */
async function whyWaits({ store }: Pick<Context, 'store'>, { cueId, digestId }: StoredFiring): Promise<string> {
  const waiting =
    cueId !== null
      ? await store.releases.find('cue', cueId)
      : digestId !== null
        ? await store.releases.find('digest', digestId)
        : null;
  return waiting ? waitingNote : '';
}

/** What a firing is, in people's words: to how many as counted last, null while it is not. Nobody is counted for it. */
export interface DescribedFiring extends Pick<
  ByHand,
  'title' | 'eventTitle' | 'channel' | 'dueAt' | 'subject' | 'firstLines'
> {
  readonly gets: number | null;
}

export async function describeFiring(context: Pick<Context, 'store'>, firing: StoredFiring): Promise<DescribedFiring> {
  return describe(context, firing, await partsOf(context, firing));
}

type Parts = Awaited<ReturnType<typeof partsOf>>;

async function partsOf({ store }: Pick<Context, 'store'>, firing: StoredFiring) {
  const [event, cue, digest] = await Promise.all([
    firing.eventId === null ? null : store.events.find(firing.eventId),
    firing.cueId === null ? null : store.cues.find(firing.cueId),
    firing.digestId === null ? null : store.digests.find(firing.digestId),
  ]);
  const does = cue?.act ? sayAct(cue.act, await actChoices({ store })) : '';
  return { event, cue, digest, does };
}

async function describe(
  { store }: Pick<Context, 'store'>,
  firing: StoredFiring,
  { event, cue, digest, does }: Parts,
): Promise<DescribedFiring> {
  const wording = cue?.wording ?? digest?.wording ?? firing.content?.document ?? noWording;
  const date = event?.version.facts.isPersonal ? '' : occurrenceOfSlot(firing.slot);
  const { subject, text } = await teamText(store, wording, event && { event, date, atMs: firing.dueMs });
  return {
    title: cue?.name ?? digest?.name ?? (firing.title || kindWords[firing.kind]),
    eventTitle: event?.version.facts.title ?? '',
    channel: firing.channel,
    gets: firing.isExpanded ? firing.planned : firing.gets,
    dueAt: new Date(firing.dueMs).toISOString(),
    subject: does || subject,
    firstLines: text.slice(0, 240),
  };
}

/** Null for what cannot be sent by hand. */
async function whoGetsNow(context: Context, firing: StoredFiring, { event, cue }: Parts): Promise<Who | null> {
  const { store, clock } = context;
  const { id, channel, content, eventId } = firing;
  if (cue) return whoGets(store, event, cue, firing);
  if (channel === 'act') return null;
  const message = { channel, firing: id, atMs: clock.now() };
  if (content?.kind === 'manual')
    return asAllowed(store, whoOf(content.audience, wholeEvent(null)), { kind: 'manual', ...message });
  if (content?.kind !== 'invitation' || eventId === null) return null;
  return allowedInvitees(store, eventId, notInvitedTo(eventId, whoOf(content.audience, wholeEvent(eventId))), message);
}

/** What would go out if a firing were sent by hand: shown every time before it is. */
export async function previewByHand(context: Context, id: number): Promise<ByHand> {
  const firing = await getFiring(context, id);
  const { store } = context;
  const parts = await partsOf(context, firing);
  const { event, cue } = parts;
  // Somebody is about to press: this one is counted now. What has gone out is not.
  const who = firing.isExpanded ? null : await whoGetsNow(context, firing, parts);
  const gets = who ? await store.audiences.countGets(who, cue ? laneOf(cue) : firing.channel) : firing.planned;
  return {
    ...(await describe(context, firing, parts)),
    gets,
    refusal: whyNotByHand(firing, event, cue, context.clock.now()) || (await whyWaits(context, firing)),
  };
}

/** Sends a missed, stopped or failed firing by hand, now. The number of people must be confirmed, however small. */
export async function sendFiringNow(
  context: Context,
  id: number,
  confirmedCount: number | null,
  actor: Actor,
  key: string | null = null,
): Promise<void> {
  await once(context, key, async (tx) => {
    const { refusal, gets } = await previewByHand(context, id);
    if (refusal) throw new Failure(409, 'not-waiting', refusal);
    refuseUnconfirmed(gets, confirmedCount, 0);
    const { channel } = await getFiring(context, id);
    if (channel !== 'act') await refuseUnsendable(tx, channel);
    const isTaken = await tx.firings.setUnfired(id, byHandStates, 'set', context.clock.now());
    if (!isTaken) throw new Failure(409, 'not-waiting', 'Somebody else was faster: it is going out.');
    await tx.house.audit(nowOf(context), actor, 'sending: sent by hand', `firing ${id}, ${gets} people`);
    return gets;
  });
  await touch(context, await getFiring(context, id));
}

/** Puts those whom a firing did not reach back into the queue; whoever may not be written to is passed over again. */
export async function tryAgain(context: Context, id: number, actor: Actor): Promise<void> {
  const firing = await getFiring(context, id);
  const event = firing.eventId === null ? null : await context.store.events.find(firing.eventId);
  if (event?.status === 'called-off' && firing.kind === 'cue')
    throw new Failure(409, 'called-off', 'The event was called off: nothing of its countdown goes any more.');
  const count = await context.store.firings.requeueFailed(id, nowOf(context));
  if (count === 0) throw new Failure(409, 'nobody', 'There is nobody to try again.');
  await context.store.house.audit(nowOf(context), actor, 'sending: tried again', `firing ${id}, ${count} people`);
  await touch(context, firing);
}

async function touch({ store }: Context, firing: StoredFiring): Promise<void> {
  await store.live.touch('board', ...(firing.eventId === null ? [] : [`event:${firing.eventId}`]));
}
